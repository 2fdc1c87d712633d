/** The core's readers on damaged files for a given time, keeping what leads somewhere new: a corpus that grows. */
import { execFileSync } from "node:child_process";
import { mkdirSync, readFileSync } from "node:fs";
import { join } from "node:path";
import { identifyContainer } from "@core/files/container-signature";
import { FileProblem, memorySource } from "@core/files/bytes";
import { readId3v2 } from "@core/files/id3v2";
import { openSoundFile } from "@core/files/open";
import { readOverviewHeader } from "@core/files/overview-file";
import { Random } from "@core/math/random";
import { below, damaged } from "@core/testing/damage";

export interface FuzzReport {
  runs: number;
  seconds: number;
  /** Files that led to an outcome that no other had led to. */
  corpus: number;
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

/** What came of a file, roughly: outcomes that differ lie on different ways through the readers. */
async function outcomeOf(bytes: Uint8Array): Promise<string> {
  const told = async (work: () => Promise<unknown>): Promise<string> => {
    try {
      return String(await work());
    } catch (error) {
      if (error instanceof FileProblem) return error.message.replace(/\d+/g, "#");
      throw error;
    }
  };
  const container = await told(async () => (await identifyContainer(memorySource(bytes))).name);
  const sound = await told(async () => {
    const file = await openSoundFile(memorySource(bytes));
    if (!file) return "not ours";
    await file.read(0, Math.min(file.frames, 2048));
    const { container: kind, channels, encoding, layout, warnings, tags } = file;
    const said = warnings.map((warning) => warning.replace(/\d+/g, "#")).sort();
    return [kind, channels, encoding, layout?.name, Object.keys(tags ?? {}).length, ...said].join("|");
  });
  const tags = readId3v2(bytes);
  const overview = await told(async () => Object.keys(await readOverviewHeader(memorySource(bytes))).length);
  return [container, sound, tags.warnings.length, tags.tags.chapters.length, overview].join(" / ");
}

export async function fuzzTest(seconds: number): Promise<FuzzReport> {
  const random = new Random(1);
  const corpus = seeds();
  const seen = new Set<string>();
  const faults: string[] = [];
  const began = Date.now();
  let runs = 0;
  for (; Date.now() - began < seconds * 1000; runs++) {
    let bytes = corpus[below(random, corpus.length)]!;
    for (let changes = 1 + below(random, 3); changes > 0; changes--) bytes = damaged(bytes, random);
    const started = performance.now();
    try {
      const outcome = await outcomeOf(bytes);
      if (!seen.has(outcome) && corpus.length < MOST_CORPUS) {
        seen.add(outcome);
        corpus.push(bytes);
      }
    } catch (error) {
      const words = `${(error as Error).name}: ${(error as Error).message} ${(error as Error).stack?.split("\n")[1]?.trim()}`;
      if (!faults.includes(words)) faults.push(words);
    }
    if (performance.now() - started > 2000) faults.push(`A file of ${bytes.length} bytes took more than 2 s.`);
  }
  return { runs, seconds, corpus: corpus.length, faults };
}
