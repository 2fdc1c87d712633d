/** Gain that follows a line drawn over the item: shared by the leveller and the ducker. */
import { dbToGain } from "../audio/decibel";
import type { Decibels, Frames, Hertz } from "../audio/units";
import type { Breakpoint, BreakpointsParameter } from "../parameters/parameter";
import { envelopeAt } from "../parameters/breakpoints";
import type { LevelCurves, Processor } from "./processor";

/** The gain is worked out at frames of the item that are whole multiples of this, and goes straight between. */
const GRID: Frames = 64;
const STEP_SECONDS = 0.1;

/** Gain over time; seconds of the item. */
export const gainEnvelopeParameter = (help: string): BreakpointsParameter => ({
  kind: "points",
  label: "Gain envelope",
  help,
  x: { unit: "s", min: 0, max: 200_000 },
  y: { unit: "dB", min: -60, max: 24 },
  most: 20_000,
  default: [],
});

/** @param amount share of the line that is applied, 0…1 */
export function gainEnvelope(line: readonly Breakpoint[], amount: number, sampleRate: Hertz, start: Frames): Processor {
  if (amount === 0 || line.every(([, db]) => db === 0)) return { latency: 0, process: () => undefined };
  const dbAt = (frame: Frames): Decibels => amount * envelopeAt(line, frame / sampleRate);
  let frame = start;
  let node = Math.floor(start / GRID) * GRID;
  let [here, next] = [dbToGain(dbAt(node)), dbToGain(dbAt(node + GRID))];
  let least = 0;
  return {
    latency: 0,
    process(block, frames) {
      for (let i = 0; i < frames; i++, frame++) {
        if (frame >= node + GRID) {
          node += GRID;
          here = next;
          const db = dbAt(node + GRID);
          if (db < least) least = db;
          next = dbToGain(db);
        }
        const gain = here + ((next - here) * (frame - node)) / GRID;
        for (let c = 0; c < block.length; c++) block[c]![i] = block[c]![i]! * gain;
      }
    },
    takeGainReduction() {
      const reduction = -least;
      least = 0;
      return [reduction];
    },
  };
}

export function predictGainEnvelope(levels: LevelCurves, line: readonly Breakpoint[], amount: number): LevelCurves {
  const moved = (level: number, i: number) => level + amount * envelopeAt(line, (i + 0.5) * STEP_SECONDS);
  return { ...levels, peakDb: levels.peakDb.map(moved), momentaryLufs: levels.momentaryLufs.map(moved) };
}
