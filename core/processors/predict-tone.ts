import { exp10, log2, power, square } from "../math/deterministic-math";
import { powerAt, type AnalogueBiquad } from "../dsp/analogue-filter";
import { THIRD_OCTAVES } from "../measure/spectrum";
import { powerToDb } from "../audio/decibel";
import type { Decibels, Hertz } from "../audio/units";
import type { LevelCurves } from "./processor";

/** Where the spectrum is not known: as music and speech mostly have it, falling by 4.5 dB an octave from 100 Hz on. */
const TYPICAL_SLOPE_DB = 4.5;
const TYPICAL_FROM: Hertz = 100;

const typical = (): Float32Array => {
  const powers = THIRD_OCTAVES.map((hertz) => exp10((-TYPICAL_SLOPE_DB * Math.abs(log2(hertz / TYPICAL_FROM))) / 10));
  const sum = powers.reduce((total, power) => total + power, 0);
  return Float32Array.from(powers, (power) => power / sum);
};

/** Levels after a filter, by what it does to each third of an octave of the programme. */
export function predictTone(levels: LevelCurves, sections: readonly AnalogueBiquad[]): LevelCurves {
  return predictResponse(levels, (hertz) => sections.reduce((product, one) => product * powerAt(one, hertz), 1));
}

/** @param power |H|² at a frequency */
export function predictResponse(levels: LevelCurves, power: (hertz: Hertz) => number): LevelCurves {
  const before = levels.spectrum ?? typical();
  const after = before.map((share, n) => share * power(THIRD_OCTAVES[n]!));
  const total = after.reduce((sum, share) => sum + share, 0);
  const weighted = (shares: Float32Array) => shares.reduce((sum, share, n) => sum + share * WEIGHTS[n]!, 0);
  const peakChange = powerToDb(total);
  const loudnessChange = powerToDb(weighted(after) / weighted(before));
  const moved = (by: Decibels) => (level: number) => (Number.isFinite(by) ? level + by : -Infinity);
  return {
    ...levels,
    peakDb: levels.peakDb.map(moved(peakChange)),
    momentaryLufs: levels.momentaryLufs.map(moved(loudnessChange)),
    spectrum: total > 0 ? after.map((share) => share / total) : after,
  };
}

/** K-weighting at the thirds, power: the shelf and the high-pass of BS.1770-5, read off coarsely. */
const WEIGHTS = THIRD_OCTAVES.map((hertz) => {
  const highPass = 1 / (1 + power(38 / hertz, 4));
  const shelf = exp10(0.4 / (1 + square(1700 / hertz)));
  return highPass * shelf;
});
