import { emptyPlanar, framesOf, slicePlanar, type Frames, type Planar } from "./units";
import type { FrameSource } from "./frame-source";

/**
 * A source of which segments have been made into something else: those segments where `made` has them, the source as it
 * is elsewhere. Reading never waits for what is not made.
 * @param length of a segment; the first begins with the source
 */
export function cachedSegmentSource(
  source: FrameSource,
  length: Frames,
  made: (segment: number) => Promise<Planar | undefined>,
): FrameSource {
  const { sampleRate, channels, frames } = source;
  return {
    sampleRate,
    channels,
    frames,
    async read(start, count) {
      const end = Math.min(frames, start + count);
      const out = emptyPlanar(channels, Math.max(0, end - start));
      for (let at = start; at < end;) {
        const segment = Math.floor(at / length);
        const to = Math.min(end, (segment + 1) * length);
        const block = await made(segment);
        const part = block
          ? slicePlanar(block, at - segment * length, to - segment * length)
          : await source.read(at, to - at);
        if (framesOf(part) === 0) break;
        out.forEach((x, c) => x.set(part[c]!, at - start));
        at = to;
      }
      return out;
    },
  };
}
