import { describe, expect, it } from "vitest";
import { Random } from "../../math/random";
import { noise } from "../../testing/signals";
import { encodedFloats, encodedIntegers, referenceChannelQuantiser, referenceEncoded, wasmChannelQuantiser } from ".";

const x = noise(0.4, 48000, -3, 7);
x.set([1, -1, 1.5, -2, 0, 0.5 / 32768], 100);

describe("quantising kernels", () => {
  it.each([16, 24, 32] as const)(
    "give the bits of their reference implementation at %i bit, with dither and without",
    (bits) => {
      for (const dithered of [true, false]) {
        const generator = () => (dithered ? new Random(5) : null);
        const [fast, plain] = [wasmChannelQuantiser(bits, generator())!, referenceChannelQuantiser(bits, generator())];
        for (let at = 0; at < x.length; at += 5000) {
          const block = x.subarray(at, at + 5000);
          expect(fast.next(block)).toEqual(plain.next(block));
        }
      }
    },
  );
  it.each([2, 3, 4] as const)("write the bytes of their reference implementation, %i a sample", (bytes) => {
    const planes = [1, 2, 3].map((seed) => {
      const random = new Random(seed);
      return Int32Array.from({ length: 30_000 }, () => (random.nextUint32() | 0) >> (32 - 8 * bytes));
    });
    expect(encodedIntegers(planes, 30_000, bytes)).toEqual(referenceEncoded(planes, 30_000, bytes));
  });
  it("write floating point as it lies", () => {
    const planes = [x, noise(0.4, 48000, -3, 8).subarray(0, x.length)];
    const words = planes.map((plane) => new Int32Array(plane.slice().buffer));
    expect(encodedFloats(planes, x.length)).toEqual(referenceEncoded(words, x.length, 4));
  });
});
