import { resolve } from "node:path";
import { fileURLToPath } from "node:url";
import { openSoundFile } from "@core/files/open";
import type { Measured } from "@core/measure";
import { SegmentMerger, segmentsOf } from "@core/measure/segments";
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

/** `undefined` where there is only one segment, or the core cannot reach into the file. */
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
    if (count < 2) return undefined;
    const layout = chooseLayout(asked, source.layout, source.channels);
    const { default: Tinypool } = await import("tinypool");
    const pool = new Tinypool({
      filename: fileURLToPath(new URL("./segment-worker.mjs", import.meta.url)),
      maxThreads: threads,
      minThreads: Math.min(threads, count),
      runtime: "worker_threads",
    });
    const merger = new SegmentMerger({ sampleRate: source.sampleRate, layout });
    try {
      // A few are under way at a time, so that memory stays flat.
      let next = 0;
      const lane = async () => {
        while (next < count) {
          const segment = next++;
          const task: SegmentTask = { path, layout, segment };
          merger.take(segment, await pool.run(task));
        }
      };
      await Promise.all(Array.from({ length: threads }, lane));
    } finally {
      await pool.destroy();
    }
    return { ...merger.result(), warnings: source.warnings };
  } finally {
    await file.close();
  }
}
