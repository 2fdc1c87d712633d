import { inStudio } from "@server/people/access";
import { withdrawInvitation } from "@server/people/invitations";
import { visitor } from "@server/people/visitor";
import { route, uuidParam } from "../../respond";

/** Withdraws an invitation: its link leads nowhere from then on. */
export const DELETE = route<{ invitation: string }>(inStudio("engineer", null), async (_request, params) =>
  withdrawInvitation(visitor(), uuidParam.parse(params.invitation)),
);
