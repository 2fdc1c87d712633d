import { withdrawInvitation as endpoint } from "@core/api/people";
import { inStudio } from "@server/people/access";
import { withdrawInvitation } from "@server/people/invitations";
import { principal } from "@server/people/principal";
import { route } from "../../respond";

export const DELETE = route(endpoint, inStudio("engineer", null), ({ params }) =>
  withdrawInvitation(principal(), params.invitation),
);
