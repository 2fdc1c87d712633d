import type { FrameSource } from "../files/sound-file";
import { kaiser, kaiserBeta, sinc } from "../math/kaiser";
import { emptyPlanar, framesOf, type Frames, type Hertz, type Planar } from "../signal/units";

const HALF_TAPS = 24;
const ATTENUATION_DB = 90;
/** Phases of the interpolator that are kept; between them it is linear. */
const PHASES = 512;

/**
 * A recording at another rate, from any place: each sample is interpolated from those around it, so that reading twice
 * gives the same. For listening to references; masters have a resampler of their own.
 */
export function resampledSource(source: FrameSource, sampleRate: Hertz): FrameSource {
  if (source.sampleRate === sampleRate) return source;
  const ratio = source.sampleRate / sampleRate;
  // Towards a lower rate the filter is wider, and cuts above half of that rate.
  const stretch = Math.max(1, ratio);
  const reach = Math.ceil(HALF_TAPS * stretch);
  const beta = kaiserBeta(ATTENUATION_DB);
  const table = Array.from({ length: PHASES + 1 }, (_, phase) =>
    Float64Array.from({ length: 2 * reach }, (_, tap) => {
      const distance = (tap - reach + 1 - phase / PHASES) / stretch;
      return (sinc(distance) * kaiser(distance / HALF_TAPS, beta)) / stretch;
    }),
  );
  const frames = Math.floor(source.frames / ratio);
  return {
    sampleRate,
    channels: source.channels,
    frames,
    async read(start: Frames, count: Frames): Promise<Planar> {
      const wanted = Math.max(0, Math.min(count, frames - start));
      const first = Math.floor(start * ratio) - reach + 1;
      const last = Math.floor((start + wanted) * ratio) + reach + 1;
      const from = Math.max(0, first);
      const block = await source.read(from, Math.max(0, Math.min(source.frames, last) - from));
      const held = framesOf(block);
      const out = emptyPlanar(source.channels, wanted);
      for (let i = 0; i < wanted; i++) {
        const at = (start + i) * ratio;
        const whole = Math.floor(at);
        const phase = (at - whole) * PHASES;
        const low = table[Math.floor(phase)]!;
        const high = table[Math.floor(phase) + 1]!;
        const part = phase - Math.floor(phase);
        const offset = whole - reach + 1 - from;
        for (let c = 0; c < out.length; c++) {
          const x = block[c]!;
          let sum = 0;
          for (let tap = Math.max(0, -offset); tap < 2 * reach && offset + tap < held; tap++)
            sum += x[offset + tap]! * (low[tap]! + part * (high[tap]! - low[tap]!));
          out[c]![i] = sum;
        }
      }
      return out;
    },
  };
}
