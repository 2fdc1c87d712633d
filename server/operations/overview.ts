/** What whoever looks after a studio wants to know at a look: its queue, its workers, its backups. */
import type { OperationsView, QueueLoad } from "@core/project/operations-view";
import { config } from "../config";
import { rows } from "../db/database";
import { workersNow } from "../queue/workers";
import { backupRuns } from "./scheduled-backups";

const queueLoads = (): Promise<QueueLoad[]> =>
  rows<QueueLoad>(
    `select queue, (count(*) filter (where leased_until > now()))::int as active,
       (count(*) filter (where lease is null or leased_until <= now()))::int as waiting,
       extract(epoch from now() - min(created_at) filter (where lease is null or leased_until <= now()))::float8 as waited
     from job group by queue order by queue`,
  );

export async function operationsOverview(): Promise<OperationsView> {
  const [queues, workers, backups] = await Promise.all([queueLoads(), workersNow(), backupRuns()]);
  const { folder, hours } = config.backups;
  return { queues, workers, backups, schedule: folder === "" ? null : { folder, hours } };
}
