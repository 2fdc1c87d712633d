import { inStudio } from "@server/people/access";
import { inviteToReset } from "@server/people/invitations";
import { visitor } from "@server/people/visitor";
import { route, uuidParam } from "../../../respond";

/** Makes a link by which somebody chooses a new password. */
export const POST = route<{ person: string }>(inStudio("owner", null), async (_request, params) =>
  inviteToReset(visitor(), uuidParam.parse(params.person)),
);
