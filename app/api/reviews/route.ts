import { listOpenReviews } from "@core/api/reviews";
import { inStudio, reviewableProjects } from "@server/people/access";
import { principal } from "@server/people/principal";
import { reviewsFor } from "@server/review/guests";
import { route } from "../respond";

export const GET = route(listOpenReviews, inStudio("guest", "read"), async () =>
  reviewsFor(await reviewableProjects(principal())),
);
