import { describe, expect, it } from "vitest";
import { downmixMatrix, downmixed } from "../audio/downmix";
import { layoutNamed } from "../audio/layout";
import { Measurer } from "../measure";
import { noise } from "../testing/signals";
import { foldChange, onFoldDown } from "./on-fold-down";
import { predictDelivery } from "./predict-delivery";
import { specNamed } from "./specs";

const RATE = 48_000;

describe("figures on the fold-down", () => {
  const wide = layoutNamed("7.1.4")!;
  const block = wide.speakers.map((_, c) => noise(4, RATE, -24, c + 1));
  const measured = (name: string, x: Float32Array[]) => {
    const measurer = new Measurer({ sampleRate: RATE, layout: layoutNamed(name)! });
    measurer.process(x);
    return measurer.result();
  };
  const programme = measured("7.1.4", block);
  const surround = measured("5.1", downmixed(block, downmixMatrix(wide, "5.1")!, block[0]!.length));
  const change = foldChange(programme.figures, surround.figures);

  it("are those that the fold-down measures, and peaks those of the programme", () => {
    const folded = onFoldDown(programme.figures, change);
    expect(folded.integratedLufs).toBeCloseTo(surround.figures.integratedLufs!, 9);
    expect(folded.truePeakDbtp).toBe(programme.figures.truePeakDbtp);
    expect(Math.abs(change.integratedLufs!)).toBeGreaterThan(0.2);
  });
  it("decide the gain of a spec that is measured there", () => {
    const spec = specNamed("immersive-18");
    expect(spec.measuredOn).toBe("5.1");
    const { gainDb, figures } = predictDelivery(onFoldDown(programme.figures, change), programme.curves, [], spec);
    expect(figures.integratedLufs).toBeCloseTo(spec.target!, 1);
    expect(gainDb).toBeCloseTo(spec.target! - surround.figures.integratedLufs!, 1);
  });
  it("stay as they are where nothing is known, or nothing sounds", () => {
    expect(onFoldDown(programme.figures, {})).toEqual(programme.figures);
    const silent = { ...programme.figures, integratedLufs: null };
    expect(foldChange(silent, surround.figures).integratedLufs).toBeUndefined();
    expect(onFoldDown(silent, change).integratedLufs).toBeNull();
  });
});
