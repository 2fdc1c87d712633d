import { inStudio, reviewableProjects } from "@server/people/access";
import { visitor } from "@server/people/visitor";
import { reviewsFor } from "@server/review/guests";
import { route } from "../respond";

/** Open reviews of the projects in which one has a part. */
export const GET = route(inStudio("guest", "read"), async () => reviewsFor(await reviewableProjects(visitor())));
