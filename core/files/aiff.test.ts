import { describe, expect, it } from "vitest";
import fc from "fast-check";
import { FileProblem, memorySource } from "./bytes";
import { openAiff } from "./aiff-reader";
import { openSoundFile } from "./open";

const ascii = (text: string) => Array.from(text, (character) => character.charCodeAt(0));
const big = (value: number, bytes: number) =>
  Array.from({ length: bytes }, (_, i) => (value >>> (8 * (bytes - 1 - i))) & 0xff);
/** 48000 as an 80-bit extended number. */
const RATE_48000 = [0x40, 0x0e, 0xbb, 0x80, 0, 0, 0, 0, 0, 0];

interface Aiff {
  channels?: number;
  bits?: number;
  frames?: number;
  compression?: string;
  data: number[];
}

function aiff({ channels = 1, bits = 16, frames, compression, data }: Aiff): Uint8Array {
  const bytes = Math.ceil(bits / 8);
  const count = frames ?? data.length / (bytes * channels);
  const common = [...big(channels, 2), ...big(count, 4), ...big(bits, 2), ...RATE_48000];
  if (compression) common.push(...ascii(compression), 0, 0);
  const chunk = (id: string, body: number[]) => [
    ...ascii(id),
    ...big(body.length, 4),
    ...body,
    ...(body.length % 2 ? [0] : []),
  ];
  const body = [
    ...ascii(compression ? "AIFC" : "AIFF"),
    ...chunk("COMM", common),
    ...chunk("SSND", [...big(0, 8), ...data]),
  ];
  return Uint8Array.from([...ascii("FORM"), ...big(body.length, 4), ...body]);
}

describe("AIFF", () => {
  it("reads big-endian integers of 16 and 24 bits", async () => {
    const half = await openAiff(memorySource(aiff({ data: [0x40, 0, 0xc0, 0] })));
    expect(half).toMatchObject({ sampleRate: 48000, channels: 1, frames: 2, encoding: "16-bit integer" });
    expect(Array.from((await half.read(0, 2))[0]!)).toEqual([0.5, -0.5]);
    const deep = await openAiff(memorySource(aiff({ bits: 24, data: [0x40, 0, 0, 0xff, 0xff, 0xff] })));
    expect(Array.from((await deep.read(0, 2))[0]!)).toEqual([0.5, -1 / 2 ** 23]);
  });
  it("reads the little-endian kind and floats of AIFF-C", async () => {
    const little = await openAiff(memorySource(aiff({ compression: "sowt", data: [0, 0x40] })));
    expect((await little.read(0, 1))[0]![0]).toBe(0.5);
    const float = await openAiff(memorySource(aiff({ compression: "fl32", bits: 32, data: [0x3f, 0, 0, 0] })));
    expect((await float.read(0, 1))[0]![0]).toBe(0.5);
  });
  it("keeps channels apart", async () => {
    const file = await openSoundFile(memorySource(aiff({ channels: 2, data: [0x20, 0, 0x40, 0] })));
    const [left, right] = await file!.read(0, 1);
    expect([left![0], right![0]]).toEqual([0.25, 0.5]);
  });
  it("reads what is there of a file that was cut off, and says so", async () => {
    const bytes = aiff({ data: Array.from({ length: 400 }, () => 1) });
    const file = await openAiff(memorySource(bytes.subarray(0, bytes.length - 100)));
    expect(file.frames).toBe(150);
    expect(file.warnings.join()).toMatch(/were found and read/);
  });
  it("refuses with the reason", async () => {
    await expect(openAiff(memorySource(aiff({ compression: "ima4", data: [0, 0] })))).rejects.toThrow(/ima4/);
    await expect(openAiff(memorySource(aiff({ channels: 99, data: [0, 0] })))).rejects.toThrow(/99 channels/);
    const headless = Uint8Array.from([...ascii("FORM"), 0, 0, 0, 4, ...ascii("AIFF")]);
    await expect(openAiff(memorySource(headless))).rejects.toThrow(/COMM/);
  });
  it("never fails but with a reason, whatever byte is wrong", async () => {
    const good = aiff({ channels: 2, data: Array.from({ length: 80 }, (_, i) => i) });
    await fc.assert(
      fc.asyncProperty(fc.nat({ max: good.length - 1 }), fc.nat({ max: 255 }), async (at, byte) => {
        const bytes = good.slice();
        bytes[at] = byte;
        try {
          await (await openSoundFile(memorySource(bytes)))?.read(0, 100);
        } catch (error) {
          expect(error).toBeInstanceOf(FileProblem);
        }
      }),
      { numRuns: 400 },
    );
  });
});
