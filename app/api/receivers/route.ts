import { receivers } from "@server/delivery/receivers";
import { route } from "../respond";

/** Receivers that masters can be handed to. */
export const GET = route(async () => receivers().map(({ id, name, help }) => ({ id, name, help })));
