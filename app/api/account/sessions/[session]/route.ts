import { endSession as endpoint } from "@core/api/account";
import { inStudio } from "@server/people/access";
import { endSession } from "@server/people/own-account";
import { principal } from "@server/people/principal";
import { route } from "../../../respond";

export const DELETE = route(endpoint, inStudio("guest", null), ({ params }) => endSession(principal(), params.session));
