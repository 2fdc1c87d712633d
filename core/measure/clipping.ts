import { gainToDb } from "../audio/decibel";
import type { Frames } from "../audio/units";
import type { MeasurementDefinition } from "./measurement";
import type { ClippedRun, AnalysisBlock } from "./analysis-block";

/** From here on a sample counts as full scale. */
const FULL_SCALE = 0.9999;
const LEAST_RUN: Frames = 3;
/** Samples of a plateau differ by at most this part of its level … */
const FLATNESS = 1e-4;
/** … and the waveform runs into it by at least this, which no crest of three flat samples does. */
const EDGE = 1e-3;
/** A plateau lies at the top of its channel, or it is something else. */
const NEAR_TOP = 0.995;
/** Levels that are told apart, of plateaus below full scale. */
const SAME_LEVEL = 2e-3;
/** So many plateaus at one level make a clipped recording that was turned down. */
const LEAST_PLATEAUS = 3;
/** Quieter plateaus are not looked for: −40 dBFS. */
const LEAST_LEVEL = 0.01;
const PLACES = 200;

export interface ClippedPlace {
  channel: string;
  seconds: number;
  samples: Frames;
  levelDbfs: number;
}

export interface ClippingFigures {
  clippedRuns: {
    /** Runs of three or more samples at full scale, or at a flat top below it. */
    count: number;
    longestSamples: Frames;
    /** Whether the waveform was cut below full scale and turned down after. */
    belowFullScale: boolean;
    /** The first 200. */
    places: ClippedPlace[];
  };
}

/** Clipped runs of a tick. `highest` is the highest sample of each channel so far, and is kept up to date. */
export function clippedRuns(
  samples: readonly Float32Array[],
  from: Frames,
  frames: Frames,
  tick: Pick<AnalysisBlock, "start" | "smallest" | "largest">,
  highest: Float64Array,
): ClippedRun[] {
  const runs: ClippedRun[] = [];
  for (let channel = 0; channel < samples.length; channel++) {
    const top = Math.max(tick.largest[channel]!, -tick.smallest[channel]!);
    if (top > highest[channel]!) highest[channel] = top;
    for (const [sign, level] of [
      [1, tick.largest[channel]!],
      [-1, -tick.smallest[channel]!],
    ] as const) {
      if (level < LEAST_LEVEL || level < NEAR_TOP * highest[channel]!) continue;
      flatTops(samples[channel]!, from, frames, sign, level, (first, length) =>
        runs.push({ channel, start: tick.start + first - from, length, level: sign * level }),
      );
    }
  }
  return runs;
}

/** Calls `found` with each run at the top that is clipped; one that touches an edge of the tick may be shorter. Hot. */
function flatTops(
  x: Float32Array,
  from: number,
  frames: Frames,
  sign: 1 | -1,
  level: number,
  found: (first: number, length: number) => void,
): void {
  const full = level >= FULL_SCALE;
  const low = full ? FULL_SCALE : level * (1 - FLATNESS);
  const edge = level * (1 - EDGE);
  const end = from + frames;
  for (let i = from; i < end; i++) {
    if (sign * x[i]! < low) continue;
    const first = i;
    while (i < end && sign * x[i]! >= low) i++;
    const touches = first === from || i === end;
    const steep = full || (sign * x[first - 1]! < edge && sign * x[i]! < edge);
    if (i - first >= LEAST_RUN ? steep || touches : touches && full) found(first, i - first);
  }
}

/** Clipped runs, at full scale and below it. */
export const clipping: MeasurementDefinition<ClippingFigures> = {
  id: "clipping",
  help: "Runs of three or more samples at full scale, and flat tops of recordings that were clipped and turned down",
  source: "Resonum: equal polarity, at 0.9999 of full scale or more, or flat within 0.01 % with steep sides",
  create({ sampleRate, layout }) {
    const channels = layout.speakers.length;
    const peaks = new Float64Array(channels);
    let open: ClippedRun[] = [];
    const none = () => layout.speakers.map(() => ({ level: 0, count: 0, longest: 0, places: [] as ClippedRun[] }));
    /** By channel: at full scale; and at the highest level below it so far. */
    const full = none();
    const below = none();

    const close = (run: ClippedRun) => {
      if (run.length < LEAST_RUN) return;
      const level = Math.abs(run.level);
      const isFull = level >= FULL_SCALE;
      const kept = isFull ? full[run.channel]! : below[run.channel]!;
      if (!isFull && Math.abs(level - kept.level) > SAME_LEVEL * level) {
        if (level < kept.level) return;
        Object.assign(kept, { level, count: 0, longest: 0, places: [] });
      }
      kept.count++;
      kept.longest = Math.max(kept.longest, run.length);
      if (kept.places.length < PLACES) kept.places.push({ ...run });
    };
    const counted = (c: number) => {
      const { level, count } = below[c]!;
      return peaks[c]! < FULL_SCALE && count >= LEAST_PLATEAUS && level >= NEAR_TOP * peaks[c]! ? below[c]! : full[c]!;
    };

    return {
      block({ start, frames, clippedRuns: runs, largest, smallest }) {
        for (let c = 0; c < channels; c++) peaks[c] = Math.max(peaks[c]!, largest[c]!, -smallest[c]!);
        const before = open;
        open = [];
        for (const run of runs) {
          const index = before.findIndex(
            (one) => one.channel === run.channel && one.start + one.length === run.start && one.level * run.level > 0,
          );
          const held = index < 0 ? undefined : before.splice(index, 1)[0];
          const joined = held ? { ...held, length: held.length + run.length } : run;
          if (run.start + run.length === start + frames) open.push(joined);
          else close(joined);
        }
        before.forEach(close);
      },
      result() {
        const all = layout.speakers.map((_, c) => counted(c));
        // Whatever still goes on counts as it is by now.
        const goingOn = open.filter(({ length, level }) => length >= LEAST_RUN && Math.abs(level) >= FULL_SCALE);
        const places = [...all.flatMap(({ places: list }) => list), ...goingOn]
          .sort((a, b) => a.start - b.start)
          .slice(0, PLACES);
        return {
          figures: {
            clippedRuns: {
              count: all.reduce((sum, { count }) => sum + count, goingOn.length),
              longestSamples: Math.max(0, ...all.map(({ longest }) => longest), ...goingOn.map(({ length }) => length)),
              belowFullScale: all.some(({ level }) => level > 0),
              places: places.map(({ channel, start, length, level }) => ({
                channel: layout.speakers[channel]!.label,
                seconds: start / sampleRate,
                samples: length,
                levelDbfs: gainToDb(Math.abs(level)),
              })),
            },
          },
        };
      },
    };
  },
};
