/** The program behind `resonum backup`, `restore`, `doctor`, `scrub` and `sweep`. */
import { setTimeout as sleep } from "node:timers/promises";
import { counted, formatBytes } from "@core/audio/format";
import type { HealthCheck } from "@core/project/operations-view";
import { migrate, pool } from "../db/database";
import { sweep } from "../storage/sweeper";
import { backUp } from "./backup";
import { BackupFolder } from "./backup-folder";
import { examine } from "./doctor";
import { restore } from "./restore";
import { scrub } from "./scrub";

const [command, ...args] = process.argv.slice(2);
const json = args.includes("--json");
const say = (words: string, data: unknown) => process.stdout.write(json ? `${JSON.stringify(data)}\n` : `${words}\n`);
const valueOf = (flag: string): string | undefined => {
  const at = args.indexOf(flag);
  return at < 0 ? undefined : args[at + 1];
};
const stop = new AbortController();
for (const signal of ["SIGINT", "SIGTERM"] as const) process.once(signal, () => stop.abort());

function onProgress(fraction: number): void {
  if (process.stderr.isTTY) process.stderr.write(`\r${Math.round(fraction * 100)} %  `);
}

async function runSweep(): Promise<void> {
  const dryRun = args.includes("--dry-run");
  const swept = await sweep({ dryRun });
  const { blobs, bytes, itemRenders } = swept;
  const renders = itemRenders > 0 ? ` ${itemRenders} item renders that nothing used lately are let go of.` : "";
  say(`${dryRun ? "Would remove" : "Removed"} ${blobs} blobs, ${formatBytes(bytes)}.${renders}`, swept);
}

async function runScrub(): Promise<void> {
  const from = valueOf("--from");
  const found = await scrub(onProgress, from === undefined ? undefined : new BackupFolder(from));
  const { checked, damaged, missing, unknown, repaired } = found;
  const lines = [
    `${checked} blobs were read.`,
    ...repaired.map((hash) => `repaired ${hash}`),
    ...damaged.map((hash) => `damaged  ${hash}`),
    ...missing.map((hash) => `missing  ${hash}`),
    ...unknown.map((hash) => `unknown  ${hash}`),
    damaged.length + missing.length === 0
      ? "All of them are as they were kept."
      : "Repair them from a backup with --from; or add the recordings or render the masters again.",
  ];
  say(lines.join("\n"), found);
  if (damaged.length + missing.length > 0) process.exitCode = 1;
}

const lostWords = (lost: readonly string[]): string =>
  lost.length === 0 ? "" : `\n${counted(lost.length, "blob")} damaged or missing, and not in it:\n${lost.join("\n")}`;

/** Until then, or until it is stopped. */
const pause = (ms: number): Promise<void> =>
  sleep(ms, undefined, { signal: stop.signal }).catch(() => undefined) as Promise<void>;

/** One that fails is told, and the next is tried: nobody may be there to start it again. */
async function runBackups(place: string): Promise<void> {
  const hours = valueOf("--every");
  if (hours === undefined) return runBackup(place);
  while (!stop.signal.aborted) {
    const next = Date.now() + Number(hours) * 3_600_000;
    await runBackup(place).catch((error: Error) => process.stderr.write(`resonum: ${error.message}\n`));
    await pause(next - Date.now());
  }
}

async function runBackup(place: string): Promise<void> {
  const keep = valueOf("--keep");
  const report = await backUp(place, {
    keep: keep === undefined ? undefined : Number(keep),
    signal: stop.signal,
    onProgress,
  });
  const { snapshot, blobs, bytes, copied, copiedBytes, lost } = report;
  say(
    `${snapshot}: ${counted(blobs, "blob")}, ${formatBytes(bytes)}; ${copied} of them new, ${formatBytes(copiedBytes)}.${lostWords(lost)}`,
    report,
  );
  if (lost.length > 0) process.exitCode = 1;
}

async function listBackups(place: string): Promise<void> {
  const backup = new BackupFolder(place);
  const all = await Promise.all(
    (await backup.snapshots()).map(async (snapshot) => {
      const { takenAt, blobs, lost } = await backup.manifestOf(snapshot);
      return {
        snapshot,
        takenAt,
        blobs: blobs.length,
        bytes: blobs.reduce((sum, [, bytes]) => sum + bytes, 0),
        lost: lost.length,
      };
    }),
  );
  const lines = all.map(({ snapshot, blobs, bytes }) => `${snapshot}  ${blobs} blobs, ${formatBytes(bytes)}`);
  say(lines.join("\n") || `There is no backup in ${place}.`, all);
}

async function runRestore(place: string): Promise<void> {
  const report = await restore(place, { snapshot: valueOf("--snapshot"), signal: stop.signal, onProgress });
  const { snapshot, projects, blobs, bytes, lost } = report;
  say(
    `${snapshot} is restored: ${projects} projects; ${blobs} blobs, ${formatBytes(bytes)}, all proven by their hashes.${lostWords(lost)}`,
    report,
  );
}

const SIGNS: Readonly<Record<HealthCheck["state"], string>> = { ok: "ok     ", warning: "warning", failed: "FAILED " };

async function runDoctor(): Promise<void> {
  const checks = await examine();
  say(checks.map(({ name, state, words }) => `${SIGNS[state]}  ${name}: ${words}`).join("\n"), checks);
  if (checks.some(({ state }) => state === "failed")) process.exitCode = 1;
}

async function run(): Promise<void> {
  if (command === "doctor") return runDoctor(); // looks, and changes nothing
  if (command === "backups") return listBackups(args[0]!);
  await migrate();
  if (command === "backup") return runBackups(args[0]!);
  if (command === "restore") return runRestore(args[0]!);
  return command === "scrub" ? runScrub() : runSweep();
}

try {
  await run();
} catch (error) {
  process.stderr.write(`resonum: ${(error as Error).message}\n`);
  process.exitCode = 2;
} finally {
  await pool().end();
}
