// The studio's processes: the web server and the render workers, started again when they end by themselves.
import { fork, spawn } from "node:child_process";
import { cpus } from "node:os";
import { inRoot, root } from "./paths.mjs";
import { say } from "./say.mjs";

const AGAIN_MS = 300;
const STOP_MS = 4000;

/** Keeps one process running until it is told to stop. `start` gives a new child each time. */
function keepRunning(name, start) {
  let child;
  let stopping = false;
  const begin = () => {
    child = start();
    child.on("exit", (code, signal) => {
      if (stopping) return;
      say(`${name} ended (${signal ?? code}); starting it again.`);
      setTimeout(() => stopping || begin(), AGAIN_MS);
    });
  };
  begin();
  return {
    get pid() {
      return child.pid;
    },
    stop: () =>
      new Promise((resolve) => {
        stopping = true;
        if (child.exitCode !== null || child.signalCode !== null) return resolve();
        const hard = setTimeout(() => child.kill("SIGKILL"), STOP_MS);
        child.on("exit", () => {
          clearTimeout(hard);
          resolve();
        });
        child.kill("SIGTERM");
      }),
  };
}

const childEnvironment = (environment) => ({ ...process.env, ...environment, NEXT_TELEMETRY_DISABLED: "1" });

export function startWeb(port, environment, development) {
  const next = inRoot("node_modules", "next", "dist", "bin", "next");
  const args = [next, development ? "dev" : "start", "-H", "127.0.0.1", "-p", String(port)];
  const mode = { NODE_ENV: development ? "development" : "production" };
  const options = {
    cwd: root,
    stdio: ["ignore", "ignore", 2],
    env: childEnvironment({ ...environment, ...mode }),
    detached: true,
  };
  return keepRunning("The web server", () => spawn(process.execPath, args, options));
}

/** Workers: one a core; they give way to what is heard. */
export function startWorkers(environment, count = cpus().length) {
  const options = {
    cwd: root,
    stdio: ["ignore", "ignore", 2, "ipc"],
    env: childEnvironment(environment),
    detached: true,
  };
  return Array.from({ length: count }, () =>
    keepRunning("A render worker", () => fork(inRoot("dist", "worker.mjs"), [], options)),
  );
}

/** The simulated receivers; tells their addresses. */
export async function startReceivers(folder) {
  const child = fork(inRoot("dist", "receivers.mjs"), [folder], {
    cwd: root,
    stdio: ["ignore", "ignore", 2, "ipc"],
    detached: true,
  });
  const addresses = await new Promise((resolve, reject) => {
    child.once("message", resolve);
    child.once("exit", (code) => reject(new Error(`The simulated receivers ended with ${code}.`)));
  });
  return {
    environment: { RESONUM_PODCAST_HOST: addresses.podcast, RESONUM_INGEST: addresses.ingest },
    stop: async () => void child.kill("SIGTERM"),
  };
}

/** Resolves when the server answers. */
export async function untilAnswering(address, milliseconds = 60_000) {
  const end = Date.now() + milliseconds;
  for (;;) {
    const answer = await fetch(`${address}/api/status`).catch(() => undefined);
    if (answer?.ok) return;
    if (Date.now() > end)
      throw new Error(`The web server at ${address} does not answer${answer ? `: ${await answer.text()}` : ""}.`);
    await new Promise((resolve) => setTimeout(resolve, 100));
  }
}
