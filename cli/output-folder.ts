/** A folder that masters are written to: one batch at a time works in it. */
import { readFile, rm, stat, writeFile } from "node:fs/promises";
import { join } from "node:path";
import { processState, processMark } from "@server/storage/process-mark";
import { CliProblem } from "./outcome";
import { sweepMaking } from "./render-one";

const LOCK = ".resonum-batch.lock";

/** One batch at a time works in a folder. @throws CliProblem */
export async function withFolder<Result>(folder: string, work: () => Promise<Result>): Promise<Result> {
  if (!(await stat(folder).catch(() => undefined))?.isDirectory())
    throw new CliProblem(`There is no folder ${folder} for the masters.`);
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
