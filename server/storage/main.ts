/** The program behind `resonum sweep` and `resonum scrub`. */
import { formatBytes } from "@core/audio/format";
import { migrate, pool } from "../db/database";
import { scrub } from "./scrub";
import { sweep } from "./sweeper";

const [command, ...flags] = process.argv.slice(2);
const json = flags.includes("--json");
const dryRun = flags.includes("--dry-run");
const say = (words: string, data: unknown) => process.stdout.write(json ? `${JSON.stringify(data)}\n` : `${words}\n`);

async function runSweep(): Promise<void> {
  const swept = await sweep({ dryRun });
  const { blobs, bytes, itemRenders } = swept;
  const renders = itemRenders > 0 ? ` ${itemRenders} item renders that nothing used lately are let go of.` : "";
  say(`${dryRun ? "Would remove" : "Removed"} ${blobs} blobs, ${formatBytes(bytes)}.${renders}`, swept);
}

async function runScrub(): Promise<void> {
  const found = await scrub((fraction) => {
    if (process.stderr.isTTY) process.stderr.write(`\r${Math.round(fraction * 100)} %  `);
  });
  const { checked, damaged, missing, unknown } = found;
  const lines = [
    `${checked} blobs were read.`,
    ...damaged.map((hash) => `damaged  ${hash}`),
    ...missing.map((hash) => `missing  ${hash}`),
    ...unknown.map((hash) => `unknown  ${hash}`),
    damaged.length + missing.length === 0
      ? "All of them are as they were kept."
      : "Add the recordings or render the masters again, and what is damaged or missing is made whole.",
  ];
  say(lines.join("\n"), found);
  if (damaged.length + missing.length > 0) process.exitCode = 1;
}

try {
  await migrate();
  await (command === "scrub" ? runScrub() : runSweep());
} catch (error) {
  process.stderr.write(`resonum: ${(error as Error).message}\n`);
  process.exitCode = 2;
} finally {
  await pool().end();
}
