// `npm run demo`, `npm run studio` (the same without its demo projects) and `npm run dev`: the whole studio on this machine, until Ctrl-C.
import { spawn } from "node:child_process";
import { mkdirSync, readFileSync, renameSync, rmSync, writeFileSync } from "node:fs";
import { createServer } from "node:net";
import { join } from "node:path";
import { become, giveTo, studioAccount } from "./account.mjs";
import { buildBundles, buildWeb } from "./build.mjs";
import { inRoot, root } from "./paths.mjs";
import { startPostgres } from "./postgres.mjs";
import { addressFor, startReceivers, startWeb, startWorkers, untilAnswering } from "./processes.mjs";
import { say } from "./say.mjs";

const FIRST_PORT = 4600;

async function firstFreePort(from, host) {
  for (let port = from; port < from + 100; port++) {
    const free = await new Promise((resolve) => {
      const server = createServer();
      server.on("error", () => resolve(false));
      server.listen(port, host, () => server.close(() => resolve(true)));
    });
    if (free) return port;
  }
  throw new Error(`No free port from ${from} to ${from + 99}. Set PORT to choose another.`);
}

/** When a process began, in ticks since the machine did; `undefined` where there is none: numbers are used again. */
function startOf(pid) {
  try {
    const fields = readFileSync(`/proc/${pid}/stat`, "latin1")
      .replace(/^.*\) /s, "")
      .split(" ");
    return fields[0] === "Z" ? undefined : fields[19]; // one that has ended and was not fetched yet
  } catch {
    return undefined;
  }
}

/** What is said of a studio that runs; nothing where the file is cut off or the process is another by now. */
function runningOn(file) {
  try {
    const { pid, start, address } = JSON.parse(readFileSync(file, "utf8"));
    return Number.isInteger(pid) && startOf(pid) === start ? { pid, address } : undefined;
  } catch {
    return undefined;
  }
}

/** Refuses to run twice on one data folder. */
function claim(dataFolder) {
  const file = join(dataFolder, "running.json");
  const running = runningOn(file);
  if (running)
    throw new Error(
      `Resonum is already running on this data folder${running.address ? `, at ${running.address}` : ""}. Stop it first (process ${running.pid}).`,
    );
  const write = (more) => {
    const making = `${file}.${process.pid}`;
    writeFileSync(making, JSON.stringify({ pid: process.pid, start: startOf(process.pid), ...more }));
    renameSync(making, file);
  };
  write({});
  return { write, release: () => rmSync(file, { force: true }) };
}

/** Runs a bundle of ours to its end. */
function runBundle(name, args, environment, account) {
  const child = spawn(process.execPath, [inRoot("dist", name), ...args], {
    ...account,
    cwd: root,
    stdio: ["ignore", 2, 2],
    env: { ...process.env, ...environment },
  });
  return new Promise((resolve, reject) => {
    child.on("error", reject);
    child.on("exit", (code) => (code === 0 ? resolve() : reject(new Error(`${name} ended with ${code}.`))));
  });
}

/** What others can reach belongs to somebody first. */
async function refuseWithoutOwner(environment, giveUp) {
  try {
    await runBundle("people.mjs", ["has-owner"], environment, {});
  } catch {
    await giveUp();
    throw new Error(
      "The studio has no owner, and nobody could tell who comes. Make one first, while it runs for this machine alone (“npm run studio”): on its page “People”, or with “resonum owner NAME@HOST”.",
    );
  }
}

export async function runStudio({ development, demo = true }) {
  const began = Date.now();
  const dataFolder = process.env.RESONUM_DATA ?? inRoot("data");
  const account = studioAccount(dataFolder);
  const claimed = claim(dataFolder);
  await buildBundles();
  // The demo's sound is made while the application is built.
  const made = demo ? runBundle("demo.mjs", ["make"], { RESONUM_DATA: dataFolder }, account) : Promise.resolve();
  made.catch(() => undefined);
  await Promise.all([development ? undefined : buildWeb(), made]);
  // All that had to be root's is done.
  if (development) mkdirSync(inRoot(".next"), { recursive: true });
  if (development && account.uid !== undefined) giveTo(account, inRoot(".next"));
  become(account);
  const database = await startPostgres(dataFolder, account);
  const receivers = await startReceivers(join(dataFolder, "receivers"));
  const environment = {
    RESONUM_DATABASE_URL: database.url,
    RESONUM_DATABASE_FOLDER: database.folder,
    RESONUM_DATA: dataFolder,
    HOME: dataFolder,
    ...receivers.environment,
  };
  const { RESONUM_HOST: host = "127.0.0.1", RESONUM_TLS: tls = "", RESONUM_HOSTS: names = "" } = process.env;
  const port = await firstFreePort(Number(process.env.PORT ?? FIRST_PORT), host);
  const address = addressFor(host, port, tls === "own");
  if (tls !== "") await refuseWithoutOwner(environment, () => database.stop());
  const web = startWeb(port, environment, development);
  const workers = startWorkers(environment);
  claimed.write({ address, databasePort: database.port });

  let stopping;
  const stop = () => {
    stopping ??= (async () => {
      say("\nStopping …");
      await Promise.all([web.stop(), receivers.stop(), ...workers.map((worker) => worker.stop())]);
      await database.stop();
      claimed.release();
      process.exit(0);
    })();
  };
  for (const signal of ["SIGINT", "SIGTERM", "SIGHUP"]) process.on(signal, stop);

  await untilAnswering(address);
  if (demo) await runBundle("demo.mjs", ["load"], environment, {});
  say(
    `\nResonum is ready after ${((Date.now() - began) / 1000).toFixed(1)} s:\n\n    ${names === "" ? address : `https://${names.split(",")[0]}`}\n\nCtrl-C stops it.`,
  );
  await new Promise(() => {});
}
