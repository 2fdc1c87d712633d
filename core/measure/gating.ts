import { exp10 } from "../math/deterministic-math";
import { powerToDb } from "../audio/decibel";

/** LUFS of a channel-weighted mean square of 1: BS.1770-5 Annex 1. */
export const LOUDNESS_OFFSET = -0.691;
export const ABSOLUTE_GATE = -70; // LUFS, BS.1770-5 Annex 1
export const RELATIVE_GATE = -10; // LU, BS.1770-5 Annex 1
const RANGE_RELATIVE_GATE = -20; // LU, EBU Tech 3342
const RANGE_LOW = 0.1; // percentiles, EBU Tech 3342
const RANGE_HIGH = 0.95;

const energyOf = (lufs: number): number => exp10((lufs - LOUDNESS_OFFSET) / 10);

/** LUFS of a weighted mean square, −Infinity for silence. */
export const lufsOf = (meanSquare: number): number =>
  meanSquare > 0 ? LOUDNESS_OFFSET + powerToDb(meanSquare) : -Infinity;

const ABSOLUTE_ENERGY = energyOf(ABSOLUTE_GATE);

function meanAbove(energies: Float64Array, gate: number): number {
  let sum = 0;
  let count = 0;
  for (let i = 0; i < energies.length; i++) {
    const energy = energies[i]!;
    if (energy > gate) {
      sum += energy;
      count++;
    }
  }
  return count === 0 ? 0 : sum / count;
}

/**
 * Integrated loudness of 400 ms mean squares with 75 % overlap (BS.1770-5 Annex 1).
 * @returns LUFS, −Infinity when nothing passes the gates
 */
export function integratedLoudness(momentary: Float64Array): number {
  const ungated = meanAbove(momentary, ABSOLUTE_ENERGY);
  const gate = Math.max(ABSOLUTE_ENERGY, ungated * exp10(RELATIVE_GATE / 10));
  return lufsOf(meanAbove(momentary, gate));
}

/**
 * Loudness range of 3 s mean squares (EBU Tech 3342), percentiles by nearest rank as in its listing.
 * @returns LU, `null` when fewer than two values pass the gates
 */
export function loudnessRange(shortTerm: Float64Array): number | null {
  const ungated = meanAbove(shortTerm, ABSOLUTE_ENERGY);
  const gate = Math.max(ABSOLUTE_ENERGY, ungated * exp10(RANGE_RELATIVE_GATE / 10));
  const kept = shortTerm.filter((energy) => energy > gate).sort();
  if (kept.length < 2) return null;
  const rank = (fraction: number) => kept[Math.round((kept.length - 1) * fraction)]!;
  return powerToDb(rank(RANGE_HIGH) / rank(RANGE_LOW));
}
