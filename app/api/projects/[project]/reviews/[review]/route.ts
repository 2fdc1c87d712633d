import { inProject } from "@server/people/access";
import { withdrawReview } from "@server/review/reviews";
import { route, uuidParam } from "../../../../respond";

/** Closes the link of a review. */
export const DELETE = route<{ project: string; review: string }>(
  inProject("edit", "render"),
  async (_request, params) => withdrawReview(uuidParam.parse(params.project), uuidParam.parse(params.review)),
  "closed a review",
);
