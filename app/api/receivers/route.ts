import { listReceivers } from "@core/api/masters";
import { receivers } from "@server/delivery/receivers";
import { inStudio } from "@server/people/access";
import { route } from "../respond";

export const GET = route(listReceivers, inStudio("guest", "read"), async () =>
  receivers().map(({ id, name, help }) => ({ id, name, help })),
);
