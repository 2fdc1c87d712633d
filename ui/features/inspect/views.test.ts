import { describe, expect, it } from "vitest";
import { Measurer } from "@core/measure";
import { layoutNamed } from "@core/audio/layout";
import { joined, noise, sine } from "@core/testing/signals";
import { correlationColour, levelColour, needsLightWords } from "@ui/canvas/scales";
import { brokenLimits } from "./limit-violations";
import { MORE_FIGURES } from "./more-figures";

const limit = (figure: "shortTermMaxLufs" | "momentaryMaxLufs", max: number) => ({
  figure,
  max,
  required: true,
  marginalWithin: 0.1,
  clause: "",
});
const curve = (values: number[]) => ({ hopSeconds: 0.1, columns: 1, values: Float32Array.from(values) });

describe("where limits are broken", () => {
  const quiet = curve(new Array<number>(60).fill(-30));
  const loud = curve([...new Array<number>(20).fill(-30), -17, -16, -17, ...new Array<number>(10).fill(-30), -15, -30]);
  it("is told from the first window above to the last, the worst first", () => {
    const found = brokenLimits({ momentaryLufs: loud, shortTermLufs: quiet }, [limit("momentaryMaxLufs", -18)]);
    expect(found.map(({ worst }) => worst)).toEqual([-15, -16]);
    expect(found[1]!.start).toBeCloseTo(1.7, 6);
    expect(found[1]!.end).toBeCloseTo(2.3, 6);
  });
  it("is nowhere where nothing is above, or nothing is limited", () => {
    expect(brokenLimits({ momentaryLufs: loud, shortTermLufs: quiet }, [limit("shortTermMaxLufs", -18)])).toEqual([]);
    expect(brokenLimits({ momentaryLufs: loud, shortTermLufs: quiet }, [])).toEqual([]);
  });
});

describe("figures that nothing limits", () => {
  const figuresOf = (block: Float32Array[], layout: string) => {
    const measurer = new Measurer({ sampleRate: 16_000, layout: layoutNamed(layout)! });
    measurer.process(block);
    return measurer.result().figures;
  };
  const x = joined(noise(1, 16_000, -75, 2), noise(4, 16_000, -14, 1), noise(2, 16_000, -75, 3));
  it("leave out what says nothing of the recording, and lead within it", () => {
    const mono = figuresOf([x], "mono");
    const shown = MORE_FIGURES.flatMap(({ label, read }) => (read(mono) ? [{ label, ...read(mono)! }] : []));
    expect(shown.map(({ label }) => label)).not.toContain("Balance");
    expect(shown.map(({ label }) => label)).toContain("Head");
    for (const { place, text } of shown) {
      expect(text).not.toMatch(/NaN|null|undefined/);
      if (place) expect(place.seconds).toBeLessThan(mono.durationSeconds);
    }
  });
  it("name the sides of a stereo recording", () => {
    const stereo = figuresOf([x, x.map((v) => v / 2)], "stereo");
    const balance = MORE_FIGURES.find(({ label }) => label === "Balance")!.read(stereo)!;
    expect(balance.text).toBe("6.0");
  });
  it("have none of a tone that could be room tone", () => {
    const tone = figuresOf([sine(500, -20, 2, 16_000)], "mono");
    expect(MORE_FIGURES.find(({ label }) => label === "Head")!.read(tone)).toBeNull();
  });
});

describe("colour scales", () => {
  const light = (ink: string) =>
    ink
      .match(/\d+/g)!
      .map(Number)
      .reduce((sum, v) => sum + v, 0);
  it("grow lighter with energy, evenly and within their ends", () => {
    const steps = Array.from({ length: 11 }, (_, i) => light(levelColour(i / 10)));
    expect([...steps].sort((a, b) => a - b)).toEqual(steps);
    expect(levelColour(-1)).toBe(levelColour(0));
    expect(levelColour(-Infinity)).toBe(levelColour(0));
    expect(levelColour(2)).toBe(levelColour(1));
  });
  it("are palest where nothing correlates, and dark enough for light words at the ends", () => {
    for (const end of [-1, 1]) {
      expect(light(correlationColour(end))).toBeLessThan(light(correlationColour(0)));
      expect(needsLightWords(end)).toBe(true);
    }
    expect(needsLightWords(0)).toBe(false);
  });
});
