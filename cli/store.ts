/** Programs that look after a studio: its store, its backups, and all that it stands on. */
import { resolve } from "node:path";
import { CliProblem } from "./outcome";
import { runInStudio, type StudioOptions } from "./studio";

interface StoreOptions extends StudioOptions {
  dryRun?: boolean;
  json?: boolean;
  from?: string;
  snapshot?: string;
  keep?: string;
  every?: string;
}

/** @throws CliProblem where it is none */
function numberOf(flag: string, given: string, form: RegExp, what: string): string {
  if (!form.test(given) || Number(given) <= 0)
    throw new CliProblem(`${flag} asks for ${what} above 0; “${given}” is none.`);
  return given;
}

function flags({ dryRun, json, from, snapshot, keep, every }: StoreOptions): string[] {
  return [
    ...(dryRun ? ["--dry-run"] : []),
    ...(json ? ["--json"] : []),
    ...(from ? ["--from", resolve(from)] : []),
    ...(snapshot ? ["--snapshot", snapshot] : []),
    ...(keep ? ["--keep", numberOf("--keep", keep, /^\d+$/, "a whole number")] : []),
    ...(every ? ["--every", numberOf("--every", every, /^\d+(\.\d+)?$/, "a number of hours")] : []),
  ];
}

export const sweepStore = (options: StoreOptions): Promise<void> =>
  runInStudio("store", ["sweep", ...flags(options)], options);

export const scrubStore = (options: StoreOptions): Promise<void> =>
  runInStudio("store", ["scrub", ...flags(options)], options);

export const examineStudio = (options: StoreOptions): Promise<void> =>
  runInStudio("store", ["doctor", ...flags(options)], options);

const inFolder =
  (command: string) =>
  (folder: string, options: StoreOptions): Promise<void> =>
    runInStudio("store", [command, resolve(folder), ...flags(options)], options);

export const backUpStudio = inFolder("backup");
export const listBackups = inFolder("backups");
export const restoreStudio = inFolder("restore");
