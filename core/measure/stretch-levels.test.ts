import { describe, expect, it } from "vitest";
import { layoutNamed } from "../audio/layout";
import { noise } from "../testing/signals";
import { Measurer } from ".";
import { stretchLevels } from "./stretch-levels";

const RATE = 48_000;
/** Two seconds of speech level, half a second of room, one second that is loud. */
function sound(channel: number): Float32Array {
  const x = noise(3.5, RATE, -24, channel + 1);
  for (let i = 2 * RATE; i < 2.5 * RATE; i++) x[i]! *= 0.01;
  for (let i = 2.5 * RATE; i < x.length; i++) x[i]! *= 3;
  return x;
}
const block = [sound(0), sound(1)];
const measured = (from: number, to: number) => {
  const measurer = new Measurer({ sampleRate: RATE, layout: layoutNamed("stereo")! });
  measurer.process(block.map((x) => x.subarray(Math.round(from * RATE), Math.round(to * RATE))));
  return measurer.result();
};
const { curves } = measured(0, 3.5);

describe("levels of a stretch from the tables", () => {
  it.each([
    [0, 3.5],
    [2, 2.5],
    [1.5, 2.2],
    [2.5, 2.6],
  ])("are the measured ones from %d s to %d s, where steps begin and end", (from, to) => {
    const { figures } = measured(from, to);
    const levels = stretchLevels(curves, from, to);
    expect(levels.isExact).toBe(true);
    expect(levels.rmsDbfs).toBeCloseTo(figures.rmsDbfs!, 2);
    expect(levels.samplePeakDbfs).toBeCloseTo(figures.samplePeakDbfs!, 4);
  });
  it("of a quiet place beside a loud one are within a decibel, and say that they are no exact ones", () => {
    const { figures } = measured(2.02, 2.47);
    const levels = stretchLevels(curves, 2.02, 2.47);
    expect(levels.isExact).toBe(false);
    expect(Math.abs(levels.rmsDbfs - figures.rmsDbfs!)).toBeLessThan(1);
    expect(levels.samplePeakDbfs).toBeGreaterThanOrEqual(figures.samplePeakDbfs! - 1e-4);
  });
  it("of silence, and beyond the end, are none", () => {
    const silent = { hopSeconds: 0.05, columns: 1, values: new Float32Array(20).fill(-Infinity) };
    expect(stretchLevels({ rmsDbfs: silent, samplePeakDbfs: silent }, 0.1, 0.5)).toMatchObject({
      rmsDbfs: -Infinity,
      samplePeakDbfs: -Infinity,
    });
    expect(stretchLevels(curves, 4, 5).samplePeakDbfs).toBe(-Infinity);
  });
});
