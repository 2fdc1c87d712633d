import fc from "fast-check";
import { describe, expect, it } from "vitest";
import { Random } from "../math/random";
import { harmonicCanceller } from "./harmonic-canceller";
import { steadyTone } from "./steady-tone";

const FRAMES = 240;

/** A band that holds one exponential, with bursts of something else in a third of it. */
function band(turnsPerFrame: number, bend: number, seed: number) {
  const random = new Random(seed);
  const [re, im] = [new Float64Array(FRAMES), new Float64Array(FRAMES)];
  for (let n = 0; n < FRAMES; n++) {
    const turns = 2 * Math.PI * (0.13 + turnsPerFrame * n + bend * n * n);
    const loud = n % 30 < 10 ? 5 : 0;
    re[n] = 0.02 * Math.cos(turns) + loud * random.between(-1, 1);
    im[n] = 0.02 * Math.sin(turns) + loud * random.between(-1, 1);
  }
  return { re, im };
}

const quantileDb = (share: number) => (x: Float64Array) =>
  10 * Math.log10(x.slice().sort()[Math.floor(share * x.length)]!);
const [quarterDb, medianDb] = [quantileDb(0.25), quantileDb(0.5)];

describe("a tone that never changes", () => {
  it("is found exactly under bursts that are 48 dB louder", () => {
    fc.assert(
      fc.property(fc.double({ min: -0.0015, max: 0.0015, noNaN: true }), fc.nat(), (turnsPerFrame, seed) => {
        const { re, im } = band(turnsPerFrame, 0, seed);
        const tone = steadyTone(re, im, 0);
        expect(tone.turnsPerFrame).toBeCloseTo(turnsPerFrame, 6);
        expect(tone.re).toBeCloseTo(0.02 * Math.cos(2 * Math.PI * 0.13), 4);
        expect(tone.im).toBeCloseTo(0.02 * Math.sin(2 * Math.PI * 0.13), 4);
        expect(quarterDb(tone.left)).toBeLessThan(-80);
      }),
      { numRuns: 20 },
    );
  });
  it("leaves much where the frequency moves, so that it is not taken for one", () => {
    const { re, im } = band(0, 3e-5, 5);
    expect(medianDb(steadyTone(re, im, 0).left)).toBeGreaterThan(-50);
  });
  it("is nothing in silence", () => {
    expect(steadyTone(new Float64Array(20), new Float64Array(20), 0)).toMatchObject({ re: 0, im: 0, turnsPerFrame: 0 });
  });
});

describe("the sum of the tones", () => {
  const rate = 12_000;
  const y = Float32Array.from({ length: 5 * rate }, (_, i) => 0.1 * Math.sin((2 * Math.PI * 1234.5 * i) / rate + 1));
  const setting = { baseHz: 1234, multiples: [1], withinHz: 2, steadySeconds: 0.6 };
  it("is the steady tone itself up to both ends, and goes on beyond them", () => {
    const margin = 20;
    const tones = harmonicCanceller(y, 0, rate, setting, margin);
    expect(tones).toHaveLength(y.length + 2 * margin);
    for (let i = -margin; i < y.length + margin; i++)
      expect(Math.abs(tones[i + margin]! - 0.1 * Math.sin((2 * Math.PI * 1234.5 * i) / rate + 1))).toBeLessThan(1e-5);
  });
});
