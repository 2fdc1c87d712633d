/** A studio beside the shared one, with a database and a data folder of its own: for tests that give it accounts. */
import { randomUUID } from "node:crypto";
import { mkdtemp, rm } from "node:fs/promises";
import { createServer, type AddressInfo } from "node:net";
import { tmpdir } from "node:os";
import { join } from "node:path";
import pg from "pg";
import { addressFor, startWeb, startWorkers, untilAnswering } from "../scripts/processes.mjs";

export interface OwnStudio {
  /** By loopback's name: passkeys are bound to a name. */
  address: string;
  query: (sql: string, values?: unknown[]) => Promise<Record<string, unknown>[]>;
  stop: () => Promise<void>;
}

const freePort = (): Promise<number> =>
  new Promise((resolve) => {
    const server = createServer().listen(0, "127.0.0.1", () => {
      const { port } = server.address() as AddressInfo;
      server.close(() => resolve(port));
    });
  });

/** @param more settings of its environment; @param workers how many render for it */
export async function ownStudio(more: Record<string, string> = {}, workers = 1): Promise<OwnStudio> {
  const cluster = process.env.RESONUM_DATABASE_URL!;
  const name = `own_${randomUUID().replaceAll("-", "")}`;
  const admin = new pg.Client({ connectionString: cluster });
  await admin.connect();
  await admin.query(`create database ${name}`);
  const url = new URL(cluster);
  url.pathname = `/${name}`;
  const dataFolder = await mkdtemp(join(tmpdir(), "resonum-own-"));
  const environment = {
    RESONUM_DATABASE_URL: url.href,
    RESONUM_DATA: dataFolder,
    RESONUM_LOG: "error",
    RESONUM_CHECK_ANSWERS: "yes",
    HOME: dataFolder,
    ...more,
  };
  const port = await freePort();
  const web = startWeb(port, environment, false);
  const rendering = startWorkers(environment, workers);
  const secure = more.RESONUM_TLS === "own";
  await untilAnswering(addressFor("127.0.0.1", port, secure));
  const client = new pg.Client({ connectionString: url.href });
  await client.connect();
  return {
    address: `${secure ? "https" : "http"}://localhost:${port}`,
    query: async (sql, values) => (await client.query(sql, values)).rows as Record<string, unknown>[],
    stop: async () => {
      await client.end();
      await Promise.all([web.stop(), ...rendering.map((worker) => worker.stop())]);
      await admin.query(`drop database ${name} with (force)`);
      await admin.end();
      await rm(dataFolder, { recursive: true, force: true });
    },
  };
}
