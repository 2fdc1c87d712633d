import { withdrawRemark as endpoint } from "@core/api/reviews";
import { byReviewLink, guestOf, withdrawRemark } from "@server/review/guests";
import { route } from "../../../../respond";

export const DELETE = route(endpoint, byReviewLink, async ({ params }, request) =>
  withdrawRemark(await guestOf(request, params.review), params.remark),
);
