import type { FrameSource } from "../files/sound-file";
import { emptyPlanar, framesOf, type Frames, type Planar } from "../signal/units";
import { isAtWork, type RepairStep } from "./index";
import { segmentFrames, segmentKey, type SegmentStore } from "./repaired-source";
import { repairsKey } from "./repairs-key";

export interface HeardOptions {
  content: string;
  store: SegmentStore;
}

/**
 * A recording after its repairs as far as they are made, to be listened to without waiting: each segment through as
 * many of the steps, from the first on, as the store holds; as it came where it holds none.
 */
export function heardSource(
  source: FrameSource,
  steps: readonly RepairStep[],
  { content, store }: HeardOptions,
): FrameSource {
  const atWork = steps.filter(isAtWork);
  if (atWork.length === 0) return source;
  const { sampleRate, channels, frames } = source;
  const length = segmentFrames(sampleRate);
  const keys = atWork.map((_, i) => repairsKey(content, atWork.slice(0, atWork.length - i)));

  const known = async (segment: number): Promise<Planar | undefined> => {
    for (const key of keys) {
      const block = await store.get(segmentKey(key, segment));
      if (block) return block;
    }
    return undefined;
  };

  return {
    sampleRate,
    channels,
    frames,
    async read(start: Frames, count: Frames) {
      const end = Math.min(frames, start + count);
      const out = emptyPlanar(channels, Math.max(0, end - start));
      for (let at = start; at < end;) {
        const segment = Math.floor(at / length);
        const to = Math.min(end, (segment + 1) * length);
        const made = await known(segment);
        const part = made
          ? made.map((x) => x.subarray(at - segment * length, to - segment * length))
          : await source.read(at, to - at);
        if (framesOf(part) === 0) break;
        out.forEach((x, c) => x.set(part[c]!, at - start));
        at = to;
      }
      return out;
    },
  };
}
