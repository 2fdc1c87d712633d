import { row } from "@server/db/database";
import { hasAccounts } from "@server/people/identify";
import { visitor } from "@server/people/visitor";
import { anyone } from "@server/people/access";
import { route } from "../respond";

/** Whether the server and its database answer, and how much work waits. */
export const GET = route(anyone, async () => {
  if ((await hasAccounts()) && visitor().person === null) return { ok: true };
  const waiting = await row<{ preparing: number; rendering: number }>(
    `select (select count(*)::int from source where state in ('waiting', 'preparing')) as preparing,
            (select count(*)::int from master where state in ('waiting', 'rendering')) as rendering`,
  );
  return { ok: true, ...waiting, memoryBytes: process.memoryUsage().rss };
});
