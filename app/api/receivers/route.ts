import { receivers } from "@server/delivery/receivers";
import { inStudio } from "@server/people/access";
import { route } from "../respond";

/** Receivers that masters can be handed to. */
export const GET = route(inStudio("guest", "read"), async () =>
  receivers().map(({ id, name, help }) => ({ id, name, help })),
);
