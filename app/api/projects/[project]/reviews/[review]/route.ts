import { withdrawReview as endpoint } from "@core/api/reviews";
import { inProject } from "@server/people/access";
import { withdrawReview } from "@server/review/reviews";
import { route } from "../../../../respond";

export const DELETE = route(
  endpoint,
  inProject("edit", "render"),
  ({ params }) => withdrawReview(params.project, params.review),
  "closed a review",
);
