import { describe, expect, it } from "vitest";
import { VALUES } from "@core/measure/waveform-peaks";
import { INKS, recorder } from "../../tests/components/canvas-recorder";
import { columnRange, drawCorrelation, drawReduction } from "../timeline/draw-curves";
import { drawLoudness, loudnessY } from "../timeline/draw-loudness";
import { drawRuler } from "../timeline/draw-ruler";
import { channelRow, drawWaveform } from "../timeline/draw-waveform";

describe("lanes", () => {
  it("draw peaks in grey and the RMS body in ink, to scale", () => {
    const { context, rects } = recorder();
    const column = Float32Array.of(-0.5, 1, 0.25);
    expect(column).toHaveLength(VALUES);
    drawWaveform(context, { width: 1, height: 100, columns: [column], labels: ["M"], scale: 1 }, INKS);
    const { middle, half } = channelRow(0, 1, 100);
    expect(rects[0]).toEqual({ ink: "peak", x: 0, y: middle - half, width: 1, height: 1.5 * half });
    expect(rects[1]).toEqual({ ink: "ink", x: 0, y: middle - 0.25 * half, width: 1, height: 0.5 * half });
  });
  it("draw nothing where nothing is known yet", () => {
    const { context, rects } = recorder();
    drawWaveform(
      context,
      { width: 1, height: 100, columns: [Float32Array.of(NaN, NaN, NaN)], labels: [], scale: 1 },
      INKS,
    );
    expect(rects).toEqual([]);
  });
  it("put loudness at its height, over the target's band", () => {
    const { context, rects, points } = recorder();
    const model = {
      width: 100,
      height: 80,
      view: { start: 0, end: 1 },
      hopSeconds: 0.5,
      momentary: Float32Array.of(-23, -23),
      shortTerm: Float32Array.of(-30, -30),
      offset: 0,
      shiftDb: 2,
      target: { min: -23.5, max: -22.5 },
      shortTermMax: undefined,
    };
    drawLoudness(context, model, INKS);
    expect(rects[0]).toMatchObject({ ink: "band", y: loudnessY(-22.5, 80) });
    expect(points.filter(({ ink }) => ink === "peak").map(({ y }) => y)).toEqual([
      loudnessY(-21, 80),
      loudnessY(-21, 80),
    ]);
    expect(points.filter(({ ink }) => ink === "ink").map(({ x }) => x)).toEqual([50, 100]);
  });
  it("label the ruler inside the lane", () => {
    const { context, texts } = recorder();
    const time = { sampleRate: 48_000, tempo: null };
    drawRuler(context, { width: 932, height: 26, view: { start: 0, end: 48 }, format: "clock", time }, INKS);
    expect(texts.slice(0, 3)).toEqual(["0:00", "0:05", "0:10"]);
  });
  it("show the worst of the steps that share a column", () => {
    const model = {
      width: 2,
      height: 40,
      view: { start: 0, end: 4 },
      hopSeconds: 0.5,
      values: [0.9, 0.2, NaN, 0.5, 1, -0.5, 1, 1],
    };
    expect(columnRange(model, 0, (a, b) => a < b)).toBe(0.2);
    expect(columnRange(model, 1, (a, b) => a < b)).toBe(-0.5);
    const { context, rects } = recorder();
    drawCorrelation(context, model, INKS);
    // +1 is at the top, −1 at the bottom, each from the line of 0.
    expect(rects[0]).toMatchObject({ x: 0, y: 16.4 });
    expect(rects[1]).toMatchObject({ x: 1, y: 20, height: 9 });
  });
  it("draw what a limiter takes off from the top down", () => {
    const { context, rects } = recorder();
    const model = { width: 2, height: 26, view: { start: 0, end: 2 }, hopSeconds: 1, values: [0, 3] };
    drawReduction(context, model, 12, INKS);
    expect(rects).toEqual([{ ink: "ink", x: 1, y: 0, width: 1, height: 6 }]);
  });
  it("take the colour of each column from its tone", () => {
    const { context, rects } = recorder();
    const columns = [Float32Array.of(-0.5, 0.5, 0.2, -0.25, 0.25, 0.1)];
    const inkAt = (x: number) => (x === 0 ? "dull" : null);
    drawWaveform(context, { width: 2, height: 100, columns, labels: ["M"], scale: 1, inkAt }, INKS);
    expect(rects.map(({ ink }) => ink)).toEqual(["dull", "peak"]);
  });
  it("ask for the tone of a column once, however many channels are drawn in it", () => {
    const { context, rects } = recorder();
    const columns = Array.from({ length: 24 }, () => Float32Array.of(-0.5, 0.5, 0.2, -0.25, 0.25, 0.1));
    let asked = 0;
    const inkAt = () => (asked++, "bright");
    drawWaveform(context, { width: 2, height: 480, columns, labels: [], scale: 1, inkAt }, INKS);
    expect(asked).toBe(2);
    expect(rects).toHaveLength(48);
  });
});
