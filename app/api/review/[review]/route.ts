import { byReviewLink } from "@server/people/access";
import { pageOfReview } from "@server/review/guests";
import { guest, route } from "../../respond";

/** All that a guest of a review sees. */
export const GET = route<{ review: string }>(byReviewLink, async (request, params) =>
  pageOfReview(await guest(request, params)),
);
