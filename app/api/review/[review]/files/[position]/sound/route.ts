import { byReviewLink } from "@server/people/access";
import { fileOfReview } from "@server/review/guests";
import { blobResponse } from "@server/http/http-range";
import { Problem } from "@server/problem";
import { guest, positionParam, route } from "../../../../../respond";

/** A file of a review, whole or in ranges, without loss; with `?copy=1` its copy, which plays anywhere. */
export const GET = route<{ review: string; position: string }>(byReviewLink, async (request, params) => {
  await guest(request, params);
  const {
    file_hash: file,
    copy_hash: copy,
    media_type: type,
  } = await fileOfReview(params.review, positionParam.parse(params.position));
  if (!new URL(request.url).searchParams.has("copy")) return blobResponse(file, request, { "Content-Type": type });
  if (copy === null)
    throw new Problem(409, "Not made yet", "The copy is still being made.", {}, { "Retry-After": "5" });
  return blobResponse(copy, request, { "Content-Type": "audio/ogg" });
});
