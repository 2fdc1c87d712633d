import { describe, expect, it } from "vitest";
import { layoutNamed } from "../audio/layout";
import { emptyPlanar } from "../audio/units";
import { format, measuredBy } from "../testing/measured";
import { noise, sine } from "../testing/signals";
import { bandLevels } from "./band-levels";
import { correlation } from "./correlation";
import { AZIMUTHS, azimuthColumn, directions, ELEVATIONS } from "./directions";
import { pairCurves } from "./pair-curve";
import { BAND_EDGES } from "./analysis-block";

const RATE = 16_000;
const layout = layoutNamed("7.1.4")!;

/** Where a sound in one speaker alone is seen: the columns with the most energy. */
function seenAt(label: string): { azimuth: number; elevation: number } {
  const block = emptyPlanar(layout.speakers.length, 2 * RATE);
  block[layout.speakers.findIndex((speaker) => speaker.label === label)] = noise(2, RATE, -12, 3);
  const { curves } = measuredBy(directions, block, { sampleRate: RATE, layout });
  const strongest = ({ values, columns }: { values: Float32Array; columns: number }) => {
    const sums = Array.from({ length: columns }, (_, c) =>
      values.reduce((sum, energy, i) => sum + (i % columns === c ? energy : 0), 0),
    );
    return sums.indexOf(Math.max(...sums));
  };
  return { azimuth: strongest(curves!.azimuths), elevation: strongest(curves!.elevations) };
}

describe("bands over time", () => {
  it("hold a tone's mean square in its band, while it sounds, as the mean of the channels", () => {
    const tone = sine(1100, -20, 2, RATE);
    const x = new Float32Array(4 * RATE);
    x.set(tone, 2 * RATE);
    const { curves } = measuredBy(bandLevels, [x, new Float32Array(x.length)], format(RATE));
    const { values, hopSeconds, columns } = curves!.bandPowers;
    const at = (seconds: number) => {
      const row = Math.floor(seconds / hopSeconds) * columns;
      return Array.from(values.subarray(row, row + columns), (power) => 10 * Math.log10(power));
    };
    expect(Math.max(...at(1))).toBeLessThan(-150);
    const sounding = at(3);
    // −20 dBFS peak is −23.01 dBFS, and half of it as the mean with a silent channel.
    expect(Math.max(...sounding)).toBeCloseTo(-26.02, 1);
    const band = sounding.indexOf(Math.max(...sounding));
    expect(BAND_EDGES[band]!).toBeLessThan(1100);
    expect(BAND_EDGES[band + 1]!).toBeGreaterThan(1100);
  });
});

describe("directions (Gerzon's energy vector)", () => {
  it.each(layout.speakers.filter(({ lfe }) => !lfe))(
    "of a sound in $label alone are those of the speaker",
    (speaker) => {
      const { azimuth, elevation } = seenAt(speaker.label);
      expect(azimuth).toBe(azimuthColumn(speaker.azimuth));
      expect(Math.abs(elevation - (speaker.elevation + 90) / 10)).toBeLessThanOrEqual(0.5);
    },
  );
  it("go once around: behind, left, front, right", () => {
    expect([180, 90, 0, -90].map(azimuthColumn)).toEqual([0, 9, 18, 27]);
    expect(azimuthColumn(-180)).toBe(0);
    for (let degrees = -180; degrees <= 180; degrees++) expect(azimuthColumn(degrees)).toBeLessThan(AZIMUTHS);
  });
  it("of a tone lie in the band of the tone", () => {
    const block = emptyPlanar(layout.speakers.length, 2 * RATE);
    block[0] = sine(1000, -12, 2, RATE);
    const { values } = measuredBy(directions, block, { sampleRate: RATE, layout }).curves!.bandAzimuths;
    const strongest = values.indexOf(Math.max(...values));
    expect(Math.floor(strongest / AZIMUTHS)).toBe(11); // 1 kHz to 1.4 kHz, or the one below
    expect(strongest % AZIMUTHS).toBe(azimuthColumn(30));
  });
  it("are none of two channels", () => {
    const { curves } = measuredBy(directions, [noise(1, RATE, -12, 1), noise(1, RATE, -12, 2)], format(RATE));
    expect(curves!.azimuths.values).toHaveLength(0);
    expect(curves!.bandAzimuths.values).toHaveLength(0);
    expect(curves!.elevations.columns).toBe(ELEVATIONS);
  });
});

describe("correlation over time", () => {
  const left = noise(4, RATE, -12, 1);
  const turns = left.map((v, n) => (n < 2 * RATE ? v : -v));
  const curvesOf = (right: Float32Array, withinDb: number) => {
    const { curves } = measuredBy(correlation, [left, right], format(RATE));
    return pairCurves(curves!.channelProducts, layoutNamed("stereo")!.speakers, RATE, withinDb)[0]!;
  };
  it("shows where a pair turns over", () => {
    const { values, hopSeconds } = curvesOf(turns, 20);
    expect(hopSeconds).toBe(0.4);
    expect(values[0]).toBeCloseTo(1, 4);
    expect(values[values.length - 1]).toBeCloseTo(-1, 4);
  });
  it("is not judged where one channel is far below, unless asked plainly", () => {
    const faint = left.map((v) => v * 0.01);
    expect(curvesOf(faint, 20)).toMatchObject({ correlation: null, judged: 0 });
    expect(curvesOf(faint, Infinity).correlation).toBeCloseTo(1, 4);
    expect(curvesOf(new Float32Array(left.length), Infinity).correlation).toBeNull();
  });
  it("judges the windows that fit, and says how many", () => {
    const half = left.map((v, n) => (n < 2 * RATE ? v : v * 0.001));
    expect(curvesOf(half, 20).judged).toBeCloseTo(0.5, 1);
  });
});
