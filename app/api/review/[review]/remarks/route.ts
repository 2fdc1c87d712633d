import { addRemark as endpoint } from "@core/api/reviews";
import { byReviewLink, guestOf, addRemark } from "@server/review/guests";
import { route } from "../../../respond";

export const POST = route(endpoint, byReviewLink, async ({ params, body }, request) =>
  addRemark(await guestOf(request, params.review), body),
);
