import { changePassword as endpoint } from "@core/api/account";
import { inStudio } from "@server/people/access";
import { principal } from "@server/people/principal";
import { changePassword } from "@server/people/sign-in";
import { route } from "../../respond";

export const PUT = route(endpoint, inStudio("guest", null), ({ body }, request) =>
  changePassword(principal(), body, request.headers),
);
