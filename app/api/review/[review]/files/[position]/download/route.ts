import { byReviewLink } from "@server/people/access";
import { isAbout } from "@server/people/visitor";
import { fileOfReview } from "@server/review/guests";
import { attachment, blobResponse } from "@server/http/http-range";
import { Problem } from "@server/problem";
import { guest, positionParam, route } from "../../../../../respond";

/** A file of a review to keep, where whoever sent it allows that. */
export const GET = route<{ review: string; position: string }>(
  byReviewLink,
  async (request, params) => {
    const { name, project } = await guest(request, params);
    const file = await fileOfReview(params.review, positionParam.parse(params.position));
    if (!file.downloads) throw new Problem(403, "Not allowed", "Whoever sent this review does not allow downloads.");
    isAbout(`${name}: ${file.file_name}`, project);
    return blobResponse(file.file_hash, request, {
      "Content-Type": file.media_type,
      "Content-Disposition": attachment(file.file_name),
    });
  },
  "downloaded a master from a review",
);
