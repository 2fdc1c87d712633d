import { LOUDNESS_OFFSET } from "../measure/gating";
import type { Decibels } from "../audio/units";
import type { CompressionCurve } from "../dsp/dynamics";
import type { LevelCurves } from "./processor";

const STEP_MS = 100;
/** How far the peak of a programme stands above its level as a detector of means sees it. */
const MEAN_BELOW_PEAK_DB = 9;

interface Ballistic {
  attackMs: number;
  releaseMs: number;
  makeUpDb?: Decibels;
  detection?: string;
}

/** Levels after a gain reduction that follows them, in steps of 100 ms: the ballistics of the processor, coarsely. */
export function predictReduction(levels: LevelCurves, curve: CompressionCurve, settings: Ballistic): LevelCurves {
  const { attackMs, releaseMs, makeUpDb = 0, detection = "peak" } = settings;
  const share = (ms: number) => Math.min(1, STEP_MS / (STEP_MS + ms));
  const [attack, release] = [share(attackMs), share(releaseMs)];
  let held = 0;
  const reductions = levels.peakDb.map((peak, i) => {
    const mean = levels.momentaryLufs[i] ?? -Infinity;
    // A momentary level covers 400 ms; what a detector sees lies between it and the peak.
    const level =
      detection === "peak" ? peak : Math.min(peak, Math.max(peak - MEAN_BELOW_PEAK_DB, mean - LOUDNESS_OFFSET));
    const wanted = level === -Infinity ? 0 : curve(level);
    held += (wanted - held) * (wanted > held ? attack : release);
    return held;
  });
  const change = (by: Float32Array) => (level: number, i: number) => level - (by[i] ?? 0) + makeUpDb;
  // A momentary value covers the four steps up to it.
  const spread = reductions.map(
    (_, i) =>
      ((reductions[i] ?? 0) + (reductions[i - 1] ?? 0) + (reductions[i - 2] ?? 0) + (reductions[i - 3] ?? 0)) / 4,
  );
  return {
    ...levels,
    peakDb: levels.peakDb.map(change(reductions)),
    momentaryLufs: levels.momentaryLufs.map(change(spread)),
  };
}
