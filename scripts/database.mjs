// `npm run database -- new-password | upgrade`: for a database that does not start. The studio must not be running.
import { spawnSync } from "node:child_process";
import { randomBytes } from "node:crypto";
import { existsSync, mkdtempSync, readFileSync, renameSync, writeFileSync } from "node:fs";
import { tmpdir } from "node:os";
import { join } from "node:path";
import { studioAccount } from "./account.mjs";
import { postgresBinaries } from "./install.mjs";
import { inRoot } from "./paths.mjs";
import { clusterFolder, createCluster, secretOf } from "./postgres.mjs";
import { say } from "./say.mjs";

const own = (account, path) => account.uid !== undefined && spawnSync("chown", [`${account.uid}:${account.gid}`, path]);

function cluster() {
  const dataFolder = process.env.RESONUM_DATA ?? inRoot("data");
  const account = studioAccount(dataFolder);
  const folder = clusterFolder(dataFolder, account);
  if (!existsSync(join(folder, "PG_VERSION"))) throw new Error(`There is no database in ${folder}.`);
  if (existsSync(join(folder, "postmaster.pid")))
    throw new Error(
      "The database is running, or was not stopped well. Stop Resonum, or start it once and stop it, then try again.",
    );
  return { dataFolder, account, folder, version: readFileSync(join(folder, "PG_VERSION"), "utf8").trim() };
}

/** Gives the database a new password, by PostgreSQL's single-user mode. */
export function newPassword() {
  const { dataFolder, account, folder, version } = cluster();
  const binaries = postgresBinaries(version);
  if (!binaries) throw new Error(`PostgreSQL ${version} is not installed: apt-get install postgresql-${version}`);
  const password = randomBytes(24).toString("hex");
  const { status, stderr } = spawnSync(join(binaries, "postgres"), ["--single", "-D", folder, "postgres"], {
    cwd: "/",
    input: `alter role resonum password '${password}';\n`,
    encoding: "utf8",
    ...account,
  });
  if (status !== 0 || /ERROR/.test(stderr)) throw new Error(`The password could not be changed: ${stderr.trim()}`);
  const secret = secretOf(dataFolder);
  writeFileSync(`${secret}.new`, password, { mode: 0o600 });
  own(account, `${secret}.new`);
  renameSync(`${secret}.new`, secret);
  say("The database has a new password. Start Resonum as always.");
}

/** Brings the database to the newest PostgreSQL that is installed, by pg_upgrade; the old one is kept beside it. */
export function upgrade() {
  const { dataFolder, account, folder, version } = cluster();
  const to = postgresBinaries();
  const from = postgresBinaries(version);
  const [, newest] = /postgresql\/(\d+)\//.exec(to) ?? [];
  if (newest === version) return say(`The database is of PostgreSQL ${version} already, the newest that is installed.`);
  if (!from) throw new Error(`Bringing it over needs the old version as well: apt-get install postgresql-${version}`);
  const password = readFileSync(secretOf(dataFolder), "utf8").trim();
  const fresh = `${folder}.${newest}`;
  createCluster(to, fresh, password, account);
  const work = mkdtempSync(join(tmpdir(), "resonum-upgrade-"));
  const pass = join(work, "pass");
  writeFileSync(pass, `*:*:*:*:${password}\n`, { mode: 0o600 });
  for (const path of [work, pass]) own(account, path);
  const args = ["-b", from, "-B", to, "-d", folder, "-D", fresh, "-U", "resonum", "-s", work];
  const { status, stdout } = spawnSync(join(to, "pg_upgrade"), args, {
    cwd: work,
    encoding: "utf8",
    env: { ...process.env, PGPASSFILE: pass },
    ...account,
  });
  if (status !== 0)
    throw new Error(
      `PostgreSQL could not bring the database over; the old one is as it was.\n${String(stdout).slice(-3000)}`,
    );
  renameSync(folder, `${folder}.${version}`);
  renameSync(fresh, folder);
  say(
    `The database is of PostgreSQL ${newest} now. The old one is kept in ${folder}.${version}: remove it once all is well.`,
  );
}

const COMMANDS = { "new-password": newPassword, upgrade };

export function database([command]) {
  if (!Object.hasOwn(COMMANDS, command ?? "")) throw new Error(`Say what to do: ${Object.keys(COMMANDS).join(", ")}.`);
  COMMANDS[command]();
}
