/** A folder that masters are written to: one batch at a time works in it. */
import { mkdir, readFile, rm, writeFile } from "node:fs/promises";
import { join } from "node:path";
import { processState, processMark } from "@server/storage/process-mark";
import { CliProblem } from "./outcome";
import { sweepMaking } from "./render-one";

const LOCK = ".resonum-batch.lock";

/** Makes a folder where there is none. @throws CliProblem with the reason where it cannot be made */
export async function makeFolder(folder: string): Promise<void> {
  try {
    await mkdir(folder, { recursive: true });
  } catch (error) {
    const { code, message } = error as NodeJS.ErrnoException;
    const why = code === "EEXIST" || code === "ENOTDIR" ? "a file of that name is in the way" : message;
    throw new CliProblem(`The folder ${folder} cannot be made: ${why}.`);
  }
}

/** One batch at a time works in a folder, which is made where it is missing. @throws CliProblem */
export async function withFolder<Result>(folder: string, work: () => Promise<Result>): Promise<Result> {
  await makeFolder(folder);
  const lock = join(folder, LOCK);
  const holder = await readFile(lock, "utf8").catch(() => "");
  if (holder !== "" && holder !== processMark() && processState(holder) === "running")
    throw new CliProblem(`Another batch is at work in ${folder} (process ${holder.split("-")[1]}).`);
  await writeFile(lock, processMark());
  try {
    await sweepMaking(folder);
    return await work();
  } finally {
    await rm(lock, { force: true });
  }
}
