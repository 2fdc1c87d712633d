import { describe, expect, it } from "vitest";
import { Ring } from "@playback/ring";
import { noise, sine } from "@core/testing/signals";
import {
  arrangementFor,
  arrangementJson,
  chooseArrangement,
  saveArrangement,
  moved,
  parseArrangement,
  useArrangements,
} from "./arrangement";
import { bandEdges, LIVE_POINTS, LiveSpectrum, RESOLUTIONS } from "./live-spectrum";

describe("arrangements of meters", () => {
  it("differ by the kind of project, until another is chosen", () => {
    expect(arrangementFor("immersive", useArrangements.getState()).name).toBe("Immersive");
    chooseArrangement("immersive", "Mastering");
    expect(arrangementFor("immersive", useArrangements.getState()).name).toBe("Mastering");
    expect(arrangementFor("music", useArrangements.getState()).name).toBe("Mastering");
  });
  it("go out and come in as JSON", () => {
    const own = { ...arrangementFor("audiobook", useArrangements.getState()), name: "Mine" };
    saveArrangement(own);
    expect(parseArrangement(arrangementJson(own))).toEqual(own);
    expect(useArrangements.getState().arrangements.some(({ name }) => name === "Mine")).toBe(true);
  });
  it("are refused in words when they are none", () => {
    expect(() => parseArrangement("{")).toThrow(/no JSON/);
    expect(() => parseArrangement('{"name":"x","scale":"LUFS","meters":[{"kind":"clouds","size":"tall"}]}')).toThrow(
      /meters\.0\.kind/,
    );
  });
  it("are reordered one by one", () => {
    const meters = (["loudness", "peaks", "clock"] as const).map((kind) => ({ kind, size: "small" as const }));
    expect(moved(meters, 2, -2).map(({ kind }) => kind)).toEqual(["clock", "loudness", "peaks"]);
    expect(moved(meters, 0, -1)).toEqual(meters);
  });
});

describe("the spectrum of several channels", () => {
  it("is the sum of their powers, whatever their phases", () => {
    const tone = sine(1000, -20, 1, 48_000);
    const ring = Ring.create(4);
    [tone, tone, tone, tone.map((v) => -v), tone, new Float32Array(48_000)].forEach((samples, plane) =>
      ring.put(plane, 0, samples.subarray(0, LIVE_POINTS)),
    );
    ring.advance(LIVE_POINTS);
    const highest = (of: readonly number[]) =>
      Math.max(...new LiveSpectrum().take(ring, of, bandEdges("1/3"), 48_000, "1/3"));
    expect(highest([0, 1]) - highest([0])).toBeCloseTo(3.01, 1);
    expect(highest([0, 1, 2]) - highest([2])).toBeCloseTo(4.77, 1);
    expect(highest([3])).toBeLessThan(-150);
  });
});

describe("spectrum of what is heard", () => {
  function heard(x: Float32Array, y = x): Ring {
    const ring = Ring.create(2);
    [x, y, x, y].forEach((samples, plane) => ring.put(plane, 0, samples.subarray(0, LIVE_POINTS)));
    ring.advance(LIVE_POINTS);
    return ring;
  }
  it.each(RESOLUTIONS)("shows a tone in its band, as strong as it is: %s", (resolution) => {
    const edges = bandEdges(resolution);
    const levels = new LiveSpectrum().take(
      heard(sine(1000, -20, 1, 48_000)),
      "left and right",
      edges,
      48_000,
      resolution,
    );
    const band = levels.indexOf(Math.max(...levels));
    expect(edges[band]!).toBeLessThan(1006);
    expect(edges[band + 1]!).toBeGreaterThan(994);
    expect(levels[band]!).toBeGreaterThan(-24.6);
    expect(levels[band]!).toBeLessThan(-22.9);
  });
  it("has mid bands at the standard's frequencies", () => {
    const middles = (resolution: "1/1" | "1/3") => {
      const edges = bandEdges(resolution);
      return edges.slice(1).map((edge, i) => Math.sqrt(edge * edges[i]!));
    };
    expect(middles("1/3")).toHaveLength(31);
    expect(middles("1/3")[17]).toBeCloseTo(1000, 6);
    expect(middles("1/1").some((hertz) => Math.abs(hertz - 1995.26) < 0.1)).toBe(true);
  });
  it("is of the middle or of the difference of the sides", () => {
    const x = noise(1, 48_000, -20, 5);
    const inverted = heard(
      x,
      x.map((v) => -v),
    );
    const edges = bandEdges("1/1");
    const power = (of: "mid" | "side") =>
      new LiveSpectrum().take(inverted, of, edges, 48_000, "1/1").reduce((sum, level) => sum + 10 ** (level / 10), 0);
    expect(power("mid")).toBeLessThan(1e-12);
    expect(10 * Math.log10(power("side"))).toBeGreaterThan(-33);
  });
});
