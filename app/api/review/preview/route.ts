import { previewReview as endpoint } from "@core/api/reviews";
import { anyone } from "@server/people/access";
import { previewReview } from "@server/review/guests";
import { route } from "../../respond";

export const POST = route(endpoint, anyone, ({ body }) => previewReview(body.secret));
