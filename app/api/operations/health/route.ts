import { examine } from "@server/operations/doctor";
import { heavyRoute } from "../../respond";

/** Everything that the studio stands on, looked at now. */
export const GET = heavyRoute(() => examine());
