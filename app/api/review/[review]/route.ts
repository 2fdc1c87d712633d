import { getReview } from "@core/api/reviews";
import { byReviewLink, guestOf, pageOfReview } from "@server/review/guests";
import { route } from "../../respond";

export const GET = route(getReview, byReviewLink, async ({ params }, request) =>
  pageOfReview(await guestOf(request, params.review)),
);
