import { describe, expect, it } from "vitest";
import { noise, sine } from "../testing/signals";
import { dbOfByte, SpectrogramBuilder, type SpectrogramSettings } from "./spectrogram";
import { FREQUENCY_SCALES, hertzAt, rowEdges, rowsOfBins, shareOf } from "./frequency-rows";

const RATE = 48_000;
const settings = (more: Partial<SpectrogramSettings> = {}): SpectrogramSettings => ({
  kind: "spectrogram",
  points: 2048,
  scale: "log",
  low: 50,
  high: 20_000,
  rows: 200,
  ...more,
});

/** Columns of a sound, and the frequency of the strongest row of each. */
function picture(x: Float32Array, more: Partial<SpectrogramSettings> = {}, hop = 512, count = 4) {
  const of = settings(more);
  const maker = new SpectrogramBuilder(of, RATE);
  const levels = new Uint8Array(count * of.rows);
  maker.columns(x, maker.reach, hop, count, levels);
  const strongest = Array.from({ length: count }, (_, column) => {
    const rows = levels.subarray(column * of.rows, (column + 1) * of.rows);
    const row = rows.indexOf(Math.max(...rows));
    return { hertz: hertzAt((row + 0.5) / of.rows, of), db: dbOfByte(rows[row]!) };
  });
  return { levels, strongest };
}

describe.each(["spectrogram", "constant-q", "reassigned"] as const)("a picture: %s", (kind) => {
  it.each([220, 1000, 7000])("shows a tone of %i Hz where it is, as strong as it is", (hertz) => {
    const { strongest } = picture(sine(hertz, -20, 1, RATE), { kind });
    for (const found of strongest) {
      expect(Math.abs(Math.log2(found.hertz / hertz))).toBeLessThan(0.08);
      // −20 dBFS peak is −23.01 dBFS mean square; the window may lie up to half a bin beside it.
      expect(found.db).toBeGreaterThan(-25.2);
      expect(found.db).toBeLessThan(-22.3);
    }
  });
  it("does not depend on where its stretches begin", () => {
    const x = noise(1, RATE, -10, 3);
    const of = settings({ kind });
    const maker = new SpectrogramBuilder(of, RATE);
    const whole = new Uint8Array(6 * of.rows);
    maker.columns(x, maker.reach, 256, 6, whole);
    const part = new Uint8Array(2 * of.rows);
    maker.columns(x, maker.reach + 3 * 256, 256, 2, part);
    // What is reassigned may come from a column outside of the stretch.
    const same = part.filter((byte, i) => byte === whole[3 * of.rows + i]).length;
    expect(same / part.length).toBeGreaterThan(kind === "reassigned" ? 0.95 : 0.999);
  });
  it("is dark in silence", () => {
    expect(Math.max(...picture(new Float32Array(RATE), { kind }).levels)).toBe(0);
  });
});

describe("reassigned and constant-Q pictures", () => {
  it("tell the time of a click better than a window is long", () => {
    const x = new Float32Array(RATE);
    x[12_000] = 1;
    const of = settings({ kind: "reassigned", scale: "linear" });
    const maker = new SpectrogramBuilder(of, RATE);
    const count = 24;
    const levels = new Uint8Array(count * of.rows);
    maker.columns(x, 12_000 - 12 * 64, 64, count, levels);
    const energy = Array.from({ length: count }, (_, c) =>
      levels.subarray(c * of.rows, (c + 1) * of.rows).reduce((sum, byte) => sum + byte, 0),
    );
    expect(energy.indexOf(Math.max(...energy))).toBe(12);
    expect(energy[12]! / energy.reduce((sum, e) => sum + e, 0)).toBeGreaterThan(0.9);
  });
  it("are finer in time above and finer in frequency below", () => {
    const of = settings({ kind: "constant-q", points: 16_384, low: 40, rows: 240 });
    const maker = new SpectrogramBuilder(of, RATE);
    const other = sine(115, -20, 2, RATE);
    const beat = sine(100, -20, 2, RATE).map((v, i) => v + other[i]!);
    const levels = new Uint8Array(of.rows);
    maker.columns(beat, RATE, 64, 1, levels);
    const at = (hertz: number) => levels[Math.floor(shareOf(hertz, of) * of.rows)]!;
    // Two tones close together, down there: two ridges and a valley.
    expect(at(107)).toBeLessThan(Math.min(at(100), at(115)));
    const click = new Float32Array(2 * RATE);
    click[RATE] = 1;
    const near = new Uint8Array(of.rows);
    maker.columns(click, RATE + 400, 64, 1, near);
    expect(near[of.rows - 10]!).toBe(0); // 8 ms beside it nothing is left above
    expect(near[10]!).toBeGreaterThan(0);
  });
});

describe("rows", () => {
  it.each(FREQUENCY_SCALES)("go from a frequency to its place and back: %s", (scale) => {
    const axis = { scale, low: 30, high: 16_000 };
    for (const hertz of [30, 440, 5000, 16_000]) expect(hertzAt(shareOf(hertz, axis), axis)).toBeCloseTo(hertz, 6);
    const edges = rowEdges(axis, 50);
    for (let i = 0; i < 50; i++) expect(edges[i + 1]!).toBeGreaterThan(edges[i]!);
  });
  it("take the largest bin in them, and what lies between bins where they are narrower", () => {
    const out = new Float32Array(2);
    rowsOfBins([0, 1, 5, 2, 0], 10, Float64Array.of(5, 35, 38), out);
    expect(Array.from(out)).toEqual([5, expect.closeTo(2 * 0.35, 5)]);
  });
});
