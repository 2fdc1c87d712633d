/** The reference implementation, in plain TypeScript: the same bits as the kernel. */
import { exp2 } from "../../math/deterministic-math";
import type { Random } from "../../math/random";

/** One channel: its generator goes on from block to block. */
export interface ChannelQuantiser {
  next(x: Float32Array): Int32Array;
}

export function referenceChannelQuantiser(bits: number, generator: Random | null): ChannelQuantiser {
  const scale = exp2(bits - 1);
  const highest = scale - 1;
  return {
    next(x) {
      const out = new Int32Array(x.length);
      for (let i = 0; i < x.length; i++) {
        let value = x[i]! * scale;
        if (generator) {
          value += generator.next();
          value -= generator.next();
        }
        const rounded = Math.floor(value + 0.5);
        out[i] = rounded > highest ? highest : rounded < -scale ? -scale : rounded;
      }
      return out;
    },
  };
}

/** The reference implementation. */
export function referenceEncoded(block: readonly Int32Array[], frames: number, bytes: 2 | 3 | 4): Uint8Array {
  const channels = block.length;
  const out = new Uint8Array(frames * channels * bytes);
  for (let c = 0; c < channels; c++) {
    const x = block[c]!;
    for (let i = 0, at = c * bytes; i < frames; i++, at += channels * bytes) {
      const v = x[i]!;
      for (let b = 0; b < bytes; b++) out[at + b] = v >> (8 * b);
    }
  }
  return out;
}
