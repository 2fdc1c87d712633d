import { getStatus } from "@core/api/operations";
import { row } from "@server/db/database";
import { anyone } from "@server/people/access";
import { hasAccounts } from "@server/people/identify";
import { principal } from "@server/people/principal";
import { route } from "../respond";

export const GET = route(getStatus, anyone, async () => {
  if ((await hasAccounts()) && principal().person === null) return { ok: true };
  const waiting = await row<{ preparing: number; rendering: number }>(
    `select (select count(*)::int from source where state in ('waiting', 'preparing')) as preparing,
            (select count(*)::int from master where state in ('waiting', 'rendering')) as rendering`,
  );
  return { ok: true, ...waiting, memoryBytes: process.memoryUsage().rss };
});
