import { operationsOverview } from "@server/operations/overview";
import { inStudio } from "@server/people/access";
import { route } from "../respond";

/** The studio's queue, workers and backups. */
export const GET = route(inStudio("engineer", "manage"), () => operationsOverview());
