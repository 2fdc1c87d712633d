import { describe, expect, it } from "vitest";
import { Measurer } from "../measure";
import { layoutNamed } from "../audio/layout";
import { framesOf, type Planar } from "../audio/units";
import type { ChainEntry } from "../processors";
import { joined, noise, sine } from "../testing/signals";
import { specNamed } from "./specs";
import { ChainStage } from "../render/chain-stage";
import { curvesOfStretch, figuresOfStretch, levelsOf, predictNow } from "./predict-chain";
import { predictDelivery } from "./predict-delivery";

const FORMAT = { sampleRate: 48000, layout: layoutNamed("stereo")! };

function measured(block: Planar) {
  const measurer = new Measurer(FORMAT);
  measurer.process(block, framesOf(block));
  return measurer.result();
}

const quiet = noise(6, 48000, -24, 1);
const loud = sine(500, -16, 6, 48000).map((v, i) => (i % 24000 < 2400 ? v * 2.5 : v));
const block = [joined(quiet, loud), joined(quiet, loud)];
const { figures, curves } = measured(block);

describe("predictions", () => {
  it("of gain are exact", () => {
    const now = predictNow(figures, curves, [{ type: "gain", bypass: false, gainDb: 3 }]);
    expect(now.integratedLufs).toBeCloseTo(figures.integratedLufs! + 3, 3);
    expect(now.truePeakDbtp).toBeCloseTo(figures.truePeakDbtp! + 3, 3);
    expect(now.noiseFloorDbfs).toBeCloseTo(figures.noiseFloorDbfs! + 3, 3);
  });
  it("of a limiter are near what comes out", () => {
    const chain = [{ type: "limiter", bypass: false, ceilingDbtp: -10 }];
    const stage = new ChainStage(chain, FORMAT);
    const parts = [stage.push(block), stage.finish()];
    const after = measured([0, 1].map((c) => joined(...parts.map((part) => part[c]!)))).figures;
    const now = predictNow(figures, curves, chain);
    expect(Math.abs(now.truePeakDbtp! - after.truePeakDbtp!)).toBeLessThan(0.3);
    expect(Math.abs(now.integratedLufs! - after.integratedLufs!)).toBeLessThan(1.5);
  });
  it("begin where the chain was last measured, as far as it is still the same", () => {
    const first = { type: "compressor", id: "c", bypass: false, thresholdDb: -30, ratio: 4 };
    const through = (chain: ChainEntry[]) => {
      const stage = new ChainStage(chain, FORMAT);
      const parts = [stage.push(block), stage.finish()];
      return measured([0, 1].map((c) => joined(...parts.flatMap((part) => part[c] ?? []))));
    };
    const after = through([first]);
    const known = { chain: [first], after: [levelsOf(after.figures, after.curves)] };
    const gain = { type: "gain", id: "g", bypass: false, gainDb: 2 };
    const now = predictNow(figures, curves, [first, gain], known);
    expect(now.integratedLufs).toBeCloseTo(after.figures.integratedLufs! + 2, 1);
    expect(now.truePeakDbtp).toBeCloseTo(after.figures.truePeakDbtp! + 2, 2);
    // Of another compressor nothing is known.
    const other = [{ ...first, ratio: 2 }, gain];
    expect(predictNow(figures, curves, other, known)).toEqual(predictNow(figures, curves, other));
  });
  it("of a delivery reach its target and its ceiling", () => {
    const spec = specNamed("ebu-r128");
    const { figures: master, gainDb, limitingDb } = predictDelivery(figures, curves, [], spec);
    expect(master.integratedLufs).toBeCloseTo(-23, 1);
    expect(gainDb).toBeCloseTo(-23 - figures.integratedLufs!, 1);
    expect(limitingDb).toBe(0);
  });
  it("of a stretch agree with measuring it", () => {
    const stretch = curvesOfStretch(curves, 6, 12);
    const alone = measured([loud, loud]).figures;
    const estimated = figuresOfStretch(figures, stretch);
    expect(Math.abs(estimated.integratedLufs! - alone.integratedLufs!)).toBeLessThan(0.3);
    expect(Math.abs(estimated.truePeakDbtp! - alone.truePeakDbtp!)).toBeLessThan(0.2);
    expect(estimated.durationSeconds).toBeCloseTo(6, 1);
  });
});
