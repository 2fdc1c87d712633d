/** Energies of momentary loudness in steps of 100 ms, and short-term loudness as they suggest it. */
import { exp10 } from "../math/deterministic-math";
import { LOUDNESS_OFFSET, lufsOf } from "./gating";

const STEPS = 30; // of 3 s

const keptEnergies = new WeakMap<Float32Array, Float64Array>();

/** Weighted mean squares of momentary loudness, made once for each curve: a curve that is known is not written to. Hot. */
export function energiesOf(momentaryLufs: Float32Array): Float64Array {
  let energies = keptEnergies.get(momentaryLufs);
  if (energies) return energies;
  energies = new Float64Array(momentaryLufs.length);
  for (let i = 0; i < energies.length; i++) {
    const lufs = momentaryLufs[i]!;
    energies[i] = lufs === -Infinity ? 0 : exp10((lufs - LOUDNESS_OFFSET) / 10);
  }
  keptEnergies.set(momentaryLufs, energies);
  return energies;
}

/** Mean squares of each 3 s; empty where there are none. Hot. */
export function shortTermOf(momentaryLufs: Float32Array): Float64Array {
  const energies = energiesOf(momentaryLufs);
  let sum = 0;
  const shortTerm = new Float64Array(Math.max(0, energies.length - STEPS + 1));
  for (let i = 0; i < energies.length; i++) {
    sum += energies[i]! - (i >= STEPS ? energies[i - STEPS]! : 0);
    if (i >= STEPS - 1) shortTerm[i - STEPS + 1] = Math.max(0, sum) / STEPS;
  }
  return shortTerm;
}

/** The loudest 3 s, LUFS; −∞ where there are none. */
export function shortTermMaxOf(momentaryLufs: Float32Array): number {
  let most = 0;
  for (const energy of shortTermOf(momentaryLufs)) if (energy > most) most = energy;
  return lufsOf(most);
}
