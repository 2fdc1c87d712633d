import { withdrawToken as endpoint } from "@core/api/account";
import { inStudio } from "@server/people/access";
import { withdrawToken } from "@server/people/own-account";
import { principal } from "@server/people/principal";
import { route } from "../../../respond";

export const DELETE = route(endpoint, inStudio("guest", null), ({ params }) =>
  withdrawToken(principal(), params.token),
);
