import type { FrameSource } from "../audio/frame-source";
import { SincInterpolation } from "../dsp/sinc-interpolation";
import { emptyPlanar, type Frames, type Hertz, type Planar } from "../audio/units";

/**
 * A recording at another rate, from any place: each sample is interpolated from those around it, so that reading twice
 * gives the same. For listening to references; masters have a resampler of their own.
 */
export function resampledSource(source: FrameSource, sampleRate: Hertz): FrameSource {
  if (source.sampleRate === sampleRate) return source;
  const ratio = source.sampleRate / sampleRate;
  const interpolation = new SincInterpolation(ratio);
  const { reach } = interpolation;
  const frames = Math.floor(source.frames / ratio);
  return {
    sampleRate,
    channels: source.channels,
    frames,
    async read(start: Frames, count: Frames): Promise<Planar> {
      const wanted = Math.max(0, Math.min(count, frames - start));
      const from = Math.max(0, Math.floor(start * ratio) - reach + 1);
      const last = Math.floor((start + wanted) * ratio) + reach + 1;
      const block = await source.read(from, Math.max(0, Math.min(source.frames, last) - from));
      const out = emptyPlanar(source.channels, wanted);
      out.forEach((y, c) => {
        for (let i = 0; i < wanted; i++) y[i] = interpolation.valueAt(block[c]!, (start + i) * ratio - from);
      });
      return out;
    },
  };
}
