import { describe, expect, it } from "vitest";
import { ChainStage } from "../render/chain-stage";
import { layoutNamed } from "../audio/layout";
import { dbToGain } from "../audio/decibel";
import { framesOf, slicePlanar, type Planar } from "../audio/units";
import { bandLimited, exactTruePeakDb, joined, noise, sameBits, sine } from "../testing/signals";
import type { ChainEntry } from ".";

const FORMAT = { sampleRate: 48000, layout: layoutNamed("stereo")! };

function through(chain: ChainEntry[], block: Planar, blockSize = 4096): Planar {
  const stage = new ChainStage(chain, FORMAT);
  const parts: Planar[] = [];
  for (let at = 0; at < framesOf(block); at += blockSize)
    parts.push(stage.push(slicePlanar(block, at, Math.min(framesOf(block), at + blockSize))));
  parts.push(stage.finish());
  return block.map((_, c) => joined(...parts.flatMap((part) => (part[c] ? [part[c]] : []))));
}

const limiter = (more: Partial<ChainEntry> = {}): ChainEntry[] => [
  { type: "limiter", bypass: false, ceilingDbtp: -6, ...more },
];

/** Bursts between silences: the hardest for a look-ahead. */
function bursts(): Float32Array {
  const x = new Float32Array(48000);
  for (let n = 0; n < 24; n++) {
    const burst = noise(0.004 + n * 0.0003, 48000, 3, n + 1);
    x.set(burst, 800 + n * 1900);
  }
  return x;
}

const SIGNALS: Record<string, () => Float32Array> = {
  "noise 12 dB over": () => bandLimited(noise(0.4, 48000, 6, 1)),
  "a tone at a quarter of the rate, 45° off the samples": () => sine(12000, 3, 0.15, 48000, 0.125),
  "a tone at 0.45 of the rate": () => sine(21600, 3, 0.15, 48000, 0.3),
  "a bass note": () => sine(41, 5, 0.2, 48000),
  "bursts out of silence": () => bandLimited(bursts()),
  "single samples": () => new Float32Array(24000).map((_, i) => (i % 1777 === 0 ? 1.9 : 0)),
  "steps of a square wave": () => sine(180, 0, 0.15, 48000).map((v) => Math.sign(v) * 1.4),
};

describe("limiter", () => {
  it.each(Object.keys(SIGNALS))(
    "never lets %s over its ceiling by more than 0.02 dB, by exact interpolation",
    (name) => {
      const x = SIGNALS[name]!();
      const [left, right] = through(limiter(), [x, x.map((v) => v * 0.5)]);
      expect(exactTruePeakDb(left!)).toBeLessThanOrEqual(-6 + 0.02);
      expect(exactTruePeakDb(right!)).toBeLessThanOrEqual(-6 + 0.02);
    },
  );

  it("gives the same bits where nothing reaches the ceiling", () => {
    const x = [noise(0.5, 48000, -20, 3), noise(0.5, 48000, -20, 4)];
    expect(sameBits(through(limiter(), x), x)).toBe(true);
  });

  it("does not depend on block sizes, to the bit", () => {
    const x = [noise(0.3, 48000, 3, 5), noise(0.3, 48000, 0, 6)];
    const whole = through(limiter(), x, 1e9);
    for (const size of [1, 64, 777, 4096]) expect(sameBits(through(limiter(), x, size), whole)).toBe(true);
  });

  it("keeps the image: linked sides are cut alike, unlinked ones each for itself", () => {
    const loud = sine(900, 0, 0.5, 48000);
    const quiet = sine(440, -30, 0.5, 48000);
    const linked = through(limiter(), [loud, quiet])[1]!;
    const alone = through(limiter({ link: false }), [loud, quiet])[1]!;
    expect(sameBits([alone], [quiet])).toBe(true);
    const rms = (x: Float32Array) => Math.sqrt(x.subarray(8000, 20000).reduce((sum, v) => sum + v * v, 0) / 12000);
    expect(20 * Math.log10(rms(linked) / rms(quiet))).toBeCloseTo(-6, 1);
  });

  it("cuts low tones of linked sides alike where the bass is not held back apart", () => {
    const [loud, quiet] = [sine(300, 0, 0.5, 48000), sine(440, -30, 0.5, 48000)];
    const out = through(limiter({ bassApart: false }), [loud, quiet])[1]!;
    const rms = (x: Float32Array) => Math.sqrt(x.subarray(8000, 20000).reduce((sum, v) => sum + v * v, 0) / 12000);
    expect(20 * Math.log10(rms(out) / rms(quiet))).toBeCloseTo(-6, 1);
  });

  it("leaves high tones alone where strokes of bass rise 5 dB above the ceiling, unless it is told not to", () => {
    const bass = sine(50, -1, 3, 48000).map((v, i) => v * Math.exp(-(((i / 48000) * 2) % 1) * 5));
    const hat = sine(8000, -26, 3, 48000);
    const x = bass.map((v, i) => v + hat[i]!);
    /** Least and greatest level of the high tone over 10 ms, in dB. */
    const moves = (bassApart: boolean): number => {
      const out = through(limiter({ bassApart }), [x, x])[0]!;
      const levels = Array.from({ length: 200 }, (_, n) => {
        const part = out.subarray(24000 + n * 480, 24480 + n * 480);
        const along = (turn: (at: number) => number) =>
          part.reduce((sum, v, i) => sum + v * turn((2 * Math.PI * 8000 * i) / 48000), 0);
        return 20 * Math.log10(Math.hypot(along(Math.cos), along(Math.sin)));
      });
      return Math.max(...levels) - Math.min(...levels);
    };
    expect(moves(true)).toBeLessThan(0.3);
    expect(moves(false)).toBeGreaterThan(2);
  });

  it("takes its delay back", () => {
    const x = new Float32Array(4800);
    x[2400] = 0.1;
    expect(through(limiter(), [x, x])[0]![2400]).toBe(x[2400]);
  });

  it("lets go again after a peak", () => {
    const x = sine(1000, -12, 3, 48000);
    for (let i = 0; i < 48; i++) x[24000 + i]! *= 6;
    const out = through(limiter(), [x, x])[0]!;
    const late = out.subarray(130_000, 140_000);
    expect(Math.max(...late)).toBeCloseTo(dbToGain(-12), 4);
  });
});

describe("gain", () => {
  it("at 0 dB gives the same bits, and is linear", () => {
    const x = [noise(0.05, 48000, -6, 7), noise(0.05, 48000, -6, 8)];
    expect(through([{ type: "gain", bypass: false, gainDb: 0 }], x)).toEqual(x);
    const louder = through([{ type: "gain", bypass: false, gainDb: 20 }], x)[0]!;
    x[0]!.forEach((v, i) => expect(louder[i]).toBeCloseTo(v * 10, 5));
    expect(through([{ type: "gain", bypass: false, gainDb: 0, invert: true }], x)[0]![5]).toBe(-x[0]![5]!);
  });
});
