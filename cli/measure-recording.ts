import { resolve } from "node:path";
import { fileURLToPath } from "node:url";
import { openSoundFile } from "@core/files/open";
import type { Measured } from "@core/measure";
import { analyseSegment, SegmentMerger, segmentsOf, type AnalysedSegment } from "@core/measure/segments";
import { openFile } from "@server/storage/byte-files";
import { measureRecording } from "@server/ingest/ingest";
import { chooseLayout, withRecording } from "./input";
import type { SegmentTask } from "./segment.worker";

/** What was measured, and what was wrong with the file. */
export interface FileMeasured extends Measured {
  warnings: string[];
}

/** Measures a recording; with several threads by segments, to the same bits. @throws CliProblem, FileProblem */
export async function measureFile(file: string, layout: string | undefined, threads = 1): Promise<FileMeasured> {
  const apart = threads > 1 ? await measureApart(file, layout, threads) : undefined;
  return apart ?? measureInOne(file, layout);
}

const measureInOne = (file: string, layout: string | undefined): Promise<FileMeasured> =>
  withRecording(file, async (recording) => {
    const chosen = chooseLayout(layout, recording.layout, recording.channels);
    const measured = await measureRecording(recording, chosen, new AbortController().signal);
    return { ...measured, warnings: recording.warnings };
  });

/** Fewer are done before another thread has started. */
const SEGMENTS_A_THREAD = 3;

/** `undefined` where one thread is as quick, or the core cannot reach into the file. */
async function measureApart(
  given: string,
  asked: string | undefined,
  threads: number,
): Promise<FileMeasured | undefined> {
  const path = resolve(given);
  const file = await openFile(path).catch(() => undefined); // the other way says what is wrong
  if (!file) return undefined;
  try {
    const source = await openSoundFile(file);
    if (!source || source.frames === 0) return undefined;
    const count = segmentsOf(source.frames, source.sampleRate);
    const layout = chooseLayout(asked, source.layout, source.channels);
    const format = { sampleRate: source.sampleRate, layout };
    // This thread is one of them: it is warm already, and what it merges is little.
    const others = Math.min(threads, Math.ceil(count / SEGMENTS_A_THREAD)) - 1;
    if (others < 1) return undefined;
    const { default: Tinypool } = await import("tinypool");
    const pool = new Tinypool({
      filename: fileURLToPath(new URL("./segment-worker.mjs", import.meta.url)),
      maxThreads: others,
      minThreads: others,
      runtime: "worker_threads",
    });
    const merger = new SegmentMerger(format);
    try {
      let next = 0;
      const lane = async (analyse: (segment: number) => Promise<AnalysedSegment>) => {
        while (next < count) {
          const segment = next++;
          merger.take(segment, await analyse(segment));
        }
      };
      const elsewhere = (segment: number) => pool.run({ path, layout, segment } satisfies SegmentTask);
      // A few are under way at a time, so that memory stays flat; one waits for each other thread, so that none does.
      const lanes = Array.from({ length: 2 * others }, () => lane(elsewhere));
      await Promise.all([lane((segment) => analyseSegment(source, format, segment)), ...lanes]);
    } finally {
      await pool.destroy();
    }
    return { ...merger.result(), warnings: source.warnings };
  } finally {
    await file.close();
  }
}
