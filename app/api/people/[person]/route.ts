import { changePerson as endpoint } from "@core/api/people";
import { inStudio } from "@server/people/access";
import { changePerson } from "@server/people/people";
import { principal } from "@server/people/principal";
import { route } from "../../respond";

export const PATCH = route(endpoint, inStudio("owner", null), ({ params, body }) =>
  changePerson(principal(), params.person, body),
);
