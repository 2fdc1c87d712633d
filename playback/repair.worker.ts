/** Makes segments of a repaired recording, one at a time, for all threads to use. */
import { openSoundFile } from "@core/files/open";
import type { SoundFile } from "@core/files/sound-file";
import type { FrameSource } from "@core/audio/frame-source";
import { binsOf } from "@core/measure/waveform-peak-cache";
import type { RepairStep } from "@core/repair";
import { repairedSource, segmentFrames } from "@core/repair/repaired-source";
import { httpSource } from "./http-source";
import { contentHashOf, RepairCache } from "./repair-cache";

export interface RepairRequest {
  url: string;
  steps: RepairStep[];
  segment: number;
}

/** `problem` says why a segment could not be made. */
export interface RepairAnswer {
  segment: number;
  problem: string | null;
  /** What its waveform is drawn of. */
  bins: Float32Array[];
}

const scope = self as unknown as DedicatedWorkerGlobalScope;
const store = new RepairCache();
const files = new Map<string, Promise<SoundFile | undefined>>();
let latest: { key: string; source: FrameSource } | undefined;

async function repaired({ url, steps }: RepairRequest): Promise<FrameSource> {
  const key = JSON.stringify([url, steps]);
  if (latest?.key === key) return latest.source;
  const opening = files.get(url) ?? httpSource(url).then(openSoundFile);
  files.set(url, opening);
  opening.catch(() => files.delete(url));
  const file = await opening;
  if (!file) throw new Error("The recording cannot be read.");
  latest = { key, source: repairedSource(file, steps, { content: contentHashOf(url), store }) };
  return latest.source;
}

scope.onmessage = ({ data }: MessageEvent<RepairRequest>) => {
  const answer = (problem: string | null, bins: Float32Array[]) =>
    scope.postMessage({ segment: data.segment, problem, bins } satisfies RepairAnswer);
  (async () => {
    const source = await repaired(data);
    const length = segmentFrames(source.sampleRate);
    const block = await source.read(data.segment * length, length);
    await store.settled();
    return binsOf(block);
  })().then(
    (bins) => answer(null, bins),
    (error: unknown) => answer(error instanceof Error ? error.message : String(error), []),
  );
};
