// `npm run demo` and `npm run dev`: the whole studio on this machine, until Ctrl-C.
import { spawn } from "node:child_process";
import { existsSync, mkdirSync, readFileSync, rmSync, writeFileSync } from "node:fs";
import { createServer } from "node:net";
import { join } from "node:path";
import { buildBundles, buildWeb } from "./build.mjs";
import { inRoot, root } from "./paths.mjs";
import { startPostgres } from "./postgres.mjs";
import { startReceivers, startWeb, startWorkers, untilAnswering } from "./processes.mjs";
import { say } from "./say.mjs";

const FIRST_PORT = 4600;

async function firstFreePort(from) {
  for (let port = from; port < from + 100; port++) {
    const free = await new Promise((resolve) => {
      const server = createServer();
      server.on("error", () => resolve(false));
      server.listen(port, "127.0.0.1", () => server.close(() => resolve(true)));
    });
    if (free) return port;
  }
  throw new Error(`No free port from ${from} to ${from + 99}. Set PORT to choose another.`);
}

/** Refuses to run twice on one data folder. */
function claim(dataFolder) {
  const file = join(dataFolder, "running.json");
  if (existsSync(file)) {
    const { pid, address } = JSON.parse(readFileSync(file, "utf8"));
    let alive = true;
    try {
      process.kill(pid, 0);
    } catch {
      alive = false;
    }
    if (alive)
      throw new Error(`Resonum is already running on this data folder, at ${address}. Stop it first (process ${pid}).`);
  }
  return {
    write: (address) => writeFileSync(file, JSON.stringify({ pid: process.pid, address })),
    release: () => rmSync(file, { force: true }),
  };
}

/** Runs a bundle of ours to its end. */
function runBundle(name, args, environment) {
  const child = spawn(process.execPath, [inRoot("dist", name), ...args], {
    cwd: root,
    stdio: ["ignore", 2, 2],
    env: { ...process.env, ...environment },
  });
  return new Promise((resolve, reject) => {
    child.on("error", reject);
    child.on("exit", (code) => (code === 0 ? resolve() : reject(new Error(`${name} ended with ${code}.`))));
  });
}

export async function runStudio({ development }) {
  const began = Date.now();
  const dataFolder = process.env.RESONUM_DATA ?? inRoot("data");
  mkdirSync(dataFolder, { recursive: true });
  const claimed = claim(dataFolder);
  await buildBundles();
  // The demo's sound is made while the application is built.
  const made = runBundle("demo.mjs", ["make"], { RESONUM_DATA: dataFolder });
  made.catch(() => undefined);
  const [database] = await Promise.all([startPostgres(dataFolder), development ? undefined : buildWeb(), made]);
  const receivers = await startReceivers(join(dataFolder, "receivers"));
  const environment = { RESONUM_DATABASE_URL: database.url, RESONUM_DATA: dataFolder, ...receivers.environment };
  const port = await firstFreePort(Number(process.env.PORT ?? FIRST_PORT));
  const address = `http://127.0.0.1:${port}`;
  const web = startWeb(port, environment, development);
  const workers = startWorkers(environment);
  claimed.write(address);

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
  await runBundle("demo.mjs", ["load"], environment);
  say(`\nResonum is ready after ${((Date.now() - began) / 1000).toFixed(1)} s:\n\n    ${address}\n\nCtrl-C stops it.`);
  await new Promise(() => {});
}
