/** A copy of a master that plays anywhere and needs little of a line, and the outline that a page draws of it. */
import { stereoDownmix } from "@core/audio/downmix";
import type { Layout } from "@core/audio/layout";
import { demuxedBy, inputOf, run, wallSecondsFor, writeByFfmpeg } from "./ffmpeg";
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
  /** Its channels; `null` where they are not known. */
  layout: Layout | null;
}

/** What is done to have two sides: our own downmix, by which the desk is heard on two speakers; ffmpeg's has gains of its own. */
function foldedBy(layout: Layout | null): string[] {
  if (layout === null || layout.speakers.length === 2) return ["-ac", "2"];
  const gains = stereoDownmix(layout);
  const sideOf = (side: 0 | 1) =>
    gains.flatMap((pair, channel) => (pair[side] === 0 ? [] : [`${pair[side].toFixed(6)}*c${channel}`])).join("+");
  return ["-af", `pan=stereo|c0=${sideOf(0)}|c1=${sideOf(1)}`];
}

/** Writes the copy: Opus in Ogg, stereo. @throws FileProblem */
export async function writeListeningCopy(
  { path, bytes, seconds, layout }: Master,
  out: string,
  signal?: AbortSignal,
): Promise<void> {
  const coded = ["-c:a", "libopus", "-b:a", `${KBPS}k`, "-map_metadata", "-1", "-f", "ogg"];
  const args = [...(await inputOf(path)), "-map", "0:a:0", ...foldedBy(layout), ...coded, outputFile(out)];
  await writeByFfmpeg(args, { wallSeconds: wallSecondsFor(bytes, seconds), signal });
}

/** Highest levels of equal parts of a copy, 0…1. @throws FileProblem */
export async function outlineOf(
  copy: string,
  { bytes, seconds }: Pick<Master, "bytes" | "seconds">,
  signal?: AbortSignal,
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
