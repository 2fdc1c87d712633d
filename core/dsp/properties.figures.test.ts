/** What each algorithm of dsp promises, over random settings: identities, sums, latencies and independence of blocks. */
import fc from "fast-check";
import { describe, expect, it } from "vitest";
import { Fft } from "../math/fft";
import { Random } from "../math/random";
import { noise, sine } from "../testing/signals";
import { bell, powerAt, shelf } from "./analogue-filter";
import { BiquadCascade } from "./biquad-cascade";
import { butterworth } from "./butterworth";
import { crossover } from "./crossover";
import { DelayLine } from "./delay-line";
import { compression, curveOf, expansion, GainFollower } from "./dynamics";
import { FirConvolver } from "./fir-convolver";
import { interpolateGaps, predictor } from "./linear-prediction";
import { linearPhaseTaps, minimumPhaseTaps } from "./magnitude-filter";
import { matchedFilter, powerOfBiquad } from "./matched-filter";
import { SincInterpolation } from "./sinc-interpolation";
import { Stft } from "./stft";

const RATE = 48_000;
const seeds = fc.integer({ min: 1, max: 1e6 });
const few = { numRuns: 12 };
const peakOf = (x: ArrayLike<number>) => Array.from(x).reduce((most, v) => Math.max(most, Math.abs(v)), 0);
const db = (ratio: number) => 20 * Math.log10(Math.max(ratio, 1e-15));
const errorDb = (a: ArrayLike<number>, b: ArrayLike<number>) =>
  db(peakOf(Array.from(a, (v, i) => v - b[i]!)) / peakOf(b));

/** Sends `x` through in blocks of random sizes. */
function inBlocks(x: Float32Array, seed: number, process: (part: Float32Array) => Float32Array): Float32Array {
  const random = new Random(seed);
  const out = new Float32Array(x.length);
  for (let at = 0; at < x.length;) {
    const count = Math.min(x.length - at, 1 + Math.floor(random.next() * 3000));
    out.set(process(x.slice(at, at + count)), at);
    at += count;
  }
  return out;
}

/** |H|² of an impulse response at frequencies. */
function powersOf(response: ArrayLike<number>, hertz: readonly number[]): number[] {
  let size = 2;
  while (size < response.length) size *= 2;
  const [re, im] = [new Float64Array(size), new Float64Array(size)];
  re.set(Array.from(response));
  new Fft(size).forward(re, im);
  return hertz.map((one) => {
    const k = Math.round((one * size) / RATE);
    return re[k]! ** 2 + im[k]! ** 2;
  });
}

describe("the STFT", () => {
  it("gives back what went in, wherever its blocks begin, in one channel and in two", () => {
    fc.assert(
      fc.property(
        seeds,
        fc.constantFrom(256, 1024, 4096),
        fc.integer({ min: 0, max: 100_000 }),
        (seed, size, first) => {
          const [a, b] = [noise(0.5, RATE, -6, seed), noise(0.5, RATE, -20, seed + 1)];
          const [x, y] = [a.slice(), b.slice()];
          const stft = new Stft(size);
          stft.analyse(x, y, first);
          // Only what four frames cover is whole.
          const [from, to] = [2 * size, x.length - 2 * size];
          stft.synthesise(x, y, { first, from, to, heldFrom: 0, heldTo: x.length });
          expect(errorDb(x.subarray(from, to), a.subarray(from, to))).toBeLessThan(-120);
          expect(errorDb(y.subarray(from, to), b.subarray(from, to))).toBeLessThan(-120);
          expect(x.subarray(0, from)).toEqual(a.subarray(0, from));
        },
      ),
      few,
    );
  });
  it("has the power of what went in, bin by bin and channel by channel", () => {
    const stft = new Stft(1024);
    const tone = sine(46.875 * 40, 0, 0.2, RATE);
    stft.analyse(tone, new Float32Array(tone.length), 0);
    const [a, b] = [new Float32Array(stft.bins), new Float32Array(stft.bins)];
    stft.powers(2, a, b);
    expect(a.indexOf(Math.max(...a))).toBe(40);
    expect(db(Math.sqrt(Math.max(...b) / Math.max(...a)))).toBeLessThan(-120);
  });
});

describe("crossovers", () => {
  const corners = fc
    .uniqueArray(fc.integer({ min: 60, max: 16_000 }), { minLength: 1, maxLength: 4 })
    .map((list) => list.sort((a, b) => a - b));
  const summed = (kind: "no delay" | "linear phase", list: number[], x: Float32Array) => {
    const split = crossover(kind, list, 1, RATE);
    const bands = split.split([x], x.length);
    const sum = new Float32Array(x.length);
    for (const [plane] of bands) for (let i = 0; i < sum.length; i++) sum[i]! += plane![i]!;
    return { sum, latency: split.latency, bands };
  };
  it("of linear phase add up to the signal itself, delayed by their latency", () => {
    fc.assert(
      fc.property(corners, seeds, (list, seed) => {
        const x = noise(1, RATE, -6, seed);
        const { sum, latency } = summed("linear phase", list, x);
        expect(errorDb(sum.subarray(latency), x.subarray(0, x.length - latency))).toBeLessThan(-100);
      }),
      few,
    );
  });
  it("of Linkwitz and Riley add up to an all-pass: the spectrum stays", () => {
    fc.assert(
      fc.property(corners, (list) => {
        const click = new Float32Array(1 << 15);
        click[0] = 1;
        const { sum, latency } = summed("no delay", list, click);
        expect(latency).toBe(0);
        for (const power of powersOf(sum, [50, 200, 1000, 5000, 15_000, ...list]))
          expect(Math.abs(10 * Math.log10(power))).toBeLessThan(0.01);
      }),
      few,
    );
  });
});

describe("filters that follow an analogue prototype", () => {
  const bells = fc.record({
    hertz: fc.integer({ min: 30, max: 16_000 }),
    gainDb: fc.double({ min: -18, max: 18, noNaN: true }),
    q: fc.double({ min: 0.4, max: 8, noNaN: true }),
  });
  it("keep its magnitude to 0.1 dB up to 20 kHz", () => {
    fc.assert(
      fc.property(bells, ({ hertz, gainDb, q }) => {
        const prototype = bell(hertz, gainDb, q);
        const filter = matchedFilter([prototype], RATE)!;
        const click = new Float32Array(1 << 16);
        click[0] = 1;
        new BiquadCascade(filter, 1).process([click], click.length);
        const places = [40, 200, 1000, 4000, 12_000, 19_000, hertz];
        const grid = places.map((one) => (Math.round((one * click.length) / RATE) * RATE) / click.length);
        powersOf(click, grid).forEach((power, i) =>
          expect(Math.abs(10 * Math.log10(power / powerAt(prototype, grid[i]!)))).toBeLessThan(0.1),
        );
      }),
      few,
    );
  });
  it("are undone by their opposites", () => {
    fc.assert(
      fc.property(bells, seeds, ({ hertz, gainDb, q }, seed) => {
        const there = new BiquadCascade(matchedFilter([bell(hertz, gainDb, q)], RATE)!, 1);
        const back = new BiquadCascade(matchedFilter([bell(hertz, -gainDb, q)], RATE)!, 1);
        const x = noise(0.5, RATE, -12, seed);
        const y = x.slice();
        there.process([y], y.length);
        back.process([y], y.length);
        // Phases are matched less well the nearer to half the rate.
        expect(errorDb(y.subarray(2000), x.subarray(2000))).toBeLessThan(hertz < 2000 ? -60 : -30);
      }),
      few,
    );
  });
  it("give the same whatever the blocks", () => {
    fc.assert(
      fc.property(seeds, (seed) => {
        const filter = matchedFilter([shelf("high", 3000, 6, 0.7)], RATE)!;
        const x = noise(0.5, RATE, -6, seed);
        const through = (of: number) => {
          const cascade = new BiquadCascade(filter, 1);
          return inBlocks(x, of, (part) => (cascade.process([part], part.length), part));
        };
        expect(through(seed)).toEqual(through(seed + 1));
      }),
      few,
    );
  });
  it("of Butterworth are 3 dB down at their corner and fall by 6 dB an octave and order", () => {
    fc.assert(
      fc.property(fc.integer({ min: 100, max: 3000 }), fc.constantFrom(2, 4, 6), (corner, order) => {
        const at = (hertz: number) =>
          butterworth("low", corner, order, RATE).reduce(
            (product, one) => product * powerOfBiquad(one, Math.sin((Math.PI * hertz) / RATE) ** 2),
            1,
          );
        expect(10 * Math.log10(at(corner))).toBeCloseTo(-3.01, 1);
        expect(10 * Math.log10(at(4 * corner) / at(2 * corner))).toBeLessThan(-5.5 * order);
      }),
    );
  });
});

describe("long filters", () => {
  const magnitude = (hertz: number) => (hertz < 2000 ? 1 : 0.25);
  it.each([
    ["linear", linearPhaseTaps],
    ["minimum", minimumPhaseTaps],
  ] as const)("of %s phase have the magnitude that was asked for", (_, make) => {
    const taps = make(magnitude, RATE);
    const [low, high] = powersOf(taps, [500, 8000]);
    expect(db(Math.sqrt(low!))).toBeCloseTo(0, 1);
    expect(db(Math.sqrt(high!))).toBeCloseTo(db(0.25), 1);
  });
  it("of linear phase are symmetric; those of minimum phase have their energy at the start", () => {
    const linear = linearPhaseTaps(magnitude, RATE);
    for (let i = 0; i < linear.length; i++) expect(linear[i]).toBeCloseTo(linear[linear.length - 1 - i]!, 12);
    const minimum = minimumPhaseTaps(magnitude, RATE);
    const energy = (from: number, to: number) => minimum.slice(from, to).reduce((sum, v) => sum + v * v, 0);
    expect(energy(0, 200) / energy(0, minimum.length)).toBeGreaterThan(0.99);
  });
  it("convolve as the definition does, whatever the blocks, in one channel and in three", () => {
    fc.assert(
      fc.property(seeds, fc.integer({ min: 3, max: 90 }), fc.constantFrom(1, 2, 3), (seed, length, channels) => {
        const random = new Random(seed);
        const taps = Float64Array.from({ length }, () => random.between(-1, 1));
        const x = noise(0.02, RATE, -6, seed);
        const expected = Float64Array.from(x, (_, n) => taps.reduce((sum, tap, k) => sum + tap * (x[n - k] ?? 0), 0));
        const convolver = new FirConvolver([taps], channels);
        const out = inBlocks(x, seed, (part) =>
          convolver
            .process(
              Array.from({ length: channels }, () => part),
              part.length,
            )[0]!
            [channels - 1]!.slice(),
        );
        expect(
          errorDb(out.subarray(convolver.latency), expected.subarray(0, x.length - convolver.latency)),
        ).toBeLessThan(-110);
      }),
      few,
    );
  });
});

describe("linear prediction", () => {
  it("finds the coefficients of what was made by them", () => {
    const random = new Random(7);
    const [a1, a2] = [-1.6, 0.81];
    const x = new Float64Array(20_000);
    for (let n = 2; n < x.length; n++) x[n] = random.between(-1, 1) - a1 * x[n - 1]! - a2 * x[n - 2]!;
    const a = predictor(x, 0, x.length, 2);
    expect(a[1]).toBeCloseTo(a1, 1);
    expect(a[2]).toBeCloseTo(a2, 1);
  });
  it("predicts silence as silence", () => {
    expect(Array.from(predictor(new Float64Array(500), 0, 500, 8))).toEqual([1, 0, 0, 0, 0, 0, 0, 0, 0]);
  });
  /** What is left of a disturbance of gaps in two tones, in dB, when those in one list are filled together. */
  function leftAfterFilling(hertz: number, together: (readonly [number, number])[][]): number {
    const clean = Float64Array.from(sine(hertz, -6, 0.1, RATE), (v, n) => v + 0.3 * Math.sin(n * 0.31));
    const spoilt = clean.slice();
    const skip = new Uint8Array(clean.length);
    for (const [from, to] of together.flat()) {
      spoilt.fill(0.9, from, to);
      skip.fill(1, from, to);
    }
    const filled = spoilt.slice();
    const a = predictor(spoilt, 1200, 3600, 32, skip);
    for (const list of together)
      interpolateGaps(
        filled,
        list.map(([from, to]) => ({ from, to, errorPower: 1e-9 })),
        a,
      );
    const off = (x: Float64Array) => x.reduce((sum, v, i) => sum + (v - clean[i]!) ** 2, 0);
    return 10 * Math.log10(off(filled) / off(spoilt));
  }
  const hertz = fc.integer({ min: 200, max: 4000 });
  it("fills a gap in tones: 30 dB nearer than what was there", () => {
    fc.assert(
      fc.property(hertz, fc.integer({ min: 8, max: 24 }), (tone, length) => {
        expect(leftAfterFilling(tone, [[[2400, 2400 + length]]])).toBeLessThan(-30);
      }),
      few,
    );
  });
  it("fills gaps that are near each other together, each of which would spoil the other", () => {
    fc.assert(
      fc.property(hertz, fc.integer({ min: 2, max: 20 }), (tone, between) => {
        const [one, other] = [
          [2400, 2410],
          [2410 + between, 2418 + between],
        ] as const;
        const left = leftAfterFilling(tone, [[one, other]]);
        expect(left).toBeLessThan(-20);
        expect(left).toBeLessThan(leftAfterFilling(tone, [[one], [other]]));
      }),
      few,
    );
  });
});

describe("dynamics", () => {
  const settings = fc.record({
    threshold: fc.double({ min: -50, max: -5, noNaN: true }),
    ratio: fc.double({ min: 1.1, max: 20, noNaN: true }),
    knee: fc.double({ min: 0, max: 24, noNaN: true }),
  });
  it("a compression curve rises with the level, has its slope above the knee and none below", () => {
    fc.assert(
      fc.property(settings, ({ threshold, ratio, knee }) => {
        const reduction = curveOf(compression(threshold, ratio, knee));
        expect(reduction(threshold - knee / 2 - 1)).toBeCloseTo(0, 9);
        const [low, high] = [threshold + knee / 2 + 1, threshold + knee / 2 + 5];
        expect(reduction(high) - reduction(low)).toBeCloseTo(4 * (1 - 1 / ratio), 6);
        for (let level = -60; level < 6; level++) {
          expect(reduction(level + 1)).toBeGreaterThanOrEqual(reduction(level) - 1e-9);
          // Louder in is never softer out.
          expect(level + 1 - reduction(level + 1)).toBeGreaterThanOrEqual(level - reduction(level) - 1e-9);
        }
      }),
    );
  });
  it("an expansion curve goes no further down than it may", () => {
    fc.assert(
      fc.property(settings, ({ threshold, ratio, knee }) => {
        const reduction = curveOf(expansion(threshold, ratio, knee, 18));
        expect(reduction(threshold + knee / 2 + 1)).toBeCloseTo(0, 9);
        for (let level = -120; level < 0; level += 3) expect(reduction(level)).toBeLessThanOrEqual(18 + 1e-9);
      }),
    );
  });
  it("a gain reaches 63 % of its way in the attack, and comes back in the release", () => {
    const [attack, release] = [0.01, 0.1];
    const follower = new GainFollower(RATE, { of: "peak", attack, release, autoRelease: false });
    const curve = compression(-20, 1000, 0);
    const loud = new Float64Array(RATE).fill(1);
    follower.follow(loud, loud.length, curve, -200);
    const settled = -20 * Math.log10(loud.at(-1)!);
    expect(settled).toBeCloseTo(19.98, 1);
    expect((-20 * Math.log10(loud[Math.round(attack * RATE)]!)) / settled).toBeCloseTo(0.632, 1);
    const quiet = new Float64Array(RATE).fill(1e-12);
    follower.follow(quiet, quiet.length, curve, -200);
    expect((-20 * Math.log10(quiet[Math.round(release * RATE)]!)) / settled).toBeCloseTo(0.368, 1);
    expect(quiet.at(-1)).toBeCloseTo(1, 3);
  });
  it("follows alike whatever the blocks", () => {
    const powers = Float64Array.from(noise(0.5, RATE, 0, 3), (v) => v * v);
    const through = (sizes: number) => {
      const follower = new GainFollower(RATE, { of: "peak", attack: 0.005, release: 0.08, autoRelease: true });
      const gains = powers.slice();
      for (let at = 0; at < gains.length; at += sizes) {
        const part = gains.subarray(at, at + sizes);
        follower.follow(part, part.length, compression(-30, 4, 6), -200);
      }
      return gains;
    };
    expect(through(64)).toEqual(through(4096));
  });
});

describe("delays and values between samples", () => {
  it("a delay line moves a channel by its frames, whatever the blocks", () => {
    fc.assert(
      fc.property(seeds, fc.integer({ min: 0, max: 5000 }), (seed, frames) => {
        const x = noise(0.2, RATE, -6, seed);
        const line = new DelayLine(frames);
        const out = inBlocks(x, seed, (part) => (line.process(part), part));
        expect(out.subarray(0, frames).every((v) => v === 0)).toBe(true);
        expect(out.subarray(frames)).toEqual(x.subarray(0, x.length - frames));
      }),
      few,
    );
  });
  it("a tone has its own values between samples, to 80 dB", () => {
    fc.assert(
      fc.property(
        fc.integer({ min: 50, max: 18_000 }),
        fc.double({ min: 1000, max: 2000, noNaN: true }),
        (hertz, at) => {
          const x = Float32Array.from({ length: 3000 }, (_, n) => Math.sin((2 * Math.PI * hertz * n) / RATE));
          const value = new SincInterpolation(1).valueAt(x, at);
          expect(db(Math.abs(value - Math.sin((2 * Math.PI * hertz * at) / RATE)))).toBeLessThan(-80);
        },
      ),
      { numRuns: 60 },
    );
  });
});
