import { describe, expect, it } from "vitest";
import { Random } from "../math/random";
import { emptyPlanar } from "../audio/units";
import { sameBits } from "../testing/signals";
import { decodePcm, decodePlainly } from "./pcm-encoding";
import { type PcmEncoding } from "../audio/frame-source";

const random = new Random(5);
const bytes = Uint8Array.from({ length: 600_000 }, () => random.nextUint32());

describe("decoding of samples", () => {
  const encodings: PcmEncoding[] = [
    { kind: "integer", bytes: 2, bigEndian: false },
    { kind: "integer", bytes: 3, bigEndian: false },
    { kind: "integer", bytes: 4, bigEndian: false },
    { kind: "float", bytes: 4, bigEndian: false },
  ];
  it.each(encodings)("of $bytes bytes, $kind, gives the same bits by the kernel as plainly", (encoding) => {
    for (const channels of [1, 2, 3, 12]) {
      const part = bytes.subarray(1, 1 + Math.floor(599_999 / (channels * encoding.bytes)) * channels * encoding.bytes);
      // Random bytes make a NaN here and there; which bits of it are kept is the engine's affair.
      const numbers = (block: Float32Array[]) => block.map((x) => x.map((v) => (v - v === 0 ? v : 0)));
      const kernel = decodePcm(part, channels, encoding);
      const plain = emptyPlanar(channels, kernel[0]!.length);
      decodePlainly(part, encoding, plain, kernel[0]!.length);
      expect(sameBits(numbers(kernel), numbers(plain))).toBe(true);
    }
  });
  it("keeps the ends of the scale", () => {
    const int24 = (...values: number[]) =>
      Uint8Array.from(values.flatMap((v) => [v & 0xff, (v >> 8) & 0xff, (v >> 16) & 0xff]));
    const [x] = decodePcm(int24(-8388608, 8388607, 0, 1, -1), 1, { kind: "integer", bytes: 3, bigEndian: false });
    expect(Array.from(x!)).toEqual([-1, 8388607 / 8388608, 0, 1 / 8388608, -1 / 8388608]);
  });
  it("leaves out a frame that is cut short", () => {
    const [x] = decodePcm(new Uint8Array(7), 1, { kind: "integer", bytes: 2, bigEndian: false });
    expect(x).toHaveLength(3);
  });
});
