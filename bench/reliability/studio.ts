/** A studio of its own for trying what it withstands: started as a person starts it, its processes found by name. */
import { spawn, type ChildProcess } from "node:child_process";
import { readdirSync, readFileSync, rmSync } from "node:fs";
import { join } from "node:path";
import pg from "pg";

export type Part = "worker" | "web" | "database" | "supervisor";

const root = process.cwd();
export const DATA = join(root, ".build", "bench-data");
const PORT = 4950;
export const ADDRESS = `http://127.0.0.1:${PORT}`;

export const pause = (ms: number): Promise<void> => new Promise((resolve) => setTimeout(resolve, ms));

/** Processes of this studio alone: their environment names its data folder. */
function processes(pattern: RegExp): number[] {
  return readdirSync("/proc").flatMap((name) => {
    try {
      const isOurs = readFileSync(`/proc/${name}/environ`, "latin1").includes(`RESONUM_DATA=${DATA}\0`);
      return isOurs && pattern.test(readFileSync(`/proc/${name}/cmdline`, "latin1")) ? [Number(name)] : [];
    } catch {
      return [];
    }
  });
}

const supervisorPid = (): number[] => {
  try {
    return [(JSON.parse(readFileSync(join(DATA, "running.json"), "utf8")) as { pid: number }).pid];
  } catch {
    return [];
  }
};

const postmaster = (): number[] => {
  try {
    return [Number(readFileSync(join(DATA, "postgres", "postmaster.pid"), "utf8").split("\n")[0])];
  } catch {
    return [];
  }
};

const PIDS: Record<Part, () => number[]> = {
  worker: () => processes(/dist\/worker\.mjs/),
  web: () => processes(/^next-server|next\/dist\/bin\/next/),
  database: postmaster,
  supervisor: supervisorPid,
};

export const pidsOf = (part: Part): number[] => PIDS[part]();

/** Kills one process of a part; false where there is none at the moment. */
export function kill(part: Part, random: () => number): boolean {
  const pids = pidsOf(part);
  const pid = pids[Math.floor(random() * pids.length)];
  if (!pid) return false;
  try {
    process.kill(pid, "SIGKILL");
    return true;
  } catch {
    return false; // gone by itself
  }
}

/** The studio's database, as its own programs reach it. Close it. */
export async function connected(): Promise<pg.Client> {
  const { databasePort } = JSON.parse(readFileSync(join(DATA, "running.json"), "utf8")) as { databasePort: number };
  const password = readFileSync(join(DATA, "postgres-password"), "utf8");
  const client = new pg.Client({
    host: "127.0.0.1",
    port: databasePort,
    user: "resonum",
    database: "resonum",
    password,
  });
  await client.connect();
  return client;
}

export class Studio {
  #child: ChildProcess | undefined;

  /** @param fresh on an empty data folder */
  async start(fresh: boolean): Promise<void> {
    if (fresh) rmSync(DATA, { recursive: true, force: true });
    // It ends with the trial, however that ends.
    this.#child = spawn("setpriv", ["--pdeathsig", "TERM", process.execPath, "scripts/start.mjs", "studio"], {
      cwd: root,
      stdio: ["ignore", "ignore", process.env.RESONUM_BENCH_LOG ? "inherit" : "ignore"],
      env: { ...process.env, RESONUM_DATA: DATA, PORT: String(PORT), RESONUM_LOG: "error" },
    });
    await this.answering(120_000);
  }

  get isRunning(): boolean {
    return this.#child !== undefined && this.#child.exitCode === null && this.#child.signalCode === null;
  }

  /** Resolves with the milliseconds that it took until the server answered well. */
  async answering(within = 60_000): Promise<number> {
    const began = Date.now();
    for (;;) {
      const answer = await fetch(`${ADDRESS}/api/status`, { signal: AbortSignal.timeout(5000) }).catch(() => undefined);
      if (answer?.ok) return Date.now() - began;
      if (Date.now() - began > within) throw new Error(`The studio does not answer after ${within / 1000} s.`);
      await pause(50);
    }
  }

  async stop(): Promise<void> {
    if (!this.isRunning) return;
    const ended = new Promise((resolve) => this.#child!.on("exit", resolve));
    this.#child!.kill("SIGTERM");
    await ended;
  }
}
