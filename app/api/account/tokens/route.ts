import { createToken as endpoint, listTokens } from "@core/api/account";
import { inStudio } from "@server/people/access";
import { createToken, tokensOf } from "@server/people/own-account";
import { principal } from "@server/people/principal";
import { route } from "../../respond";

export const GET = route(listTokens, inStudio("guest", null), () => tokensOf(principal()));

export const POST = route(endpoint, inStudio("guest", null), ({ body }) => createToken(principal(), body));
