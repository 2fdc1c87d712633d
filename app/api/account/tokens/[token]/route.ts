import { inStudio } from "@server/people/access";
import { withdrawToken } from "@server/people/own-account";
import { visitor } from "@server/people/visitor";
import { route, uuidParam } from "../../../respond";

/** Withdraws an API token: it opens nothing from then on. */
export const DELETE = route<{ token: string }>(inStudio("guest", null), async (_request, params) =>
  withdrawToken(visitor(), uuidParam.parse(params.token)),
);
