import { resetPassword } from "@core/api/people";
import { inStudio } from "@server/people/access";
import { inviteToReset } from "@server/people/invitations";
import { principal } from "@server/people/principal";
import { route } from "../../../respond";

export const POST = route(resetPassword, inStudio("owner", null), ({ params }) =>
  inviteToReset(principal(), params.person),
);
