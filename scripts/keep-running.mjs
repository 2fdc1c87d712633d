// Keeps a child process running: it ends with us however we end, is started again when it ends by itself, with growing
// pauses, and is ended and started again when it gives no sign of life.
import { spawn } from "node:child_process";
import { say } from "./say.mjs";

const FIRST_PAUSE_MS = 300;
const LONGEST_PAUSE_MS = 20_000;
/** Who lived so long did not end for the reason for which it was started again. */
const SETTLED_MS = 30_000;
const STOP_MS = 4000;

export const hasEnded = (child) => child.exitCode !== null || child.signalCode !== null;

/** Starts a program that is sent `deathSignal` when we are gone. */
export const spawnOurs = (program, args, options, deathSignal = "KILL") =>
  spawn("setpriv", ["--pdeathsig", deathSignal, program, ...args], { detached: true, cwd: "/", ...options });

/**
 * @param start gives a new child each time
 * @param health `isAlive()`, asked every `everyMs`: after `misses` in a row that say no, the child is killed
 * @param stopSignal what ends it well
 */
export function keepRunning(name, start, { health, stopSignal = "SIGTERM" } = {}) {
  let child;
  let stopping = false;
  let failures = 0;
  let timer;
  const begin = () => {
    const began = Date.now();
    child = start();
    child.on("error", (error) => say(`${name}: ${error.message}`));
    child.on("exit", (code, signal) => {
      clearInterval(timer);
      if (stopping) return;
      failures = Date.now() - began > SETTLED_MS ? 0 : failures + 1;
      const pause = failures <= 1 ? FIRST_PAUSE_MS : Math.min(LONGEST_PAUSE_MS, FIRST_PAUSE_MS * 2 ** (failures - 1));
      const often = failures > 3 ? `, ${failures} times in a row; what it said stands above` : "";
      say(`${name} ended (${signal ?? code})${often}; starting it again in ${(pause / 1000).toFixed(1)} s.`);
      setTimeout(() => stopping || begin(), pause);
    });
    if (health) timer = watch(name, child, health);
  };
  begin();
  return {
    get pid() {
      return child.pid;
    },
    get child() {
      return child;
    },
    stop: () =>
      new Promise((resolve) => {
        stopping = true;
        clearInterval(timer);
        if (hasEnded(child)) return resolve();
        const hard = setTimeout(() => child.kill("SIGKILL"), STOP_MS);
        child.on("exit", () => {
          clearTimeout(hard);
          resolve();
        });
        child.kill(stopSignal);
      }),
  };
}

function watch(name, child, { isAlive, everyMs, misses }) {
  let missed = 0;
  let asking = false;
  const look = async () => {
    if (asking) return;
    asking = true;
    missed = (await isAlive(child).catch(() => false)) ? 0 : missed + 1;
    asking = false;
    if (missed < misses || hasEnded(child)) return;
    say(`${name} gives no sign of life; ending it.`);
    child.kill("SIGKILL");
  };
  return setInterval(() => void look(), everyMs);
}
