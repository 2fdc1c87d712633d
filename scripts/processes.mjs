// The studio's processes: the web server, the render workers and the simulated receivers.
import http from "node:http";
import https from "node:https";
import { pathToFileURL } from "node:url";
import { cpus } from "node:os";
import { inRoot, root } from "./paths.mjs";
import { keepRunning, spawnOurs } from "./keep-running.mjs";

const childEnvironment = (environment) => ({ ...process.env, ...environment, NEXT_TELEMETRY_DISABLED: "1" });

/**
 * What a server says of itself, by whichever name it is called and whoever has signed its certificate: it is ours.
 * @returns undefined where it does not answer
 */
const statusOf = (address) =>
  new Promise((resolve) => {
    const url = new URL("/api/status", address);
    const options = { headers: { host: `localhost:${url.port}` }, rejectUnauthorized: false, timeout: 10_000 };
    const request = (url.protocol === "https:" ? https : http).get(url, options, (response) => {
      let text = "";
      response.on("data", (chunk) => (text += chunk));
      response.on("error", () => resolve(undefined));
      response.on("end", () => resolve({ ok: response.statusCode === 200, text }));
    });
    request.on("timeout", () => request.destroy());
    request.on("error", () => resolve(undefined));
  });

/** How the machine itself reaches what listens there. */
export const addressFor = (host, port, secure) => {
  const own = host === "0.0.0.0" || host === "::" ? "127.0.0.1" : host;
  return `${secure ? "https" : "http"}://${own.includes(":") ? `[${own}]` : own}:${port}`;
};

/** A client must be the one who closes an idle connection: else its next request may meet the closing. */
const KEEP_ALIVE_MS = "75000";

export function startWeb(port, environment, development, account = {}) {
  const next = inRoot("node_modules", "next", "dist", "bin", "next");
  const { RESONUM_HOST: host = "127.0.0.1", RESONUM_TLS: tls } = { ...process.env, ...environment };
  const secure = tls === "own";
  const place = ["-H", host, "-p", String(port)];
  const before = ["--import", pathToFileURL(inRoot("scripts", "before-requests.mjs")).href];
  const plain = development ? ["dev", ...place] : ["start", ...place, "--keepAliveTimeout", KEEP_ALIVE_MS];
  const args = [...before, ...(secure ? [inRoot("scripts", "serve-secure.mjs")] : [next, ...plain])];
  const mode = { NODE_ENV: development ? "development" : "production" };
  const options = {
    cwd: root,
    stdio: ["ignore", "ignore", 2],
    env: childEnvironment({ ...environment, ...mode, RESONUM_PORT: String(port) }),
    ...account,
  };
  const health = {
    isAlive: async () => (await statusOf(addressFor(host, port, secure))) !== undefined,
    everyMs: 5000,
    misses: 6,
  };
  return keepRunning("The web server", () => spawnOurs(process.execPath, args, options), { health });
}

/** A child that tells that it lives by messages. */
function spawnTalking(script, args, options) {
  const child = spawnOurs(process.execPath, [script, ...args], options);
  child.heard = Date.now();
  child.on("message", () => (child.heard = Date.now()));
  return child;
}

/** Workers: one a core; they give way to what is heard. */
export function startWorkers(environment, count = cpus().length, account = {}) {
  const options = {
    cwd: root,
    stdio: ["ignore", "ignore", 2, "ipc"],
    env: childEnvironment(environment),
    ...account,
  };
  const health = { isAlive: async ({ heard }) => Date.now() - heard < 60_000, everyMs: 5000, misses: 2 };
  return Array.from({ length: count }, () =>
    keepRunning("A render worker", () => spawnTalking(inRoot("dist", "worker.mjs"), [], options), { health }),
  );
}

/** The simulated receivers; tells their addresses, which they keep when they are started again. */
export async function startReceivers(folder, account = {}) {
  const options = { cwd: root, stdio: ["ignore", "ignore", 2, "ipc"], ...account };
  let ports = [];
  let first;
  const addresses = new Promise((resolve) => (first = resolve));
  const isAlive = async () =>
    ports.length === 0 ||
    fetch(`http://127.0.0.1:${ports[0]}/`, { signal: AbortSignal.timeout(10_000) }).then(() => true);
  const receivers = keepRunning(
    "The simulated receivers",
    () => {
      const child = spawnTalking(inRoot("dist", "receivers.mjs"), [folder, ...ports], options);
      child.once("message", (told) => {
        ports = [told.podcast, told.ingest].map((address) => new URL(address).port);
        first(told);
      });
      return child;
    },
    { health: { isAlive, everyMs: 10_000, misses: 3 } },
  );
  const failed = new Promise((_, reject) =>
    setTimeout(() => reject(new Error("The simulated receivers did not start.")), 20_000).unref(),
  );
  const told = await Promise.race([addresses, failed]);
  return {
    environment: { RESONUM_PODCAST_HOST: told.podcast, RESONUM_INGEST: told.ingest },
    pid: receivers.pid,
    stop: receivers.stop,
  };
}

/** Resolves when the server answers. */
export async function untilAnswering(address, milliseconds = 60_000) {
  const end = Date.now() + milliseconds;
  for (;;) {
    const answer = await statusOf(address);
    if (answer?.ok) return;
    if (Date.now() > end)
      throw new Error(`The web server at ${address} does not answer${answer ? `: ${answer.text}` : ""}.`);
    await new Promise((resolve) => setTimeout(resolve, 100));
  }
}
