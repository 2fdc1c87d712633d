import { execFileSync, spawn } from "node:child_process";
import { fileURLToPath } from "node:url";
import { describe, expect, it } from "vitest";
import { hasEnded, keepRunning, spawnOurs } from "./keep-running.mjs";

const NODE = process.execPath;
const node = (code) => () => spawnOurs(NODE, ["-e", code], { stdio: ["ignore", "ignore", "ignore", "ipc"] });
const isThere = (pid) => {
  try {
    process.kill(pid, 0);
    return true;
  } catch {
    return false;
  }
};

describe("a child that is kept running", () => {
  it("is started again when it is killed, and not once it is told to stop", async () => {
    const kept = keepRunning("A test child", node("setInterval(() => {}, 1000)"));
    const first = kept.pid;
    process.kill(first, "SIGKILL");
    await expect.poll(() => kept.pid !== first && isThere(kept.pid), { timeout: 5000 }).toBe(true);
    const { child } = kept;
    await kept.stop();
    expect(hasEnded(child)).toBe(true);
    const last = kept.pid;
    await new Promise((resolve) => setTimeout(resolve, 500));
    expect(kept.pid).toBe(last);
  });
  it("is started again with growing pauses when it ends at once, and never given up", async () => {
    const starts = [];
    const kept = keepRunning("A test child that ends at once", () => {
      starts.push(Date.now());
      return node("process.exit(3)")();
    });
    await expect.poll(() => starts.length, { timeout: 10_000 }).toBeGreaterThan(4);
    await kept.stop();
    const pauses = starts.slice(1).map((at, n) => at - starts[n]);
    expect(pauses.at(-1)).toBeGreaterThan(1.5 * pauses[0]);
  });
  it("is ended and started again when it gives no sign of life", async () => {
    let alive = true;
    const health = { isAlive: async () => alive, everyMs: 50, misses: 3 };
    const kept = keepRunning("A test child that hangs", node("for (;;);"), { health });
    const first = kept.pid;
    await new Promise((resolve) => setTimeout(resolve, 400));
    expect(kept.pid).toBe(first);
    alive = false;
    await expect.poll(() => kept.pid !== first, { timeout: 5000 }).toBe(true);
    alive = true;
    await kept.stop();
  });
  it("ends with the one who started it, however that ends", async () => {
    const module = JSON.stringify(fileURLToPath(new URL("./keep-running.mjs", import.meta.url)));
    const code = `import(${module}).then(({ spawnOurs }) => spawnOurs("sleep", ["31.41"], { stdio: "ignore" })); setInterval(() => {}, 1000);`;
    const parent = spawn(NODE, ["-e", code], { stdio: "ignore" });
    const sleeping = () => execFileSync("sh", ["-c", "pgrep -cf '^sleep 31.41' || true"]).toString().trim();
    await expect.poll(sleeping, { timeout: 5000 }).toBe("1");
    parent.kill("SIGKILL");
    await expect.poll(sleeping, { timeout: 5000 }).toBe("0");
  });
});
