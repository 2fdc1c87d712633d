import { Fft } from "../math/fft";
import { sinCosTurns } from "../math/deterministic-math";
import { Random } from "../math/random";
import { noiseFrames, profilePowers, type NoiseProfile } from "../repair/noise-profile";
import { emptyPlanar, type Frames, type Hertz, type Planar } from "../audio/units";

/** Frames of noise that are kept: reading goes on from one to the next. */
const KEPT = 8;

/**
 * Noise like the one that a profile was learned from, endless and nowhere the same: random spectra of the profile's
 * powers, in frames that overlap by half and whose powers add up to one. Any part of it can be made apart.
 */
export function roomTone(profile: NoiseProfile, channels: number, sampleRate: Hertz) {
  const [size] = noiseFrames(sampleRate);
  const hop = size / 2;
  const fft = new Fft(size);
  const powers = Array.from({ length: channels }, (_, c) => profilePowers(profile, c, sampleRate, size));
  const window = Float64Array.from({ length: size }, (_, i) => sinCosTurns((i + 0.5) / (2 * size)).sin);
  const kept = new Map<number, Planar>();

  const frameOf = (index: number): Planar => {
    const known = kept.get(index);
    if (known) return known;
    const frame = powers.map((power, c) => {
      const random = new Random(Math.imul(index + 1, 0x9e3779b1) ^ (c * 0x85ebca6b));
      const re = new Float64Array(size);
      const im = new Float64Array(size);
      for (let k = 0; k <= hop; k++) {
        // `power` is that of white noise under the window of short-time spectra, whose squares add up to size / 2.
        const amplitude = Math.sqrt(((power[k]! / hop) * size * 3) / 2);
        re[k] = amplitude * random.between(-1, 1);
        im[k] = k === 0 || k === hop ? 0 : amplitude * random.between(-1, 1);
        if (k > 0 && k < hop) {
          re[size - k] = re[k]!;
          im[size - k] = -im[k]!;
        }
      }
      fft.backward(re, im);
      return Float32Array.from(re, (v, i) => v * window[i]!);
    });
    kept.set(index, frame);
    if (kept.size > KEPT) kept.delete(kept.keys().next().value!);
    return frame;
  };

  /** Frames `start`…`start + count` of it. */
  return (start: Frames, count: Frames): Planar => {
    const out = emptyPlanar(channels, count);
    for (let index = Math.floor(start / hop) - 1; index * hop < start + count; index++) {
      const at = index * hop - start;
      const frame = frameOf(index);
      const from = Math.max(0, -at);
      const to = Math.min(size, count - at);
      out.forEach((x, c) => {
        for (let i = from; i < to; i++) x[at + i]! += frame[c]![i]!;
      });
    }
    return out;
  };
}
