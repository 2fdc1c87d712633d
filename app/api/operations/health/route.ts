import { examine as endpoint } from "@core/api/operations";
import { examine } from "@server/operations/doctor";
import { inStudio } from "@server/people/access";
import { heavyRoute } from "../../respond";

export const GET = heavyRoute(endpoint, inStudio("engineer", "manage"), () => examine());
