/** Clean speech and music to spoil: from a folder, or what Debian's packages have brought to this machine. */
import { execFileSync, spawnSync } from "node:child_process";
import { existsSync, mkdtempSync, readdirSync, readFileSync, rmSync, statSync, writeFileSync } from "node:fs";
import { tmpdir } from "node:os";
import { basename, dirname, join } from "node:path";
import { MemorySink, memorySource } from "@core/files/bytes";
import { openSoundFile } from "@core/files/open";
import { WavWriter } from "@core/files/wav-writer";
import { layoutForChannels } from "@core/audio/layout";
import { musicLike, speechLike } from "@core/testing/degraded";
export { median } from "./results.mjs";

export const RATE = 48_000;
const SECONDS = 10;
const EACH = 5;

export interface Clip {
  name: string;
  kind: "speech" | "music";
  clean: Float32Array;
}

export const scratch = mkdtempSync(join(tmpdir(), "resonum-bench-"));
process.on("exit", () => rmSync(scratch, { recursive: true, force: true }));

export const mean = (list: readonly number[]): number => list.reduce((sum, v) => sum + v, 0) / list.length;

/** Mono float samples of anything that ffmpeg reads, from `start` seconds on; half of full scale. */
function decoded(path: string, start: number): Float32Array {
  const bytes = execFileSync(
    "ffmpeg",
    [
      "-v",
      "error",
      "-ss",
      String(start),
      "-t",
      String(SECONDS),
      "-i",
      path,
      "-ac",
      "1",
      "-ar",
      String(RATE),
      "-f",
      "f32le",
      "-",
    ],
    { maxBuffer: 1 << 28 },
  );
  const x = new Float32Array(bytes.buffer.slice(bytes.byteOffset, bytes.byteOffset + (bytes.length & ~3)));
  const top = x.reduce((most, v) => Math.max(most, Math.abs(v)), 0);
  return x.map((v) => (0.4 * v) / (top || 1));
}

function* filesUnder(folder: string, ending: RegExp): Generator<string> {
  if (!existsSync(folder)) return;
  for (const entry of readdirSync(folder, { withFileTypes: true })) {
    const path = join(folder, entry.name);
    if (entry.isDirectory()) yield* filesUnder(path, ending);
    else if (ending.test(entry.name)) yield path;
  }
}

/** Of one folder, so that not all are of one voice. */
const OF_A_FOLDER = 3;

/** Of what is there, every other recording is tuned on; the others are what is reported. */
export type Half = "reported" | "tuned";

/** The largest files, but not too many of one folder. */
function chosen(paths: Iterable<string>, half: Half): string[] {
  const taken = new Map<string, number>();
  return [...paths]
    .sort((a, b) => statSync(b).size - statSync(a).size)
    .filter((path) => {
      const count = (taken.get(dirname(path)) ?? 0) + 1;
      taken.set(dirname(path), count);
      return count <= 2 * OF_A_FOLDER;
    })
    .filter((_, n) => n % 2 === (half === "reported" ? 0 : 1))
    .slice(0, EACH);
}

/** Speech as G.722 and music as Vorbis, as Debian's packages of prompts and of games ship them; made up where there is none. */
export function clips(half: Half = process.argv.includes("--tuned") ? "tuned" : "reported"): Clip[] {
  const speech = chosen(filesUnder("/usr/share", /\.g722$/), half);
  const music = chosen(filesUnder("/usr/share/games", /\.ogg$/), half);
  const all: Clip[] = [
    ...speech.map((path) => ({ name: basename(path), kind: "speech" as const, clean: decoded(path, 1) })),
    ...music.map((path) => ({ name: basename(path), kind: "music" as const, clean: decoded(path, 30) })),
  ].filter(({ clean }) => clean.length > 4 * RATE);
  if (!all.some(({ kind }) => kind === "speech"))
    all.push({ name: "made-up speech", kind: "speech", clean: speechLike(SECONDS, RATE, half === "tuned" ? 2 : 1) });
  if (!all.some(({ kind }) => kind === "music"))
    all.push({ name: "made-up music", kind: "music", clean: musicLike(SECONDS, RATE, half === "tuned" ? 2 : 1) });
  return all;
}

/** What another program makes of a recording, `lead` samples and the clean one's, in its time. Nothing where it is missing. */
export async function through(
  x: Float32Array,
  command: (input: string, output: string) => string[],
  clean: Float32Array,
  lead = 0,
): Promise<Float32Array | null> {
  const [input, output] = [join(scratch, "in.wav"), join(scratch, "out.wav")];
  const sink = new MemorySink();
  const writer = await WavWriter.open(sink, { sampleRate: RATE, layout: layoutForChannels(1), format: "32f" });
  await writer.writeFloat([x], x.length);
  await writer.finish();
  writeFileSync(input, sink.bytes());
  const [program, ...args] = command(input, output);
  if (spawnSync(program!, args, { stdio: "ignore" }).status !== 0) return null;
  const file = await openSoundFile(memorySource(new Uint8Array(readFileSync(output))));
  const made = (await file!.read(0, file!.frames))[0]!;
  return aligned(made, clean, lead);
}

/** `made` from where it fits `clean` best, so that a filter's delay is not held against it. */
function aligned(made: Float32Array, clean: Float32Array, lead: number): Float32Array {
  const from = Math.floor(clean.length / 3);
  let [best, most] = [0, -Infinity];
  for (let delay = 0; delay < 8192; delay++) {
    let sum = 0;
    for (let i = from; i < from + 8000; i++) sum += clean[i]! * (made[i + lead + delay] ?? 0);
    if (sum > most * 1.0001) [best, most] = [delay, sum];
  }
  const out = new Float32Array(lead + clean.length);
  out.set(made.subarray(best, best + out.length));
  return out;
}
