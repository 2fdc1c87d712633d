/** For integration tests: one PostgreSQL server for all, and for each test file a database and a data folder of its own. */
import { randomUUID } from "node:crypto";
import { mkdtempSync } from "node:fs";
import { tmpdir } from "node:os";
import { join } from "node:path";
import pg from "pg";
import { inject } from "vitest";

declare module "vitest" {
  export interface ProvidedContext {
    /** Address of the server, without a database's name. */
    databaseServer: string;
  }
}

const server = inject("databaseServer");
const name = `test_${randomUUID().replaceAll("-", "")}`;
const admin = new pg.Client({ connectionString: `${server}/postgres` });
await admin.connect();
await admin.query(`create database ${name}`);
await admin.end();

// Read by the server's settings, which are loaded after this.
process.env.RESONUM_DATABASE_URL = `${server}/${name}`;
process.env.RESONUM_DATA = mkdtempSync(join(tmpdir(), "resonum-data-"));
process.env.RESONUM_LOG = "error";
process.env.RESONUM_CHECK_ANSWERS = "yes";
