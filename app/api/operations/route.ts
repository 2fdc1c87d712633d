import { getOperations } from "@core/api/operations";
import { operationsOverview } from "@server/operations/overview";
import { inStudio } from "@server/people/access";
import { route } from "../respond";

export const GET = route(getOperations, inStudio("engineer", "manage"), () => operationsOverview());
