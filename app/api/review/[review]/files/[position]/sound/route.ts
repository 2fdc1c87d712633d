import { getReviewSound } from "@core/api/reviews";
import { blobResponse } from "@server/http/http-range";
import { Problem } from "@server/problem";
import { byReviewLink, guestOf, fileOfReview } from "@server/review/guests";
import { route } from "../../../../../respond";

export const GET = route(getReviewSound, byReviewLink, async ({ params, query }, request) => {
  await guestOf(request, params.review);
  const { file_hash: file, copy_hash: copy, media_type: type } = await fileOfReview(params.review, params.position);
  if (!query.copy) return blobResponse(file, request, { "Content-Type": type });
  if (copy === null)
    throw new Problem(409, "Not made yet", "The copy is still being made.", {}, { "Retry-After": "5" });
  return blobResponse(copy, request, { "Content-Type": "audio/ogg" });
});
