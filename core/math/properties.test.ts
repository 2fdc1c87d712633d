/** The mathematics below everything, each against its definition or the platform's own. */
import fc from "fast-check";
import { describe, expect, it } from "vitest";
import { fromBase64, toBase64 } from "./base64";
import { canonicalJson } from "./canonical-json";
import { Fft } from "./fft";
import { kaiser, kaiserLength, kaiserPhases, sinc } from "./kaiser";
import { solve } from "./linear-system";
import { minimumPhase } from "./minimum-phase";
import { Random } from "./random";
import { SlidingMaximum } from "./sliding-maximum";
import { fromUtf8, utf8 } from "./utf8";

const few = { numRuns: 40 };

describe("text and bytes", () => {
  it("UTF-8 is the platform's, there and back, lone surrogates included", () => {
    fc.assert(
      fc.property(fc.string({ unit: "binary" }), (text) => {
        expect(utf8(text)).toEqual(new TextEncoder().encode(text));
        expect(fromUtf8(utf8(text))).toBe(new TextDecoder("utf-8", { ignoreBOM: true }).decode(utf8(text)));
      }),
    );
  });
  it("bytes that are no UTF-8 become the replacement sign, and never throw", () => {
    expect(fromUtf8(Uint8Array.of(0x41, 0xff, 0x42))).toBe("A\ufffdB");
    expect(fromUtf8(Uint8Array.of(0xe2, 0x82))).toMatch(/^\ufffd+$/);
    fc.assert(fc.property(fc.uint8Array(), (bytes) => typeof fromUtf8(bytes) === "string"));
  });
  it("base64 is the platform's, there and back", () => {
    fc.assert(
      fc.property(fc.uint8Array(), (bytes) => {
        expect(toBase64(bytes)).toBe(Buffer.from(bytes).toString("base64"));
        expect(fromBase64(toBase64(bytes))).toEqual(bytes);
      }),
    );
  });
  it("canonical JSON is the same for equal things, whatever the order of their keys", () => {
    fc.assert(
      fc.property(fc.dictionary(fc.string(), fc.jsonValue()), (thing) => {
        const turned = Object.fromEntries(Object.entries(thing).reverse());
        expect(canonicalJson(turned)).toBe(canonicalJson(thing));
        expect(JSON.parse(canonicalJson(thing))).toEqual(JSON.parse(JSON.stringify(thing)));
      }),
    );
    expect(canonicalJson({ b: 1, a: undefined, c: [null] })).toBe('{"b":1,"c":[null]}');
  });
});

describe("numbers", () => {
  it("a sliding maximum is the largest of the last values, in blocks of any size", () => {
    fc.assert(
      fc.property(
        fc.integer({ min: 1, max: 40 }),
        fc.integer({ min: 1, max: 300 }),
        fc.nat(),
        (length, count, seed) => {
          const random = new Random(seed);
          const values = Float64Array.from({ length: count }, () => random.next());
          const found = values.slice();
          const maximum = new SlidingMaximum(length);
          for (let at = 0; at < count;) {
            const frames = Math.min(count - at, 1 + Math.floor(random.next() * 50));
            maximum.process(found.subarray(at, at + frames), frames);
            at += frames;
          }
          const wanted = values.map((_, i) => Math.max(...values.subarray(Math.max(0, i - length + 1), i + 1)));
          expect(found).toEqual(wanted);
        },
      ),
      few,
    );
  });
  it("a copy of a sliding maximum goes on as the first one does", () => {
    const [one, other] = [new SlidingMaximum(9), new SlidingMaximum(9)];
    const random = new Random(4);
    const some = () => Float64Array.from({ length: 25 }, () => random.next());
    one.process(some(), 25);
    other.copyFrom(one);
    const [a, b] = [some(), new Float64Array(25)];
    b.set(a);
    one.process(a, 25);
    other.process(b, 25);
    expect(b).toEqual(a);
  });
  it("a linear system is solved: what it gives times the matrix is the right side", () => {
    fc.assert(
      fc.property(fc.integer({ min: 1, max: 12 }), fc.nat(), (n, seed) => {
        const random = new Random(seed);
        const matrix = Array.from({ length: n }, (_, i) =>
          Array.from({ length: n }, (_, j) => random.between(-1, 1) + (i === j ? 4 : 0)),
        );
        const right = Array.from({ length: n }, () => random.between(-5, 5));
        const x = solve(matrix, right);
        matrix.forEach((row, i) => expect(row.reduce((sum, v, j) => sum + v * x[j]!, 0)).toBeCloseTo(right[i]!, 9));
      }),
      few,
    );
    // The first pivot is 0: rows change places.
    expect(solve([[0, 2], [1, 1]], [4, 5])).toEqual([3, 2]); // oxfmt-ignore
  });
  it("random numbers are uniform, and the same for a seed", () => {
    const random = new Random(7);
    const values = Array.from({ length: 20_000 }, () => random.next());
    expect(Math.min(...values)).toBeGreaterThanOrEqual(0);
    expect(Math.max(...values)).toBeLessThan(1);
    const mean = values.reduce((sum, v) => sum + v, 0) / values.length;
    const power = values.reduce((sum, v) => sum + (v - 0.5) ** 2, 0) / values.length;
    expect(mean).toBeCloseTo(0.5, 1);
    expect(power).toBeCloseTo(1 / 12, 2);
    const again = new Random(7);
    expect(values.slice(0, 5)).toEqual(Array.from({ length: 5 }, () => again.next()));
  });
});

describe("windows and spectra", () => {
  it("a Kaiser window is 1 in the middle, 0 outside, and falls to its sides", () => {
    fc.assert(
      fc.property(
        fc.double({ min: 2, max: 14, noNaN: true }),
        fc.double({ min: 0, max: 0.95, noNaN: true }),
        (b, at) => {
          expect(kaiser(0, b)).toBeCloseTo(1, 12);
          expect(kaiser(at, b)).toBeCloseTo(kaiser(-at, b), 12);
          expect(kaiser(at + 0.05, b)).toBeLessThan(kaiser(at, b));
          expect(kaiser(1.01, b)).toBe(0);
        },
      ),
      few,
    );
    expect(kaiserLength(100, 0.1)).toBeGreaterThan(kaiserLength(60, 0.1));
  });
  it("interpolators sum to 1, and the first gives the sample itself", () => {
    const phases = kaiserPhases(4, 32, 90);
    for (const phase of phases) expect(phase.reduce((sum, v) => sum + v, 0)).toBeCloseTo(1, 12);
    expect(phases[0]![15]).toBeCloseTo(1, 9);
    expect([sinc(0), sinc(1), sinc(0.5)].map((v) => Number(v.toFixed(9)))).toEqual([1, 0, 0.636619772]);
  });
  it("a minimum-phase filter has the magnitudes of the one that it is made of, and comes sooner", () => {
    const length = 64;
    const taps = kaiserPhases(1, length, 80)[0]!.map((v, i) => 0.5 * v + (i === length / 2 ? 0.3 : 0));
    const early = minimumPhase(taps);
    const magnitudes = (x: Float64Array) => {
      const fft = new Fft(1024);
      const [re, im] = [new Float64Array(1024), new Float64Array(1024)];
      re.set(x.subarray(0, Math.min(1024, x.length)));
      fft.forward(re, im);
      return Array.from({ length: 513 }, (_, k) => Math.hypot(re[k]!, im[k]!));
    };
    const wanted = magnitudes(taps);
    magnitudes(early).forEach((v, k) => expect(Math.abs(v - wanted[k]!)).toBeLessThan(0.01));
    const centre = (x: Float64Array) =>
      x.reduce((sum, v, i) => sum + i * v * v, 0) / x.reduce((sum, v) => sum + v * v, 0);
    expect(centre(early)).toBeLessThan(centre(taps) / 3);
  });
});
