// A PostgreSQL cluster of the project's own: on loopback, never as root, on a free port.
import { spawn, spawnSync } from "node:child_process";
import { createHash, randomBytes } from "node:crypto";
import { chmodSync, chownSync, existsSync, mkdirSync, readFileSync, rmSync, statSync, writeFileSync } from "node:fs";
import { createServer } from "node:net";
import { dirname, join } from "node:path";
import { postgresBinaries } from "./install.mjs";
import { say } from "./say.mjs";

const USER = "resonum";
const START_MS = 20_000;

export const freePort = () =>
  new Promise((resolve, reject) => {
    const server = createServer();
    server.on("error", reject);
    server.listen(0, "127.0.0.1", () => {
      const { port } = server.address();
      server.close(() => resolve(port));
    });
  });

/** Whom PostgreSQL runs as: Debian's own user when we are root, ourselves otherwise. */
function identity() {
  if (process.getuid() !== 0) return {};
  const line = readFileSync("/etc/passwd", "utf8")
    .split("\n")
    .find((entry) => entry.startsWith("postgres:"));
  if (!line)
    throw new Error(
      "There is no user “postgres”, so PostgreSQL cannot run as anyone but root, which it refuses. Install Debian's package postgresql.",
    );
  const [, , uid, gid] = line.split(":");
  return { uid: Number(uid), gid: Number(gid) };
}

const othersMayEnter = (folder) =>
  folder === "/" || ((statSync(folder).mode & 0o001) !== 0 && othersMayEnter(dirname(folder)));

/** The cluster's folder: in the data folder, or where PostgreSQL's user can reach it. */
function clusterFolder(dataFolder, user) {
  mkdirSync(dataFolder, { recursive: true });
  if (user.uid === undefined || othersMayEnter(dataFolder)) return join(dataFolder, "postgres");
  return join("/var/lib/resonum", createHash("sha256").update(dataFolder).digest("hex").slice(0, 16));
}

function create(binaries, folder, password, user) {
  mkdirSync(dirname(folder), { recursive: true, mode: 0o755 });
  mkdirSync(folder, { mode: 0o700 });
  const secret = `${folder}.init`;
  writeFileSync(secret, password, { mode: 0o600 });
  if (user.uid !== undefined) {
    chownSync(folder, user.uid, user.gid);
    chownSync(secret, user.uid, user.gid);
  }
  chmodSync(folder, 0o700);
  const args = [
    "-D",
    folder,
    "-U",
    USER,
    "--auth=scram-sha-256",
    `--pwfile=${secret}`,
    "-E",
    "UTF8",
    "--locale=C.UTF-8",
  ];
  const { status, stderr } = spawnSync(join(binaries, "initdb"), args, { cwd: "/", encoding: "utf8", ...user });
  rmSync(secret, { force: true });
  if (status !== 0) {
    rmSync(folder, { recursive: true, force: true });
    throw new Error(`PostgreSQL could not make its cluster in ${folder}: ${stderr.trim()}`);
  }
}

/** Stops a server that an interrupted run left behind. */
async function stopLeftover(folder) {
  const file = join(folder, "postmaster.pid");
  if (!existsSync(file)) return;
  const pid = Number(readFileSync(file, "utf8").split("\n")[0]);
  const alive = () => {
    try {
      process.kill(pid, 0);
      return readFileSync(`/proc/${pid}/cmdline`, "utf8").includes("postgres");
    } catch {
      return false;
    }
  };
  if (!alive()) return;
  process.kill(pid, "SIGINT");
  for (let waited = 0; alive() && waited < 5000; waited += 100) await pause(100);
}

const pause = (milliseconds) => new Promise((resolve) => setTimeout(resolve, milliseconds));

/** One run of the server. Resolves when it takes connections. */
async function run(binaries, folder, port, user) {
  const settings = [
    "listen_addresses=127.0.0.1",
    "unix_socket_directories=",
    "max_connections=60",
    "shared_buffers=64MB",
  ].flatMap((setting) => ["-c", setting]);
  const child = spawn(join(binaries, "postgres"), ["-D", folder, "-p", String(port), ...settings], {
    cwd: "/",
    stdio: ["ignore", "ignore", "pipe"],
    detached: true, // Ctrl-C reaches us first, and we stop it last
    ...user,
  });
  let said = "";
  child.stderr.on("data", (chunk) => (said = (said + chunk).slice(-4000)));
  for (let waited = 0; !said.includes("ready to accept connections"); waited += 50) {
    if (hasEnded(child) || waited > START_MS)
      throw new Error(`PostgreSQL did not start: ${said.trim().split("\n").pop()}`);
    await pause(50);
  }
  return child;
}

const hasEnded = (child) => child.exitCode !== null || child.signalCode !== null;

/** Starts the cluster, making it first where there is none, and again when it ends by itself. `stop` ends it. */
export async function startPostgres(dataFolder) {
  const binaries = postgresBinaries();
  const user = identity();
  const folder = clusterFolder(dataFolder, user);
  const secret = join(dataFolder, "postgres-password");
  if (!existsSync(join(folder, "PG_VERSION")) || !existsSync(secret)) {
    // Without its password a cluster belongs to a data folder that is gone.
    await stopLeftover(folder);
    rmSync(folder, { recursive: true, force: true });
    const password = randomBytes(24).toString("hex");
    create(binaries, folder, password, user);
    writeFileSync(secret, password, { mode: 0o600 });
  }
  await stopLeftover(folder);
  const port = await freePort();
  let stopping = false;
  let child = await run(binaries, folder, port, user);
  const watch = () =>
    child.on("exit", async (code, signal) => {
      for (let failures = 0; !stopping && failures < 10; failures++) {
        say(`The database ended (${signal ?? code}); starting it again.`);
        await pause(500);
        try {
          child = await run(binaries, folder, port, user);
          return watch();
        } catch (error) {
          say(error.message);
        }
      }
    });
  watch();
  const address = `postgres://${USER}:${readFileSync(secret, "utf8")}@127.0.0.1:${port}`;
  await ensureDatabase(address);
  return {
    url: `${address}/${USER}`,
    folder,
    stop: () =>
      new Promise((resolve) => {
        stopping = true;
        if (hasEnded(child)) return resolve();
        child.on("exit", resolve);
        child.kill("SIGINT");
      }),
  };
}

async function ensureDatabase(address) {
  const { default: pg } = await import("pg");
  const client = new pg.Client({ connectionString: `${address}/postgres` });
  await client.connect();
  const found = await client.query("select 1 from pg_database where datname = $1", [USER]);
  if (found.rowCount === 0) await client.query(`create database ${USER}`);
  await client.end();
}
