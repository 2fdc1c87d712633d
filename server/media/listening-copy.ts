/** A copy of a master that plays anywhere and needs little of a line, and the outline that a page draws of it. */
import type { JobContext } from "../queue/job-runner";
import { demuxedBy, inputOf, run, wallSecondsFor } from "./ffmpeg";
import { writeByFfmpeg } from "./ffmpeg";
import { outputFile } from "./sandbox";

const KBPS = 160;
/** What is drawn is as wide as a screen. */
const PARTS = 800;
const OUTLINE_RATE = 8000;
/** As ffmpeg calls 16-bit integers, and what the largest of them is. */
const SAMPLES = { format: "s16le", bytes: 2, full: 32_768 };

interface Master {
  path: string;
  bytes: number;
  seconds: number;
}

/** Writes the copy: Opus in Ogg, stereo. @throws FileProblem */
export async function writeListeningCopy(
  { path, bytes, seconds }: Master,
  out: string,
  signal: JobContext["signal"],
): Promise<void> {
  const codec = [
    "-map",
    "0:a:0",
    "-ac",
    "2",
    "-c:a",
    "libopus",
    "-b:a",
    `${KBPS}k`,
    "-map_metadata",
    "-1",
    "-f",
    "ogg",
  ];
  await writeByFfmpeg([...(await inputOf(path)), ...codec, outputFile(out)], {
    wallSeconds: wallSecondsFor(bytes, seconds),
    signal,
  });
}

/** Highest levels of equal parts of a copy, 0…1. @throws FileProblem */
export async function outlineOf(
  copy: string,
  { bytes, seconds }: Master,
  signal: JobContext["signal"],
): Promise<number[]> {
  const { child, ended } = await run(
    "ffmpeg",
    [...demuxedBy("ogg", copy), "-ac", "1", "-ar", String(OUTLINE_RATE), "-f", SAMPLES.format, "pipe:1"],
    { wallSeconds: wallSecondsFor(bytes, seconds), signal },
  );
  const highest = new Array<number>(PARTS).fill(0);
  const perPart = Math.max(1, (seconds * OUTLINE_RATE) / PARTS);
  let at = 0;
  let half: Buffer = Buffer.alloc(0);
  for await (const chunk of child.stdout as AsyncIterable<Buffer>) {
    const all = half.length > 0 ? Buffer.concat([half, chunk]) : chunk;
    const whole = all.length - (all.length % SAMPLES.bytes);
    for (let i = 0; i < whole; i += SAMPLES.bytes, at++) {
      const part = Math.min(PARTS - 1, Math.floor(at / perPart));
      const level = Math.abs(all.readInt16LE(i)) / SAMPLES.full;
      if (level > highest[part]!) highest[part] = level;
    }
    half = all.subarray(whole);
  }
  await ended;
  return highest.map((level) => Math.round(level * 1000) / 1000);
}
