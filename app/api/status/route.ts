import { row } from "@server/db/database";
import { route } from "../respond";

/** Whether the server and its database answer, and how much work waits. */
export const GET = route(async () => {
  const waiting = await row<{ preparing: number; rendering: number }>(
    `select (select count(*)::int from source where state in ('waiting', 'preparing')) as preparing,
            (select count(*)::int from master where state in ('waiting', 'rendering')) as rendering`,
  );
  return { ok: true, ...waiting, memoryBytes: process.memoryUsage().rss };
});
