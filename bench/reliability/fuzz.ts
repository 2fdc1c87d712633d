/** The core's readers on damaged files for a given time, guided by coverage: a file that ran a new block is kept and damaged on. */
import { execFileSync } from "node:child_process";
import { mkdirSync, readFileSync } from "node:fs";
import { join } from "node:path";
import { identifyContainer } from "@core/files/container-signature";
import { FileProblem, memorySource } from "@core/files/bytes";
import { readId3v2 } from "@core/files/id3v2";
import { openSoundFile } from "@core/files/open";
import { readWaveformPeaksHeader } from "@core/measure/waveform-peaks-file";
import { Random } from "@core/math/random";
import { below, mutated } from "@core/testing/damage";
import { Coverage } from "./coverage";

export interface FuzzReport {
  runs: number;
  seconds: number;
  /** Files that ran a block that none before had run, or ran one far more often. */
  corpus: number;
  /** Blocks of the program that were run, by orders of how often. */
  blocks: number;
  faults: string[];
}

const MOST_CORPUS = 2000;

function seeds(): Uint8Array[] {
  const folder = join(process.cwd(), ".build", "bench", "fuzz");
  mkdirSync(folder, { recursive: true });
  const make = (name: string, layout: string, args: string[]) => {
    const path = join(folder, name);
    const sound = ["-f", "lavfi", "-i", `sine=d=0.02,aformat=channel_layouts=${layout}`, "-metadata", "title=Low Door"];
    execFileSync("ffmpeg", ["-v", "error", "-y", ...sound, ...args, path]);
    return new Uint8Array(readFileSync(path));
  };
  return [
    make("a.wav", "stereo", ["-c:a", "pcm_s24le"]),
    make("b.wav", "5.1", ["-c:a", "pcm_s16le", "-rf64", "always"]),
    make("c.wav", "mono", ["-c:a", "pcm_f32le"]),
    make("a.aiff", "stereo", ["-write_id3v2", "1"]),
    make("b.aiff", "5.1", []),
    make("a.mp3", "mono", []),
    make("a.flac", "mono", []),
  ];
}

/** Every reader of the core on one file. What a reader refuses in words is no fault. */
async function readAll(bytes: Uint8Array): Promise<void> {
  const attempt = async (work: () => Promise<unknown>): Promise<void> => {
    try {
      await work();
    } catch (error) {
      if (!(error instanceof FileProblem)) throw error;
    }
  };
  await attempt(() => identifyContainer(memorySource(bytes)));
  await attempt(async () => {
    const file = await openSoundFile(memorySource(bytes));
    await file?.read(0, Math.min(file.frames, 2048));
  });
  readId3v2(bytes);
  await attempt(() => readWaveformPeaksHeader(memorySource(bytes)));
}

export async function fuzzTest(seconds: number): Promise<FuzzReport> {
  const random = new Random(1);
  const corpus = seeds();
  const coverage = new Coverage();
  await coverage.start();
  const faults: string[] = [];
  const began = Date.now();
  let runs = 0;
  for (; Date.now() - began < seconds * 1000; runs++) {
    let bytes = corpus[below(random, corpus.length)]!;
    for (let changes = 1 + below(random, 3); changes > 0; changes--) bytes = mutated(bytes, random);
    const started = performance.now();
    try {
      await readAll(bytes);
      if ((await coverage.isNew()) && corpus.length < MOST_CORPUS) corpus.push(bytes);
    } catch (error) {
      const { name, stack = "" } = error as Error;
      const where = stack.split("\n").find((line) => line.trim().startsWith("at "));
      const fault = `${name} ${where?.trim()}`; // without its message, which holds the file's bytes
      if (!faults.includes(fault)) faults.push(fault);
    }
    if (performance.now() - started > 2000) faults.push(`A file of ${bytes.length} bytes took more than 2 s.`);
  }
  return { runs, seconds, corpus: corpus.length, blocks: coverage.blocks, faults };
}
