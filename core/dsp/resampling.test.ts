import { describe, expect, it } from "vitest";
import { joined, sine } from "../testing/signals";
import { ResampleStage, resampledFrames } from "./resampling";

function resampled(x: Float32Array, from: number, to: number, blockSize = 4096): Float32Array {
  const stage = new ResampleStage(from, to, 1);
  const parts: Float32Array[] = [];
  for (let at = 0; at < x.length; at += blockSize) parts.push(stage.push([x.subarray(at, at + blockSize)])[0]!);
  parts.push(stage.finish()[0]!);
  return joined(...parts);
}

/** Amplitude of a tone in the middle of x, in dB. */
function levelOf(x: Float32Array, hertz: number, rate: number): number {
  let sine = 0;
  let cosine = 0;
  let weight = 0;
  const from = Math.floor(x.length * 0.1);
  const to = Math.floor(x.length * 0.9);
  for (let i = from; i < to; i++) {
    const w = 0.5 - 0.5 * Math.cos((2 * Math.PI * (i - from)) / (to - from));
    sine += w * x[i]! * Math.sin((2 * Math.PI * hertz * i) / rate);
    cosine += w * x[i]! * Math.cos((2 * Math.PI * hertz * i) / rate);
    weight += w;
  }
  return 20 * Math.log10((2 * Math.hypot(sine, cosine)) / weight);
}

describe("sample-rate conversion", () => {
  it.each([
    [44100, 48000],
    [48000, 44100],
    [96000, 44100],
    [48000, 96000],
  ])("from %i to %i Hz is flat within 0.001 dB to 0.91 of the lower Nyquist", (from, to) => {
    const edge = 0.91 * (Math.min(from, to) / 2);
    for (const hertz of [100, 1000, edge / 2, edge * 0.99]) {
      const out = resampled(sine(hertz, -6, 0.5, from), from, to);
      expect(Math.abs(levelOf(out, hertz, to) + 6)).toBeLessThanOrEqual(0.001);
    }
  });
  it("keeps aliases at −140 dB or lower", () => {
    const out = resampled(sine(30_000, 0, 0.4, 96000), 96000, 44100);
    expect(levelOf(out, 44_100 - 30_000, 44100)).toBeLessThan(-140);
  });
  it("keeps length and time: a click stays where it is", () => {
    const x = new Float32Array(9600);
    x[4800] = 1;
    const out = resampled(x, 96000, 48000);
    expect(out).toHaveLength(resampledFrames(9600, 96000, 48000));
    expect(out.indexOf(Math.max(...out))).toBe(2400);
  });
  it("does not depend on block sizes", () => {
    const x = sine(440, -6, 0.2, 44100);
    expect(resampled(x, 44100, 48000, 100)).toEqual(resampled(x, 44100, 48000, 1e6));
  });
});
