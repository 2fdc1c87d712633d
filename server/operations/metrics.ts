/** Figures of a studio for a monitoring system, in the text format of Prometheus. */
import { collectDefaultMetrics, Counter, Gauge, Histogram, Registry } from "prom-client";
import { config } from "../config";
import { row, rows } from "../db/database";
import { blobs } from "../storage/blobs";
import { freeOn } from "../storage/free-space";

interface Metrics {
  registry: Registry;
  requests: Histogram<"method" | "route" | "status">;
  refused: Counter<"route">;
}

/** One registry a process, kept on the global object: each route is a bundle of its own. */
const holder = globalThis as typeof globalThis & { resonumMetrics?: Metrics };

function metrics(): Metrics {
  if (holder.resonumMetrics) return holder.resonumMetrics;
  const registry = new Registry();
  const registers = [registry];
  collectDefaultMetrics({ register: registry, prefix: "resonum_" });
  const gauge = (name: string, help: string, labelNames: string[], collect: (gauge: Gauge) => Promise<void>) =>
    new Gauge({
      name: `resonum_${name}`,
      help,
      labelNames,
      registers,
      async collect() {
        this.reset();
        await collect(this);
      },
    });
  gauge("jobs", "Jobs of the queue, waiting or under way.", ["queue", "state"], async (jobs) => {
    const counts = await rows<{ queue: string; state: string; count: number }>(
      `select queue, case when leased_until > now() then 'active' else 'waiting' end as state, count(*)::int as count
       from job group by 1, 2`,
    );
    for (const { queue, state, count } of counts) jobs.set({ queue, state }, count);
  });
  gauge("job_seconds_waited", "How long the oldest job has waited that somebody waits for.", [], async (waited) => {
    const oldest = await row<{ seconds: number | null }>(
      `select extract(epoch from now() - min(created_at))::float8 as seconds from job
       where priority >= 0 and (lease is null or leased_until < now())`,
    );
    waited.set(oldest?.seconds ?? 0);
  });
  gauge("blob_bytes", "Bytes of all blobs in the store.", [], async (bytes) => {
    bytes.set((await row<{ sum: number }>("select coalesce(sum(bytes), 0)::bigint as sum from blob"))!.sum);
  });
  gauge("projects", "Projects, by where they lie.", ["shelf"], async (projects) => {
    const counts = await rows<{ shelf: string; count: number }>(
      "select coalesce(shelf, 'current') as shelf, count(*)::int as count from project group by 1",
    );
    for (const { shelf, count } of counts) projects.set({ shelf }, count);
  });
  gauge("disk_free_bytes", "Bytes free on the disks of the store and the database.", ["disk"], async (free) => {
    free.set({ disk: "store" }, await blobs.free());
    if (config.databaseFolder) free.set({ disk: "database" }, await freeOn(config.databaseFolder));
  });
  gauge("backup_age_seconds", "Since the newest backup; absent where there is none.", [], async (age) => {
    const last = await row<{ seconds: number }>(
      `select extract(epoch from now() - finished_at)::float8 as seconds from backup
       where snapshot is not null order by finished_at desc limit 1`,
    );
    if (last) age.set(last.seconds);
  });
  return (holder.resonumMetrics = {
    registry,
    requests: new Histogram({
      name: "resonum_request_seconds",
      help: "How long requests took.",
      labelNames: ["method", "route", "status"],
      buckets: [0.005, 0.02, 0.05, 0.1, 0.25, 0.5, 1, 2.5, 10, 60],
      registers,
    }),
    refused: new Counter({
      name: "resonum_requests_refused_total",
      help: "Requests from other sites' pages, or for another host.",
      labelNames: ["route"],
      registers,
    }),
  });
}

/** Ids and hashes would make a series of each. */
export const routeOf = (path: string): string =>
  path
    .split("/")
    .map((part) => (/^[0-9a-f]{64}$|^[0-9a-f-]{36}$|^[0-9a-f]{32}$/i.test(part) ? ":id" : part))
    .slice(0, MOST_PARTS)
    .join("/");
const MOST_PARTS = 6;

const REFUSED = [403, 421];

/** Notes a request that was answered. */
export function noteRequest(method: string, path: string, status: number, seconds: number): void {
  const { requests, refused } = metrics();
  const route = routeOf(path);
  requests.observe({ method, route, status }, seconds);
  if (REFUSED.includes(status)) refused.inc({ route });
}

/** All figures as they are now. */
export async function metricsText(): Promise<{ text: string; type: string }> {
  const { registry } = metrics();
  return { text: await registry.metrics(), type: registry.contentType };
}
