import { inStudio } from "@server/people/access";
import { endSession } from "@server/people/own-account";
import { visitor } from "@server/people/visitor";
import { route, uuidParam } from "../../../respond";

/** Signs a device out. */
export const DELETE = route<{ session: string }>(inStudio("guest", null), async (_request, params) =>
  endSession(visitor(), uuidParam.parse(params.session)),
);
