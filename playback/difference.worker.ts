/** Writes the difference of two recordings as a file, aligned and at one level: what is left when one is taken away. */
import { editListSource } from "@core/edit-list/edit-list-source";
import type { Clip } from "@core/edit-list/clip";
import { openSoundFile } from "@core/files/open";
import type { RepairStep } from "@core/repair";
import { repairedSource } from "@core/repair/repaired-source";
import type { FrameSource } from "@core/audio/frame-source";
import { layoutForChannels, type Layout } from "@core/audio/layout";
import type { Planar } from "@core/audio/units";
import { compared } from "./comparison";
import { httpSource } from "./http-source";
import { contentHashOf, RepairCache } from "./repair-cache";
import { wavFile } from "./wav-file";

export interface DifferenceRequest {
  url: string;
  /** What is taken away from it. */
  subtract: string;
  layout: Layout;
  /** How the first is repaired and arranged. */
  repairs: RepairStep[];
  clips: Clip[] | null;
  madeOfIt: boolean;
}

export type DifferenceAnswer =
  | { type: "progress"; fraction: number }
  | { type: "done"; file: Blob }
  | { type: "failed"; message: string };

const BLOCK_FRAMES = 65_536;

const scope = self as unknown as DedicatedWorkerGlobalScope;
const answer = (message: DifferenceAnswer) => scope.postMessage(message);

async function opened(url: string): Promise<FrameSource> {
  const file = await openSoundFile(await httpSource(url));
  if (!file) throw new Error("One of the two recordings cannot be read.");
  return file;
}

async function* blocksOf(source: FrameSource): AsyncGenerator<Planar> {
  for (let at = 0; at < source.frames; at += BLOCK_FRAMES) {
    yield await source.read(at, Math.min(BLOCK_FRAMES, source.frames - at));
    answer({ type: "progress", fraction: Math.min(1, (at + BLOCK_FRAMES) / source.frames) });
  }
}

async function write({ url, subtract, layout, repairs, clips, madeOfIt }: DifferenceRequest): Promise<void> {
  const [first, second] = await Promise.all([opened(url), opened(subtract)]);
  const repaired = repairedSource(first, repairs, { content: contentHashOf(url), store: new RepairCache() });
  const { difference } = await compared(editListSource(repaired, clips), second, madeOfIt);
  const { sampleRate, channels } = difference;
  const given = layout.speakers.length === channels ? layout : layoutForChannels(channels);
  answer({ type: "done", file: await wavFile("difference", { sampleRate, layout: given }, blocksOf(difference)) });
}

scope.onmessage = ({ data }: MessageEvent<DifferenceRequest>) => {
  write(data).catch((error: unknown) =>
    answer({ type: "failed", message: error instanceof Error ? error.message : String(error) }),
  );
};
