/** PostgreSQL's own programs for dumps, run against the studio's database. */
import { spawn } from "node:child_process";
import { readdir } from "node:fs/promises";
import { join } from "node:path";
import { config } from "../config";

/** Where Debian puts the programs of each version. */
const VERSIONS = "/usr/lib/postgresql";

/** The newest there is: a dump is made by a program that is no older than its server. */
async function programPath(name: string): Promise<string> {
  const versions = await readdir(VERSIONS).catch(() => [] as string[]);
  const newest = versions
    .map(Number)
    .filter(Number.isInteger)
    .sort((a, b) => b - a)[0];
  return newest === undefined ? name : join(VERSIONS, String(newest), "bin", name);
}

/** A password in the arguments of a process could be read by everybody on the machine. */
function connection(): { address: string; environment: NodeJS.ProcessEnv } {
  const url = new URL(config.databaseUrl);
  const password = decodeURIComponent(url.password);
  url.password = "";
  return { address: url.href, environment: { ...process.env, ...(password ? { PGPASSWORD: password } : {}) } };
}

/** Runs `pg_dump`, `pg_restore` … to its end. @returns what it wrote @throws Error with what it said where it failed */
export async function runPostgresTool(
  name: "pg_dump" | "pg_restore",
  args: readonly string[],
  signal?: AbortSignal,
): Promise<string> {
  const { address, environment } = connection();
  const child = spawn(await programPath(name), [...args, ...(args[0] === "--version" ? [] : ["--dbname", address])], {
    env: environment,
    stdio: ["ignore", "pipe", "pipe"],
    ...(signal ? { signal } : {}),
  });
  let [said, wrote] = ["", ""];
  child.stderr.setEncoding("utf8").on("data", (text: string) => (said = (said + text).slice(-4000)));
  child.stdout.setEncoding("utf8").on("data", (text: string) => (wrote += text));
  const code = await new Promise<number | null>((resolve, reject) => {
    child.on("error", (error: NodeJS.ErrnoException) =>
      reject(
        error.code === "ENOENT"
          ? new Error(
              `${name} is not on this machine: install PostgreSQL's client programs (“apt-get install postgresql-client”).`,
            )
          : error,
      ),
    );
    child.on("close", resolve);
  });
  if (code !== 0) throw new Error(`${name} failed: ${said.trim() || `it ended with ${code}`}`);
  return wrote;
}
