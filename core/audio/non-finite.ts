import type { Frames, Planar } from "./units";

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
