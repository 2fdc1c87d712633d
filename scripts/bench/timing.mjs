// Whole processes: how long they take, and how much memory.
import { spawn } from "node:child_process";
import { existsSync, readFileSync } from "node:fs";
import { root } from "../paths.mjs";

/** Seconds that a whole process takes, and the most memory that it had. */
export function timed(command, args) {
  return new Promise((resolve, reject) => {
    const began = process.hrtime.bigint();
    const child = spawn(command, args, { cwd: root, stdio: "ignore" });
    let megabytes = 0;
    const look = setInterval(() => {
      if (existsSync(`/proc/${child.pid}/status`)) megabytes = Math.max(megabytes, peakMegabytes(child.pid));
    }, 100);
    child.on("close", (status) => {
      clearInterval(look);
      const seconds = Number(process.hrtime.bigint() - began) / 1e9;
      if (status === 0) resolve({ seconds, megabytes });
      else reject(new Error(`${command} ${args.join(" ")} ended with ${status}`));
    });
  });
}

/** 0 for a process that has just ended. */
export const peakMegabytes = (pid) =>
  Math.round(Number(/VmHWM:\s+(\d+)/.exec(readFileSync(`/proc/${pid}/status`, "utf8"))?.[1] ?? 0) / 1024);
