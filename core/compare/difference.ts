import type { FrameSource } from "../audio/frame-source";
import { dbToGain } from "../audio/decibel";
import { emptyPlanar, framesOf, type Frames, type Planar } from "../audio/units";
import type { Alignment } from "./alignment";

/**
 * First less second, aligned: a source of its own, to be measured and heard. Where the second has no sound the first is
 * left as it is. Channels that only one of them has are left out.
 */
export function difference(first: FrameSource, second: FrameSource, alignment: Alignment): FrameSource {
  const channels = Math.min(first.channels, second.channels);
  const gain = dbToGain(alignment.gainDb) * (alignment.inverted ? -1 : 1);

  const readSecond = async (start: Frames, count: Frames): Promise<Planar> => {
    const out = emptyPlanar(channels, count);
    const from = Math.max(0, start);
    const frames = Math.min(second.frames, start + count) - from;
    if (frames <= 0) return out;
    const block = await second.read(from, frames);
    for (let c = 0; c < channels; c++) out[c]!.set(block[c]!.subarray(0, framesOf(block)), from - start);
    return out;
  };

  return {
    sampleRate: first.sampleRate,
    channels,
    frames: first.frames,
    async read(start, count) {
      const a = await first.read(start, count);
      const b = await readSecond(start + alignment.shift, framesOf(a));
      return b.map((y, c) => {
        const x = a[c]!;
        for (let i = 0; i < y.length; i++) y[i] = x[i]! - gain * y[i]!;
        return y;
      });
    },
  };
}
