/** Looks at all that a studio stands on, and says of each whether it is well, and what to do where it is not. */
import { execFile } from "node:child_process";
import { promisify } from "node:util";
import { formatDistanceToNowStrict } from "date-fns";
import { counted, formatBytes } from "@core/audio/format";
import type { HealthCheck } from "@core/project/operations-view";
import { config } from "../config";
import { appliedMigrations, databaseTrouble, knownMigrations, row } from "../db/database";
import { GONE_SECONDS } from "../queue/workers";
import { blobs } from "../storage/blobs";
import { freeOn } from "../storage/free-space";
import { runPostgresTool } from "./postgres-tools";

type Finding = Omit<HealthCheck, "name">;
const ok = (words: string): Finding => ({ state: "ok", words });
const warning = (words: string): Finding => ({ state: "warning", words });
const failed = (words: string): Finding => ({ state: "failed", words });

const OLDEST_NODE: [major: number, minor: number] = [20, 9];
const OLDEST_POSTGRES = 14;
/** Clocks that differ by more give times in the history that go backwards. */
const MOST_CLOCK_SECONDS = 2;
/** A studio whose newest backup is older is told so. */
const MOST_BACKUP_DAYS = 2;

async function checkNode(): Promise<Finding> {
  const [major, minor] = process.versions.node.split(".").map(Number) as [number, number];
  const isOld = major < OLDEST_NODE[0] || (major === OLDEST_NODE[0] && minor < OLDEST_NODE[1]);
  return isOld ? failed(`${process.version}: ${OLDEST_NODE.join(".")} or newer is needed.`) : ok(process.version);
}

const firstLineOf = async (program: string, argument: string): Promise<string> =>
  (await promisify(execFile)(program, [argument], { timeout: 10_000 })).stdout.split(/\n| Copyright/)[0]!.trim();

/** A program of the system. */
const program =
  (name: string, argument: string, missing: string, what: "failed" | "warning" = "failed") =>
  async (): Promise<Finding> =>
    firstLineOf(name, argument).then(ok, () => ({ state: what, words: missing }));

async function checkDatabase(): Promise<Finding> {
  const found = await row<{ version: number; words: string }>(
    "select current_setting('server_version_num')::int / 10000 as version, current_setting('server_version') as words",
  );
  return found!.version < OLDEST_POSTGRES
    ? failed(`PostgreSQL ${found!.words}: ${OLDEST_POSTGRES} or newer is needed.`)
    : ok(`PostgreSQL ${found!.words}`);
}

async function checkSchema(): Promise<Finding> {
  const [known, applied] = [await knownMigrations(), await appliedMigrations()];
  const newer = applied.find((name) => !known.includes(name));
  if (newer) return failed(`${newer} was made by a newer version: start that one, or restore a backup of this one.`);
  const missing = known.filter((name) => !applied.includes(name));
  if (missing.length > 0)
    return warning(`${counted(missing.length, "migration")} to be made: the next start makes them.`);
  return ok(applied.at(-1)!);
}

async function checkClock(): Promise<Finding> {
  const before = Date.now();
  const found = await row<{ now: number }>("select extract(epoch from clock_timestamp())::float8 as now");
  const off = Math.abs(found!.now - (before + Date.now()) / 2000);
  return off > MOST_CLOCK_SECONDS
    ? warning(
        `The clocks of this machine and of the database differ by ${off.toFixed(1)} s: set both by the same server.`,
      )
    : ok(`as the database's, within ${Math.max(0.1, off).toFixed(1)} s`);
}

/** Writes, reads back, and takes away again. */
async function checkStore(): Promise<Finding> {
  const probe = new TextEncoder().encode(`probe ${Date.now()}`);
  const draft = await blobs.store.draft();
  try {
    await draft.sink().write(probe);
    const back = await draft.readBack();
    const read = await back.read(0, probe.length);
    await back.close();
    if (Buffer.compare(read, probe) !== 0)
      return failed("What was written is not what is read: do not trust this disk.");
  } finally {
    await draft.discard();
  }
  return ok(config.store || blobs.store.folder);
}

async function checkSpace(): Promise<Finding> {
  const free = [{ name: "store", bytes: await blobs.free() }];
  if (config.databaseFolder) free.push({ name: "database", bytes: await freeOn(config.databaseFolder) });
  const words = free.map(({ name, bytes }) => `${formatBytes(bytes)} for the ${name}`).join(", ");
  const least = Math.min(...free.map(({ bytes }) => bytes));
  if (least < config.keepFreeBytes)
    return failed(`${words}: nothing more is taken in. Make room, or run “resonum sweep”.`);
  return least < 10 * config.keepFreeBytes ? warning(`${words}: it will be full soon.`) : ok(words);
}

async function checkWork(): Promise<Finding> {
  const found = await row<{ waiting: number; oldest: number | null }>(
    `select count(*)::int as waiting, extract(epoch from now() - min(created_at))::float8 as oldest
     from job where priority >= 0 and (lease is null or leased_until < now())`,
  );
  const { waiting, oldest } = found!;
  if (waiting === 0) return ok("nothing waits");
  const words = `${counted(waiting, "job")} waiting, the oldest for ${Math.round(oldest! / 60)} min`;
  const isWorkedOn = await row(
    `select 1 where exists (select 1 from job where leased_until > now())
       or exists (select 1 from worker where not drained and seen_at > now() - make_interval(secs => $1))`,
    [GONE_SECONDS],
  );
  return isWorkedOn ? ok(words) : warning(`${words}, and nobody works on any: start a worker (“resonum worker”).`);
}

async function checkBackups(): Promise<Finding> {
  const last = await row<{ finished_at: string; place: string; age: number; lost: number }>(
    `select finished_at, place, lost, extract(epoch from now() - finished_at)::float8 as age from backup
     where snapshot is not null order by finished_at desc limit 1`,
  );
  if (!last) return warning("There is no backup yet: “resonum backup FOLDER” makes one, on another disk.");
  const words = `the last one ${formatDistanceToNowStrict(new Date(last.finished_at))} ago in ${last.place}`;
  if (last.lost > 0)
    return warning(`${words}, without ${counted(last.lost, "blob")} damaged or missing: run “resonum scrub”.`);
  return last.age > MOST_BACKUP_DAYS * 86_400 ? warning(`${words}: make one every night.`) : ok(words);
}

const CHECKS: readonly [name: string, look: () => Promise<Finding>][] = [
  ["Node.js", checkNode],
  ["Database", checkDatabase],
  ["Schema", checkSchema],
  ["Clock", checkClock],
  ["Store", checkStore],
  ["Free space", checkSpace],
  [
    "ffmpeg",
    program(
      "ffmpeg",
      "-version",
      "It is not on this machine: recordings other than WAV, AIFF and FLAC cannot be read.",
    ),
  ],
  [
    "Sandbox",
    program(
      "bwrap",
      "--version",
      "bubblewrap is not on this machine: ffmpeg runs with the rights of the studio.",
      "warning",
    ),
  ],
  ["Dumps", () => runPostgresTool("pg_dump", ["--version"]).then((words) => ok(words.trim()))],
  ["Queue", checkWork],
  ["Backups", checkBackups],
];

/** What a check could not even look at. */
const trouble = (error: unknown): Finding => failed(databaseTrouble(error)?.detail ?? (error as Error).message);

/** All checks, in the order in which one stands on another. */
export async function examine(): Promise<HealthCheck[]> {
  const checks: HealthCheck[] = [];
  for (const [name, look] of CHECKS) checks.push({ name, ...(await look().catch(trouble)) });
  return checks;
}
