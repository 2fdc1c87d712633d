import { receivers } from "@server/delivery/receivers";
import { route } from "../respond";

export const GET = route(async () => receivers().map(({ id, name, help }) => ({ id, name, help })));
