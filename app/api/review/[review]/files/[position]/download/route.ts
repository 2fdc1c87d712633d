import { downloadReviewFile } from "@core/api/reviews";
import { attachment, blobResponse } from "@server/http/http-range";
import { noteSubject } from "@server/people/principal";
import { Problem } from "@server/problem";
import { byReviewLink, guestOf, fileOfReview } from "@server/review/guests";
import { route } from "../../../../../respond";

export const GET = route(
  downloadReviewFile,
  byReviewLink,
  async ({ params }, request) => {
    const { name, project } = await guestOf(request, params.review);
    const file = await fileOfReview(params.review, params.position);
    if (!file.downloads) throw new Problem(403, "Not allowed", "Whoever sent this review does not allow downloads.");
    noteSubject(`${name}: ${file.file_name}`, project);
    return blobResponse(file.file_hash, request, {
      "Content-Type": file.media_type,
      "Content-Disposition": attachment(file.file_name),
    });
  },
  "downloaded a master from a review",
);
