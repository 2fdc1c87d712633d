// The database of a data folder: never destroyed, never guessed at; what does not fit is said, with what to do.
import { execFileSync } from "node:child_process";
import { existsSync, mkdirSync, mkdtempSync, readFileSync, renameSync, rmSync, writeFileSync } from "node:fs";
import { tmpdir } from "node:os";
import { join } from "node:path";
import pg from "pg";
import { afterAll, beforeAll, describe, expect, it } from "vitest";
import { studioAccount } from "../../scripts/account.mjs";
import { startPostgres } from "../../scripts/postgres.mjs";

const parent = mkdtempSync(join(tmpdir(), "resonum-cluster-"));
const data = join(parent, "data");
const secret = join(data, "postgres-password");
const version = join(data, "postgres", "PG_VERSION");

const start = () => startPostgres(data, studioAccount(data));

/** What the database holds; the studio is stopped again. */
async function kept() {
  const { url, stop } = await start();
  const client = new pg.Client({ connectionString: url });
  await client.connect();
  const { rows } = await client.query("select word from kept");
  await client.end();
  await stop();
  return rows.map(({ word }) => word);
}

beforeAll(async () => {
  execFileSync("chmod", ["755", parent]);
  const { url, stop } = await start();
  const client = new pg.Client({ connectionString: url });
  await client.connect();
  await client.query("create table kept (word text); insert into kept values ('all of it')");
  await client.end();
  await stop();
});
afterAll(() => rmSync(parent, { recursive: true, force: true }));

describe("a database", () => {
  it("is there at the next start", async () => {
    expect(await kept()).toEqual(["all of it"]);
  });
  it.each([
    ["gone", () => rmSync(secret)],
    ["empty", () => writeFileSync(secret, "")],
  ])("whose password is %s is not touched; the start says what to do", async (words, lose) => {
    const password = readFileSync(secret, "utf8");
    lose();
    await expect(start()).rejects.toThrow(
      new RegExp(`its password .* is ${words}\\. Nothing was changed.*new-password`),
    );
    writeFileSync(secret, password, { mode: 0o600 });
    expect(await kept()).toEqual(["all of it"]);
  });
  it("whose password is another's says so, and is not touched", async () => {
    const password = readFileSync(secret, "utf8");
    writeFileSync(secret, "wrong");
    await expect(start()).rejects.toThrow(/does not know the password.*Nothing was changed/);
    expect(existsSync(join(data, "postgres", "postmaster.pid"))).toBe(false);
    writeFileSync(secret, password, { mode: 0o600 });
    expect(await kept()).toEqual(["all of it"]);
  });
  it("is given a new password by a command, and holds what it held", async () => {
    const before = readFileSync(secret, "utf8");
    rmSync(secret);
    execFileSync(process.execPath, ["scripts/start.mjs", "database", "new-password"], {
      env: { ...process.env, RESONUM_DATA: data },
      stdio: "ignore",
    });
    expect(readFileSync(secret, "utf8")).not.toBe(before);
    expect(await kept()).toEqual(["all of it"]);
  });
  it("of a version that is not installed is not started by another", async () => {
    const own = readFileSync(version, "utf8");
    writeFileSync(version, "9\n");
    await expect(start()).rejects.toThrow(/is of PostgreSQL 9, which is not installed here.*upgrade/);
    writeFileSync(version, own);
    expect(await kept()).toEqual(["all of it"]);
  });
  it("that is none is not taken for one, and not made anew", async () => {
    const folder = join(data, "postgres");
    renameSync(folder, `${folder}.away`);
    mkdirSync(folder);
    writeFileSync(join(folder, "letter.txt"), "Dear Odda");
    await expect(start()).rejects.toThrow(/it is no database\. Nothing was changed/);
    expect(existsSync(join(folder, "letter.txt"))).toBe(true);
    rmSync(folder, { recursive: true });
    renameSync(`${folder}.away`, folder);
    expect(await kept()).toEqual(["all of it"]);
  });
  it("is stopped well when the one who started it is killed", async () => {
    const code = `
      const { startPostgres } = await import(${JSON.stringify(join(process.cwd(), "scripts/postgres.mjs"))});
      const { studioAccount } = await import(${JSON.stringify(join(process.cwd(), "scripts/account.mjs"))});
      await startPostgres(${JSON.stringify(data)}, studioAccount(${JSON.stringify(data)}));
      process.kill(process.pid, "SIGKILL");`;
    expect(() => execFileSync(process.execPath, ["--input-type=module", "-e", code], { stdio: "ignore" })).toThrow();
    await expect.poll(() => existsSync(join(data, "postgres", "postmaster.pid")), { timeout: 10_000 }).toBe(false);
    expect(await kept()).toEqual(["all of it"]);
  });
});
