import { describe, expect, it } from "vitest";
import { format, measured } from "../testing/measured";
import { memoryFrames, noise, sine } from "../testing/signals";
import { Measurer } from ".";
import { analyseSegment, SegmentMerger, segmentsOf } from "./segments";

/** Two and a half minutes with everything that can cross the edge of a segment. */
function recording(sampleRate: number): Float32Array[] {
  const seconds = 150.37;
  const left = noise(seconds, sampleRate, -12, 1);
  const right = sine(440, -6, seconds, sampleRate).map((v, n) => v * (1 + 0.5 * Math.sin(n / 9000)) + left[n]! / 9);
  const at = (time: number) => Math.round(time * sampleRate);
  for (const x of [left, right]) {
    x.fill(0, at(59.8), at(60.4)); // digital silence over an edge
    x.fill(0, at(149.9));
  }
  left.fill(1, at(120) - 20, at(120) + 20); // a clipped run over an edge
  left[at(60) + 3] = NaN;
  right[at(120) - 2] = Infinity;
  right[at(119.9)] = 0.99;
  return [left, right];
}

describe.each([8000, 11_025, 44_100])("segments analysed apart, at %i Hz", (sampleRate) => {
  const stream = format(sampleRate);
  const block = recording(sampleRate);

  it("merge to the figures and curves of one pass, to the bit, in whatever order they come", async () => {
    const source = memoryFrames(block, sampleRate);
    const count = segmentsOf(source.frames, sampleRate);
    expect(count).toBe(8);
    const merger = new SegmentMerger(stream);
    for (const segment of [7, 2, 0, 1, 5, 4, 3, 6])
      merger.take(segment, structuredClone(await analyseSegment(source, stream, segment)));
    const merged = merger.result();
    const measurer = new Measurer(stream);
    measurer.process(block);
    const whole = measurer.result();
    expect(merged.figures).toEqual(whole.figures);
    expect(merged.figures.nonFiniteSamples).toBe(2);
    expect(merged.figures.clippedRuns.longestSamples).toBe(40);
    for (const [name, curve] of Object.entries(whole.curves))
      expect(merged.curves[name as keyof typeof merged.curves]).toEqual(curve);
  });
});

describe("blocks", () => {
  it.each([1, 64, 777, 65_536])("of %i frames give the same bits as any other size", (size) => {
    const block = recording(8000).map((x) => x.subarray(8000 * 58, 8000 * 63));
    expect(measured(block, format(8000), size)).toEqual(measured(block, format(8000), 4096));
  });
});
