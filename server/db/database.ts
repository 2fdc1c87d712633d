import { readdir, readFile } from "node:fs/promises";
import { join } from "node:path";
import pg from "pg";
import { config } from "../config";
import { log } from "../log";

/** No statement of ours takes so long; one that does is stuck, and so is a transaction that does nothing. */
const STATEMENT_MS = 30_000;

/** One pool a process, kept on the global object so that development reloads do not open another. */
const holder = globalThis as typeof globalThis & { resonumPool?: pg.Pool };

export function pool(): pg.Pool {
  if (!config.databaseUrl)
    throw new Error("RESONUM_DATABASE_URL is not set: start with “npm run demo” or “npm run dev”.");
  if (!holder.resonumPool) {
    pg.types.setTypeParser(pg.types.builtins.INT8, Number); // ids and byte counts stay below 2⁵³
    pg.types.setTypeParser(pg.types.builtins.TIMESTAMPTZ, (text) => new Date(text).toISOString());
    holder.resonumPool = new pg.Pool({
      connectionString: config.databaseUrl,
      max: 8,
      connectionTimeoutMillis: 5000,
      statement_timeout: STATEMENT_MS,
      idle_in_transaction_session_timeout: STATEMENT_MS,
    });
    const lost = (error: Error) => log.warn({ error: error.message }, "a database connection was lost");
    holder.resonumPool.on("error", lost);
    // One that is in use tells its loss by itself, whether a query is under way or not.
    holder.resonumPool.on("connect", (client) => void client.on("error", lost));
  }
  return holder.resonumPool;
}

export type Queryable = Pick<pg.Pool | pg.PoolClient, "query">;

/** Rows of a query. `$1`, `$2` … stand for the values. */
export async function rows<Row extends pg.QueryResultRow>(
  sql: string,
  values: unknown[] = [],
  on: Queryable = pool(),
): Promise<Row[]> {
  return (await on.query<Row>(sql, values)).rows;
}

/** The first row, if there is one. */
export const row = async <Row extends pg.QueryResultRow>(
  sql: string,
  values: unknown[] = [],
  on?: Queryable,
): Promise<Row | undefined> => (await rows<Row>(sql, values, on))[0];

/** Two transactions that wait for one another, of which this one was ended: it can be run again. */
const DEADLOCK = "40P01";
const TRIES = 4;

/** Runs `work` in a transaction; rolls back when it throws, and runs it again after a deadlock. */
export async function transaction<Result>(work: (client: pg.PoolClient) => Promise<Result>): Promise<Result> {
  for (let tries = 1; ; tries++) {
    try {
      return await inTransaction(work);
    } catch (error) {
      if ((error as pg.DatabaseError).code !== DEADLOCK || tries >= TRIES) throw error;
    }
  }
}

async function inTransaction<Result>(work: (client: pg.PoolClient) => Promise<Result>): Promise<Result> {
  const client = await pool().connect();
  let broken: Error | undefined;
  try {
    await client.query("begin");
    const result = await work(client);
    await client.query("commit");
    return result;
  } catch (error) {
    await client.query("rollback").catch((failure: Error) => void (broken = failure));
    throw error;
  } finally {
    client.release(broken); // one that cannot roll back is not used again
  }
}

/** Why the database takes nothing at the moment, in words, and when to come again; `undefined` for any other error. */
export function databaseTrouble(error: unknown): { title: string; detail: string; seconds: number } | undefined {
  const { code = "", message = "" } = error as { code?: string; message?: string };
  if (code === "57P03" || code === "57P02" || code === "57P01")
    return {
      title: "Database starting",
      detail: "The database is being started. Nothing that was saved is lost; it goes on in a moment.",
      seconds: 2,
    };
  if (code === "53300" || /timeout exceeded when trying to connect/.test(message))
    return {
      title: "Busy",
      detail: "The database has too much to do at the moment. Nothing was changed; try again in a few seconds.",
      seconds: 3,
    };
  if (code === "57014")
    return {
      title: "Took too long",
      detail: "The database took too long over this and was stopped. Nothing was changed; try again.",
      seconds: 5,
    };
  if (/^(ECONNREFUSED|ECONNRESET|EPIPE)$/.test(code) || /Connection terminated|ECONNREFUSED|ECONNRESET/.test(message))
    return {
      title: "Database gone",
      detail: "The database does not answer. Nothing that was saved is lost; trying again will help once it is back.",
      seconds: 5,
    };
  if (code === "53100")
    return {
      title: "Disk full",
      detail: "The disk of the database is full, so this was not saved. Make room; the page goes on trying.",
      seconds: 10,
    };
  return undefined;
}

const MIGRATION_LOCK = 0x5e50;

/** Migrations that this version knows, the first first. */
export const knownMigrations = async (): Promise<string[]> =>
  (await readdir(config.migrationsFolder)).filter((name) => name.endsWith(".sql")).sort();

/** Migrations that the database went through; none where it is new. */
export async function appliedMigrations(on?: Queryable): Promise<string[]> {
  const there = await row<{ there: boolean }>("select to_regclass('migration') is not null as there", [], on);
  if (!there!.there) return [];
  return (await rows<{ name: string }>("select name from migration order by name", [], on)).map(({ name }) => name);
}

/**
 * Brings the database to the newest migration; processes that start together wait for one another.
 * @throws Error where a newer version was at work on it
 */
export async function migrate(): Promise<void> {
  const files = await knownMigrations();
  await transaction(async (client) => {
    await client.query("select pg_advisory_xact_lock($1)", [MIGRATION_LOCK]);
    await client.query(
      "create table if not exists migration (name text primary key, applied_at timestamptz not null default now())",
    );
    const done = new Set(await appliedMigrations(client));
    const unknown = [...done].find((name) => !files.includes(name));
    if (unknown)
      throw new Error(
        `A newer version of Resonum was at work on this database (${unknown} is not known here): start that version, or restore a backup that this one made.`,
      );
    await client.query("set local statement_timeout = 0"); // a migration takes what it takes
    for (const name of files) {
      if (done.has(name)) continue;
      await client.query(await readFile(join(config.migrationsFolder, name), "utf8"));
      await client.query("insert into migration (name) values ($1)", [name]);
      log.info({ migration: name }, "migrated");
    }
  });
}
