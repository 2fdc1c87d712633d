import { examine } from "@server/operations/doctor";
import { inStudio } from "@server/people/access";
import { heavyRoute } from "../../respond";

/** Everything that the studio stands on, looked at now. */
export const GET = heavyRoute(inStudio("engineer", "manage"), () => examine());
