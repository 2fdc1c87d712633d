/** Makes segments of what is too heavy to be heard live, one at a time, for the listening worker to use. */
import { editListSource } from "@core/edit-list/edit-list-source";
import type { Clip } from "@core/edit-list/clip";
import { openSoundFile } from "@core/files/open";
import type { ChainEntry } from "@core/processors";
import type { RepairStep } from "@core/repair";
import { repairedSource } from "@core/repair/repaired-source";
import { Freezer } from "@core/render/frozen-source";
import type { Layout } from "@core/audio/layout";
import { httpSource } from "./http-source";
import { contentHashOf, RepairCache } from "./repair-cache";

/** What is frozen. */
export interface FreezePlan {
  url: string;
  layout: Layout;
  repairs: RepairStep[];
  clips: Clip[] | null;
  chain: ChainEntry[];
}

export type FreezeRequest = { order: FreezePlan } | { segment: number };

/** `problem` says why a segment could not be made. */
export interface FreezeAnswer {
  segment: number;
  problem: string | null;
}

const scope = self as unknown as DedicatedWorkerGlobalScope;
const store = new RepairCache();
let freezer: Promise<Freezer> | undefined;

async function freezerFor({ url, layout, repairs, clips, chain }: FreezePlan): Promise<Freezer> {
  const file = await openSoundFile(await httpSource(url));
  if (!file) throw new Error("The recording cannot be read.");
  const content = contentHashOf(url);
  const arranged = editListSource(repairedSource(file, repairs, { content, store }), clips);
  const format = { sampleRate: file.sampleRate, layout };
  return new Freezer(arranged, format, { content, repairs, clips, chain }, store);
}

scope.onmessage = ({ data }: MessageEvent<FreezeRequest>) => {
  if ("order" in data) {
    freezer = freezerFor(data.order);
    freezer.catch(() => undefined); // told with the first segment
    return;
  }
  const answer = (problem: string | null) =>
    scope.postMessage({ segment: data.segment, problem } satisfies FreezeAnswer);
  (async () => {
    await (await freezer!).make(data.segment);
    await store.settled();
  })().then(
    () => answer(null),
    (error: unknown) => answer(error instanceof Error ? error.message : String(error)),
  );
};
