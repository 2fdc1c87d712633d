import { describe, expect, it } from "vitest";
import { layoutNamed } from "../audio/layout";
import { measured } from "../testing/measured";
import { MADE_SOUNDS, makeSound, type MadeSound } from "./made-sounds";

const RATE = 48_000;
const stereo = layoutNamed("stereo")!;
const make = (kind: MadeSound, seconds = 4, levelDb = -18, layout = stereo) =>
  makeSound({ kind, seconds, levelDb, hertz: 1000 }, layout, RATE);
const figures = (kind: MadeSound, levelDb = -18) =>
  measured(make(kind, 4, levelDb), { sampleRate: RATE, layout: stereo });

describe("sounds that are made", () => {
  it("have the level that was asked for", () => {
    expect(figures("tone").truePeakDbtp!).toBeCloseTo(-18, 1);
    expect(figures("sweep").truePeakDbtp!).toBeCloseTo(-18, 1);
    // RMS after AES17: a sine of that peak reads the same.
    for (const kind of ["pink", "white"] as const) expect(figures(kind, -20).rmsDbfs!).toBeCloseTo(-23.01, 0);
  });
  it("are as long as was asked for, on all channels, without a click at the ends", () => {
    for (const kind of Object.keys(MADE_SOUNDS) as MadeSound[]) {
      const block = make(kind, 1.5, -18, layoutNamed("5.1")!);
      expect(block).toHaveLength(6);
      for (const x of block) {
        expect(x).toHaveLength(1.5 * RATE);
        expect(Math.abs(x[0]!)).toBeLessThan(0.01);
        expect(Math.abs(x.at(-1)!)).toBeLessThan(0.01);
      }
    }
    expect(make("silence").every((x) => x.every((v) => v === 0))).toBe(true);
  });
  it("of pink noise fall by 3 dB an octave", () => {
    const { thirdOctaveDbfs } = figures("pink");
    const at = (index: number) => thirdOctaveDbfs[index]!;
    // Thirds of an octave of pink noise are alike.
    expect(Math.abs(at(14) - at(23))).toBeLessThan(2.5);
    expect(figures("white").thirdOctaveDbfs[23]! - figures("white").thirdOctaveDbfs[14]!).toBeGreaterThan(6);
  });
  it("tell channels by interrupting each but the last in its turn", () => {
    const [left, right] = make("identification", 6);
    const isSilent = (x: Float32Array, from: number) =>
      x.subarray(from * RATE, (from + 0.2) * RATE).every((v) => v === 0);
    expect(isSilent(left!, 0.52)).toBe(true);
    expect(isSilent(right!, 0.52)).toBe(false);
    expect(isSilent(right!, 1.02)).toBe(false);
  });
  it("of a leader beep each second, and are quiet for the last two", () => {
    const [x] = make("leader", 8);
    const peak = (from: number, to: number) => Math.max(...x!.subarray(from * RATE, to * RATE).map(Math.abs));
    for (let second = 0; second <= 6; second++) expect(peak(second, second + 0.1)).toBeGreaterThan(0.1);
    expect(peak(6.2, 8)).toBe(0);
    expect(peak(2.2, 2.9)).toBe(0);
  });
  it("are the same each time", () => {
    expect(make("pink")).toEqual(make("pink"));
  });
});
