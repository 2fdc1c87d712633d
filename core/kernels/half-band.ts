/** Half-band filters that double and halve the rate of one channel: every second tap is 0, and the middle one 0.5. */

/** Raises and lowers, each with a memory of its own. */
export interface HalfBand {
  /** Twice as many samples; the result is only good until the next call. */
  raise(x: Float32Array): Float32Array;
  /** Half as many samples as `doubled`, into `out`. */
  lower(doubled: Float32Array, out: Float32Array): void;
}

/** @param taps of one side, from the outermost in, every second one (the others are 0) */
export function halfBand(taps: Float64Array): HalfBand {
  const pairs = taps.length;
  const past = 2 * pairs - 1;
  let up: Float64Array = new Float64Array(past);
  let even: Float64Array = new Float64Array(past);
  let odd: Float64Array = new Float64Array(past);
  let doubled = new Float32Array(0);

  /** Takes in `count` new samples behind the last `past` ones. */
  const extended = (line: Float64Array, count: number): Float64Array => {
    const kept = line.length - past;
    const next = line.length >= past + count && kept === count ? line : new Float64Array(past + count);
    next.set(line.subarray(kept, kept + past));
    return next;
  };
  /** Σ taps over 2·pairs samples from `at` on, which mirror each other. Hot. */
  const folded = (line: Float64Array, at: number): number => {
    let sum = 0;
    for (let n = 0, last = at + past; n < pairs; n++, last--) sum += taps[n]! * (line[at + n]! + line[last]!);
    return sum;
  };
  return {
    raise(x) {
      const frames = x.length;
      up = extended(up, frames);
      for (let i = 0; i < frames; i++) up[past + i] = x[i]!;
      if (doubled.length !== 2 * frames) doubled = new Float32Array(2 * frames);
      for (let i = 0; i < frames; i++) {
        doubled[2 * i] = 2 * folded(up, i);
        doubled[2 * i + 1] = up[i + pairs]!;
      }
      return doubled;
    },
    lower(given, out) {
      const frames = out.length;
      even = extended(even, frames);
      odd = extended(odd, frames);
      for (let i = 0; i < frames; i++) {
        even[past + i] = given[2 * i]!;
        odd[past + i] = given[2 * i + 1]!;
      }
      for (let i = 0; i < frames; i++) out[i] = folded(even, i) + 0.5 * odd[i + pairs - 1]!;
    },
  };
}
