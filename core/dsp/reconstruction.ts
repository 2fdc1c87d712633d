import { kaiserPhases } from "../math/kaiser";

const TAPS = 32;
const PHASES = 32;
const ATTENUATION_DB = 70;

const filters = kaiserPhases(PHASES, TAPS, ATTENUATION_DB);

/** The waveform at a place between samples, to 1/32 of one: what a converter would give. Zeros lie outside. */
export function reconstructedSample(x: Float32Array, at: number): number {
  const fine = Math.round(at * PHASES);
  const whole = Math.floor(fine / PHASES);
  const filter = filters[fine - whole * PHASES]!;
  let sum = 0;
  for (let tap = 0; tap < TAPS; tap++) sum += (x[whole - TAPS / 2 + 1 + tap] ?? 0) * filter[tap]!;
  return sum;
}
