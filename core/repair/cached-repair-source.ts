import { cachedSegmentSource } from "../audio/cached-segment-source";
import type { FrameSource } from "../audio/frame-source";
import type { Planar } from "../audio/units";
import { isActive, type RepairStep } from ".";
import { segmentFrames, segmentKey, type SegmentStore } from "./repaired-source";
import { repairsKey } from "./repairs-key";

export interface CachedRepairOptions {
  content: string;
  store: SegmentStore;
}

/**
 * A recording after its repairs as far as they are made, to be listened to without waiting: each segment through as
 * many of the steps, from the first on, as the store holds; as it came where it holds none.
 */
export function cachedRepairSource(
  source: FrameSource,
  steps: readonly RepairStep[],
  { content, store }: CachedRepairOptions,
): FrameSource {
  const atWork = steps.filter(isActive);
  if (atWork.length === 0) return source;
  const length = segmentFrames(source.sampleRate);
  const keys = atWork.map((_, i) => repairsKey(content, atWork.slice(0, atWork.length - i)));

  const known = async (segment: number): Promise<Planar | undefined> => {
    for (const key of keys) {
      const block = await store.get(segmentKey(key, segment));
      if (block) return block;
    }
    return undefined;
  };

  return cachedSegmentSource(source, length, known);
}
