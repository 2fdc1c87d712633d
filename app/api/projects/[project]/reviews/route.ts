import { createReview as endpoint, listReviews } from "@core/api/reviews";
import { inProject } from "@server/people/access";
import { noteSubject, principal } from "@server/people/principal";
import { createReview, reviewsOf } from "@server/review/reviews";
import { route } from "../../../respond";

export const GET = route(listReviews, inProject("listen", "read"), ({ params }) => reviewsOf(params.project));

export const POST = route(
  endpoint,
  inProject("edit", "render"),
  ({ params, body }) => {
    noteSubject(body.title);
    return createReview(principal(), params.project, body);
  },
  "sent masters out for review",
);
