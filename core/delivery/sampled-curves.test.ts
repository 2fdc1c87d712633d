import { describe, expect, it } from "vitest";
import { layoutNamed } from "../audio/layout";
import { Measurer } from "../measure";
import { newChainEntry, type ChainEntry } from "../processors";
import { noise, sine } from "../testing/signals";
import { levelsAfter, levelsOf, predictNow } from "./predict-chain";
import { predictDelivery } from "./predict-delivery";
import { sampled, type Predictable } from "./sampled-curves";
import { specNamed } from "./specs";

const RATE = 8000;
/** Sound that swells within seconds, over minutes, with one loud stroke. */
function long(minutes: number): Predictable {
  const measurer = new Measurer({ sampleRate: RATE, layout: layoutNamed("mono")! });
  for (let second = 0; second < 60 * minutes; second++) {
    const level = -24 + 6 * Math.sin(second / 7) + 3 * Math.sin(second / 150);
    const x = noise(1, RATE, level, second + 1);
    if (second === 437) x.set(sine(700, -2, 0.05, RATE), 4000);
    measurer.process([x]);
  }
  const { figures, curves } = measurer.result();
  return { figures, curves, known: null };
}
const whole = long(20);
const coarse = sampled(whole, 2000);
const compressor = { ...newChainEntry("compressor", "c"), thresholdDb: -30, ratio: 3 } as ChainEntry;
const gain = { ...newChainEntry("gain", "g"), gainDb: 4 } as ChainEntry;

describe("curves while a setting moves", () => {
  it("are the whole ones where they are short, and a part of them where they are long", () => {
    expect(sampled(whole, 12_100)).toBe(whole);
    const steps = coarse.curves.momentaryLufs.values.length;
    expect(steps).toBeLessThanOrEqual(2200);
    expect(steps).toBeGreaterThan(1800);
    expect(coarse.curves.samplePeakDbfs.values.length).toBe(steps);
    expect(coarse.figures).toBe(whole.figures);
  });

  it("keep the highest peak: what limits is seen", () => {
    expect(Math.max(...coarse.curves.samplePeakDbfs.values)).toBe(Math.max(...whole.curves.samplePeakDbfs.values));
  });

  it.each([
    ["gain", [gain], 0.001],
    ["a compressor", [compressor], 0.15],
    ["both", [compressor, gain], 0.15],
  ])("predict after %s what all of it predicts, within %s LU", (_, chain, within) => {
    const [all, part] = [whole, coarse].map(({ figures, curves }) => predictNow(figures, curves, chain));
    expect(Math.abs(part!.integratedLufs! - all!.integratedLufs!)).toBeLessThanOrEqual(within);
    expect(part!.truePeakDbtp!).toBeCloseTo(all!.truePeakDbtp!, 1);
  });

  it("predict a master with its limiter nearly alike", () => {
    const spec = specNamed("streaming-14");
    const [all, part] = [whole, coarse].map(({ figures, curves }) => predictDelivery(figures, curves, [gain], spec));
    expect(part!.limitingDb).toBeCloseTo(all!.limitingDb, 0);
    expect(Math.abs(part!.gainDb - all!.gainDb)).toBeLessThan(0.3);
  });

  it("thin what was measured along the chain by the same stretches", () => {
    const after = levelsAfter(whole.figures, whole.curves, [gain]);
    const known = sampled({ ...whole, known: { chain: [gain], after: [after] } }, 2000).known!;
    const expected = levelsAfter(coarse.figures, coarse.curves, [gain]);
    expect(known.after[0]!.momentaryLufs).toEqual(expected.momentaryLufs);
    expect(known.after[0]!.peakDb).toEqual(expected.peakDb);
  });
});

describe("levels after a chain", () => {
  it("are made once for all who ask for the same, and anew for another setting", () => {
    const { figures, curves } = whole;
    const once = levelsAfter(figures, curves, [compressor]);
    expect(levelsAfter(figures, curves, [{ ...compressor }])).toBe(once);
    expect(levelsAfter(figures, curves, [{ ...compressor, ratio: 4 } as ChainEntry])).not.toBe(once);
    expect(levelsAfter(figures, curves, []).momentaryLufs).toBe(levelsOf(figures, curves).momentaryLufs);
  });
});
