import { renameSelf as endpoint } from "@core/api/account";
import { inStudio } from "@server/people/access";
import { renameSelf } from "@server/people/own-account";
import { principal } from "@server/people/principal";
import { route } from "../respond";

export const PATCH = route(endpoint, inStudio("guest", null), ({ body }) => renameSelf(principal(), body.name));
