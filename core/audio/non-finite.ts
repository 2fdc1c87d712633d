/** Samples that are NaN or infinite: nothing may be made from them. */
import type { FrameSource } from "./frame-source";
import { framesOf, type Frames, type Planar } from "./units";

/** The block itself where every sample is finite, else a copy with zeros in their place. */
export function withoutNonFinite(block: Planar, frames: Frames): { clean: Planar; replaced: number } {
  let replaced = 0;
  const clean = block.map((channel) => {
    let copy: Float32Array | undefined;
    for (let i = 0; i < frames; i++) {
      const v = channel[i]!;
      if (v - v !== 0) {
        copy ??= channel.slice();
        copy[i] = 0;
        replaced++;
      }
    }
    return copy ?? channel;
  });
  return { clean, replaced };
}

/** So many in a row are filled by a line between their neighbours; more are silent, as those at an end are. */
export const LONGEST_INTERPOLATED: Frames = 64;

const isNumber = (v: number | undefined): v is number => v !== undefined && v - v === 0;

/**
 * A source whose samples are all finite, the same wherever it is read from. What lies in the file stays to be measured
 * (`readEncoded`): that tells how many there are, and where.
 */
export function finiteSource(source: FrameSource): FrameSource {
  const { sampleRate, channels, frames, pcm } = source;
  if (pcm && pcm.kind !== "float") return source;
  return {
    sampleRate,
    channels,
    frames,
    ...(pcm ? { pcm } : {}),
    ...(source.readEncoded ? { readEncoded: (start, count) => source.readEncoded!(start, count) } : {}),
    async read(start, count, into) {
      const block = await source.read(start, count, into);
      const length = framesOf(block);
      if (block.every((channel) => !hasNonFinite(channel, length))) return block;
      const before = Math.min(start, LONGEST_INTERPOLATED);
      const around = await source.read(start - before, before + length + LONGEST_INTERPOLATED);
      const mended = around.map((channel) => interpolated(channel, before, length));
      if (!into) return mended;
      mended.forEach((channel, c) => block[c]!.set(channel));
      return block;
    },
  };
}

function hasNonFinite(channel: Float32Array, length: Frames): boolean {
  for (let i = 0; i < length; i++) if (!isNumber(channel[i])) return true;
  return false;
}

/** Samples `from`…`from + length` of `around`, with a line, or silence, where there were no numbers. */
function interpolated(around: Float32Array, from: Frames, length: Frames): Float32Array {
  const out = around.slice(from, from + length);
  for (let i = 0; i < out.length; i++) {
    if (isNumber(out[i])) continue;
    let left = from + i - 1;
    let right = from + i + 1;
    while (left >= 0 && !isNumber(around[left])) left--;
    while (right < around.length && !isNumber(around[right])) right++;
    const [a, b] = [around[left], around[right]];
    const isShort = right - left - 1 <= LONGEST_INTERPOLATED;
    out[i] = isNumber(a) && isNumber(b) && isShort ? a + ((b - a) * (from + i - left)) / (right - left) : 0;
  }
  return out;
}
