import { noteHeard as endpoint } from "@core/api/reviews";
import { byReviewLink, guestOf, noteHeard } from "@server/review/guests";
import { route } from "../../../respond";

export const POST = route(endpoint, byReviewLink, async ({ params, body }, request) =>
  noteHeard(await guestOf(request, params.review), body),
);
