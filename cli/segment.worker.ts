/** One segment of a recording, in a thread of its own. */
import { FileProblem } from "@core/files/bytes";
import { openSoundFile } from "@core/files/open";
import { analyseSegment, type AnalysedSegment } from "@core/measure/segments";
import type { Layout } from "@core/audio/layout";
import { openFile } from "@server/storage/byte-files";

export interface SegmentTask {
  path: string;
  layout: Layout;
  segment: number;
}

export default async function analyse({ path, layout, segment }: SegmentTask): Promise<AnalysedSegment> {
  const file = await openFile(path);
  try {
    const source = await openSoundFile(file);
    if (!source) throw new FileProblem("The recording can no longer be read.");
    return await analyseSegment(source, { sampleRate: source.sampleRate, layout }, segment);
  } finally {
    await file.close();
  }
}
