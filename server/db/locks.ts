/** What needs all blobs to stay, and what removes some, kept apart by an advisory lock of the database. */
import type pg from "pg";
import { pool } from "./database";

/** Held together by those who read many blobs, alone by who removes some. */
const BLOBS_LOCK = 0x5e52;

interface Lock {
  take: string;
  letGo: string;
}
const SHARED: Lock = { take: "pg_advisory_lock_shared", letGo: "pg_advisory_unlock_shared" };
const ALONE: Lock = { take: "pg_try_advisory_lock", letGo: "pg_advisory_unlock" };

/** `undefined` where it cannot be had. */
async function holding<Result>(
  { take, letGo }: Lock,
  work: (client: pg.PoolClient) => Promise<Result>,
): Promise<Result | undefined> {
  const client = await pool().connect();
  let broken: Error | undefined;
  try {
    // Waiting for it, and what is done under it, may take long.
    await client.query("set statement_timeout = 0; set idle_in_transaction_session_timeout = 0");
    const { rows } = await client.query<{ taken: boolean | "" }>(`select ${take}($1) as taken`, [BLOBS_LOCK]);
    if (rows[0]!.taken === false) return undefined;
    try {
      return await work(client);
    } finally {
      await client.query(`select ${letGo}($1)`, [BLOBS_LOCK]);
      await client.query("reset statement_timeout; reset idle_in_transaction_session_timeout");
    }
  } catch (error) {
    broken = error as Error; // whatever it holds is let go of with it
    throw error;
  } finally {
    client.release(broken);
  }
}

/** Does what needs all blobs to stay; waits until none are being removed. */
export const whileBlobsStay = async <Result>(work: (client: pg.PoolClient) => Promise<Result>): Promise<Result> =>
  (await holding(SHARED, work)) as Result;

/** Does what removes blobs; nothing, and `undefined`, while somebody needs them all. */
export const unlessBlobsStay = <Result>(work: () => Promise<Result>): Promise<Result | undefined> =>
  holding(ALONE, work);
