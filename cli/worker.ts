/** `resonum worker`: a render worker of another machine, or one more of this one. */
import { spawn } from "node:child_process";
import { fileURLToPath } from "node:url";
import { CliProblem, ERROR } from "./outcome";

interface WorkerOptions {
  database: string;
  store?: string;
  data?: string;
}

export async function startWorker({ database, store, data }: WorkerOptions): Promise<void> {
  if (!/^postgres(ql)?:\/\//.test(database))
    throw new CliProblem(`--database is an address as postgresql://name@host:port/database; ${database} is not.`);
  const root = fileURLToPath(new URL("..", import.meta.url));
  const child = spawn(
    process.execPath,
    ["--enable-source-maps", fileURLToPath(new URL("./worker.mjs", import.meta.url))],
    {
      cwd: root,
      stdio: "inherit",
      env: {
        ...process.env,
        RESONUM_DATABASE_URL: database,
        ...(store === undefined ? {} : { RESONUM_STORE: store }),
        ...(data === undefined ? {} : { RESONUM_DATA: data }),
      },
    },
  );
  for (const signal of ["SIGINT", "SIGTERM"] as const) process.on(signal, () => child.kill(signal));
  const code = await new Promise<number | null>((done) => child.on("close", done));
  if (code !== 0) process.exitCode = ERROR;
}
