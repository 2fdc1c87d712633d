/** Short-term loudness as momentary loudness, in steps of 100 ms, suggests it. */
import { exp10 } from "../math/deterministic-math";
import { LOUDNESS_OFFSET, lufsOf } from "./gating";

const STEPS = 30; // of 3 s

/** Mean squares of each 3 s; empty where there are none. */
export function shortTermOf(momentaryLufs: Float32Array): Float64Array {
  const energies = Float64Array.from(momentaryLufs, (lufs) =>
    lufs === -Infinity ? 0 : exp10((lufs - LOUDNESS_OFFSET) / 10),
  );
  let sum = 0;
  const shortTerm = new Float64Array(Math.max(0, energies.length - STEPS + 1));
  energies.forEach((energy, i) => {
    sum += energy - (i >= STEPS ? energies[i - STEPS]! : 0);
    if (i >= STEPS - 1) shortTerm[i - STEPS + 1] = Math.max(0, sum) / STEPS;
  });
  return shortTerm;
}

/** The loudest 3 s, LUFS; −∞ where there are none. */
export const shortTermMaxOf = (momentaryLufs: Float32Array): number =>
  shortTermOf(momentaryLufs).reduce((most, energy) => Math.max(most, lufsOf(energy)), -Infinity);
