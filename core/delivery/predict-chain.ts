/**
 * What will come out, from what was measured and what is set, before anything is rendered: an estimate, made at
 * once from levels in steps of 100 ms. The render measures; this tells where it will arrive.
 */
import type { EditList } from "../edit-list/edit-list";
import { framesOfClip } from "../edit-list/clip";
import { integratedLoudness, loudnessRange } from "../measure/gating";
import type { TimeSeries } from "../measure/measurement";
import type { Curves, Figures, Measured } from "../measure";
import { processorNamed, settingsOf, type ChainEntry } from "../processors";
import { dbToPower, finiteOrNull } from "../audio/decibel";
import { joinedPlanar, type Hertz, type Seconds } from "../audio/units";
import type { LevelCurves } from "../processors/processor";
import type { LimitedFigures } from "./compliance";
import { energiesOf, shortTermMaxOf } from "../measure/short-term-estimate";

/** Hot: goes through hours in steps of 100 ms, at each move of a setting. */
export function highestOf(values: Float32Array): number {
  let highest = -Infinity;
  for (let i = 0; i < values.length; i++) if (values[i]! > highest) highest = values[i]!;
  return highest;
}

export const loudnessOf = ({ momentaryLufs }: LevelCurves): number => integratedLoudness(energiesOf(momentaryLufs));

export const shifted = (levels: LevelCurves, db: number): LevelCurves =>
  processorNamed("gain").predict(levels, { gainDb: db, invert: false });

export function levelsOf(figures: Figures, curves: Curves): LevelCurves {
  const intersample = (figures.truePeakDbtp ?? 0) - (figures.samplePeakDbfs ?? 0);
  return {
    peakDb: curves.samplePeakDbfs.values,
    momentaryLufs: curves.momentaryLufs.values,
    intersampleDb: Math.max(0, intersample),
    ...spectrumOf(figures),
  };
}

/** Shares of the power in thirds of an octave. */
function spectrumOf({ thirdOctaveDbfs }: Figures): Pick<LevelCurves, "spectrum"> {
  const powers = thirdOctaveDbfs.map((db) => (db === null ? 0 : dbToPower(db)));
  const sum = powers.reduce((total, power) => total + power, 0);
  return sum > 0 ? { spectrum: Float32Array.from(powers, (power) => power / sum) } : {};
}

/** Curves of a stretch, in seconds of the recording. */
export function curvesOfStretch(curves: Curves, startSeconds: number, endSeconds: number): Curves {
  const cut = (curve: TimeSeries): TimeSeries => {
    const { hopSeconds, columns, values } = curve;
    if (hopSeconds === 0) return curve; // its rows are not times
    const row = (seconds: number, round: (rows: number) => number) => round(seconds / hopSeconds) * columns;
    return { ...curve, values: values.slice(row(startSeconds, Math.floor), row(endSeconds, Math.ceil)) };
  };
  return Object.fromEntries(Object.entries(curves).map(([name, curve]) => [name, cut(curve)])) as unknown as Curves;
}

/** Curves of an item's pieces one after the other; what was put in between is silent. */
function curvesOfPieces(curves: Curves, { placed }: EditList, sampleRate: Hertz): Curves {
  const stretches = placed.map(({ clip }) => {
    if (clip.kind === "recording") return curvesOfStretch(curves, clip.start / sampleRate, clip.end / sampleRate);
    const seconds = framesOfClip(clip) / sampleRate;
    return silentCurves(curvesOfStretch(curves, 0, 0), seconds);
  });
  const joined = (name: keyof Curves): TimeSeries => {
    const parts = stretches.map((stretch) => stretch[name]);
    const [first] = parts;
    if (first!.hopSeconds === 0) return first!;
    const values = joinedPlanar(
      parts.map((part) => [part.values]),
      1,
    )[0]!;
    return { ...first!, values };
  };
  const names = Object.keys(curves) as (keyof Curves)[];
  return Object.fromEntries(names.map((name) => [name, joined(name)])) as unknown as Curves;
}

/** Levels of nothing: −∞ where they are in dB, 0 where they are powers. */
const silentCurves = (curves: Curves, seconds: Seconds): Curves =>
  Object.fromEntries(
    Object.entries(curves).map(([name, curve]: [string, TimeSeries]) => {
      const rows = curve.hopSeconds === 0 ? 0 : Math.ceil(seconds / curve.hopSeconds);
      return [
        name,
        { ...curve, values: new Float32Array(rows * curve.columns).fill(/Lufs|Db/.test(name) ? -Infinity : 0) },
      ];
    }),
  ) as unknown as Curves;

/** Figures and curves of an item as it came, estimated from those of its recording. */
export function estimatedOf(whole: Measured, arrangement: EditList, sampleRate: Hertz): Measured {
  if (arrangement.isWhole) return whole;
  const curves = curvesOfPieces(whole.curves, arrangement, sampleRate);
  return { figures: figuresOfStretch(whole.figures, curves), curves };
}

/** Figures of a stretch, estimated from its curves: what it shares with the whole stays as it was measured. */
export function figuresOfStretch(figures: Figures, stretch: Curves): Figures {
  const samplePeak = highestOf(stretch.samplePeakDbfs.values);
  const intersample = Math.max(0, (figures.truePeakDbtp ?? 0) - (figures.samplePeakDbfs ?? 0));
  return {
    ...figures,
    durationSeconds: stretch.samplePeakDbfs.values.length * stretch.samplePeakDbfs.hopSeconds,
    // Where they lie in the stretch is known once it is measured.
    momentaryMaxSeconds: null,
    shortTermMaxSeconds: null,
    truePeakSeconds: null,
    noiseFloorSeconds: null,
    integratedLufs: finiteOrNull(integratedLoudness(energiesOf(stretch.momentaryLufs.values))),
    momentaryMaxLufs: finiteOrNull(highestOf(stretch.momentaryLufs.values)),
    shortTermMaxLufs: finiteOrNull(highestOf(stretch.shortTermLufs.values)),
    loudnessRangeLu: loudnessRange(energiesOf(stretch.shortTermLufs.values)),
    samplePeakDbfs: finiteOrNull(samplePeak),
    truePeakDbtp: finiteOrNull(samplePeak + intersample),
  };
}

/** Levels that were measured along a chain, after each of its processors that are not bypassed. */
export interface KnownLevels {
  chain: readonly ChainEntry[];
  after: readonly LevelCurves[];
}

/** Levels of a recording after chains that were asked for lately: all of its deliverables ask for the same. */
const keptAfter = new WeakMap<Curves, Map<string, { known: KnownLevels | null; levels: LevelCurves }>>();
const MOST_CHAINS = 16;

/** Levels after a chain: estimated from where they were last measured along it. */
export function levelsAfter(
  figures: Figures,
  curves: Curves,
  chain: readonly ChainEntry[],
  known: KnownLevels | null = null,
): LevelCurves {
  const key = JSON.stringify([chain, figures.truePeakDbtp, figures.samplePeakDbfs, figures.thirdOctaveDbfs]);
  const kept = keptAfter.get(curves) ?? new Map<string, { known: KnownLevels | null; levels: LevelCurves }>();
  keptAfter.set(curves, kept);
  const found = kept.get(key);
  if (found?.known === known) return found.levels;
  const levels = estimatedAfter(figures, curves, chain, known);
  if (kept.size >= MOST_CHAINS) kept.delete(kept.keys().next().value!);
  kept.set(key, { known, levels });
  return levels;
}

function estimatedAfter(
  figures: Figures,
  curves: Curves,
  chain: readonly ChainEntry[],
  known: KnownLevels | null,
): LevelCurves {
  const active = chain.filter(({ bypass }) => !bypass);
  const same = (index: number) =>
    known?.chain[index] !== undefined && JSON.stringify(known.chain[index]) === JSON.stringify(active[index]);
  let measured = 0;
  while (measured < active.length && same(measured)) measured++;
  const start = measured > 0 ? known!.after[measured - 1]! : levelsOf(figures, curves);
  return predictChain(start, active.slice(measured));
}

/** Levels after a chain. */
export const predictChain = (levels: LevelCurves, chain: readonly ChainEntry[]): LevelCurves =>
  chain.reduce(
    (current, entry) => (entry.bypass ? current : processorNamed(entry.type).predict(current, settingsOf(entry))),
    levels,
  );

/** Integrated loudness and true peak after a chain alone: what is heard as "now". */
export const predictNow = (
  figures: Figures,
  curves: Curves,
  chain: readonly ChainEntry[],
  known: KnownLevels | null = null,
): LimitedFigures => figuresAfter(figures, levelsOf(figures, curves), levelsAfter(figures, curves, chain, known));

/** Figures of what `before` has become. */
export function figuresAfter(figures: Figures, before: LevelCurves, after: LevelCurves): LimitedFigures {
  const change = loudnessOf(after) - loudnessOf(before);
  const quiet = quietChange(before, after);
  const moved = (level: number | null, by: number) => (level === null || !Number.isFinite(by) ? level : level + by);
  const peak = highestOf(after.peakDb);
  return {
    integratedLufs: moved(figures.integratedLufs, change),
    shortTermMaxLufs: moved(
      figures.shortTermMaxLufs,
      shortTermMaxOf(after.momentaryLufs) - shortTermMaxOf(before.momentaryLufs),
    ),
    momentaryMaxLufs: moved(figures.momentaryMaxLufs, highestOf(after.momentaryLufs) - highestOf(before.momentaryLufs)),
    truePeakDbtp: Number.isFinite(peak) ? peak + after.intersampleDb : null,
    samplePeakDbfs: Number.isFinite(peak) ? peak : null,
    rmsDbfs: moved(figures.rmsDbfs, change),
    noiseFloorDbfs: moved(figures.noiseFloorDbfs, quiet),
    dialogueLufs: moved(figures.dialogueLufs, change),
    loudnessRangeLu: figures.loudnessRangeLu,
    headRoomToneSeconds: figures.headRoomToneSeconds,
    tailRoomToneSeconds: figures.tailRoomToneSeconds,
    headSilenceSeconds: figures.headSilenceSeconds,
    tailSilenceSeconds: figures.tailSilenceSeconds,
    samplePeakPerChannelDbfs: figures.samplePeakPerChannelDbfs.map((level) =>
      moved(level, peak - highestOf(before.peakDb)),
    ),
    truePeakPerChannelDbtp: figures.truePeakPerChannelDbtp.map((level) =>
      moved(level, peak - highestOf(before.peakDb)),
    ),
    rmsPerChannelDbfs: figures.rmsPerChannelDbfs.map((level) => moved(level, change)),
    durationSeconds: figures.durationSeconds,
  };
}

/** Change of level where the programme is quietest: that of its noise floor. */
function quietChange(before: LevelCurves, after: LevelCurves): number {
  const { momentaryLufs } = before;
  let at = -1;
  let lowest = Infinity;
  for (let i = 0; i < momentaryLufs.length; i++) {
    const level = momentaryLufs[i]!;
    if (level > -Infinity && level < lowest) {
      lowest = level;
      at = i;
    }
  }
  return at < 0 ? 0 : after.momentaryLufs[at]! - momentaryLufs[at]!;
}
