import { describe, expect, it } from "vitest";
import fc from "fast-check";
import { layoutNamed } from "../audio/layout";
import { noise } from "../testing/signals";
import { FileProblem, MemorySink, memorySource } from "./bytes";
import { openSoundFile } from "./open";
import { WavWriter } from "./wav-writer";

/** A file is opened and its first second read: a sound file, a clear word, or "not mine"; never anything else. */
async function reads(bytes: Uint8Array): Promise<"sound" | "problem" | "foreign"> {
  try {
    const file = await openSoundFile(memorySource(bytes));
    if (!file) return "foreign";
    expect(file.frames).toBeGreaterThanOrEqual(0);
    const block = await file.read(0, Math.min(file.frames, 48_000));
    expect(block).toHaveLength(file.channels);
    expect(block[0]!.length).toBeLessThanOrEqual(48_000);
    return "sound";
  } catch (error) {
    expect(error).toBeInstanceOf(FileProblem);
    expect((error as Error).message.length).toBeGreaterThan(10);
    return "problem";
  }
}

async function wav(): Promise<Uint8Array> {
  const sink = new MemorySink();
  const stereo = layoutNamed("stereo")!;
  const writer = await WavWriter.open(sink, { sampleRate: 48_000, layout: stereo, format: "32f" });
  const x = noise(0.05, 48_000, -6, 1);
  await writer.writeFloat([x, x], x.length);
  await writer.finish();
  return sink.bytes();
}

const MAGICS = [
  "RIFF\0\0\0\0WAVE",
  "RIFX\0\0\0\0WAVE",
  "RF64\xff\xff\xff\xffWAVE",
  "BW64\xff\xff\xff\xffWAVE",
  "FORM\0\0\0\0AIFF",
  "FORM\0\0\0\0AIFC",
];
const CHUNKS = ["fmt ", "data", "ds64", "COMM", "SSND", "LIST", "bext"];
const ascii = (text: string) => Uint8Array.from(text, (c) => c.charCodeAt(0));

/** Bytes that look like a file of ours up to some point: a head, and chunks with any sizes and contents. */
const almostAFile = fc
  .tuple(
    fc.constantFrom(...MAGICS),
    fc.array(
      fc.tuple(
        fc.constantFrom(...CHUNKS),
        fc.oneof(fc.constantFrom(0, 1, 8, 16, 18, 40, 0xffffffff, 0x7fffffff), fc.nat(200)),
        fc.uint8Array({ maxLength: 120 }),
      ),
      { maxLength: 8 },
    ),
  )
  .map(([magic, chunks]) =>
    Uint8Array.from([
      ...ascii(magic),
      ...chunks.flatMap(([id, size, body]) => [
        ...ascii(id),
        size & 0xff,
        (size >>> 8) & 0xff,
        (size >>> 16) & 0xff,
        (size >>> 24) & 0xff,
        ...body,
      ]),
    ]),
  );

describe("readers of sound files", () => {
  // Time is bounded: a reader that does not come to an end fails the test.
  it("come to an end with a clear word, whatever follows a good head (fuzz)", { timeout: 20_000 }, () =>
    fc.assert(
      fc.asyncProperty(almostAFile, async (bytes) => void (await reads(bytes))),
      { numRuns: 600 },
    ),
  );
  it("come to an end with any bytes at all (fuzz)", { timeout: 20_000 }, () =>
    fc.assert(
      fc.asyncProperty(fc.uint8Array({ maxLength: 300 }), async (bytes) => void (await reads(bytes))),
      { numRuns: 300 },
    ),
  );
  it("come to an end with a good file in which some bytes were changed (fuzz)", { timeout: 20_000 }, async () => {
    const good = await wav();
    expect(await reads(good)).toBe("sound");
    await fc.assert(
      fc.asyncProperty(fc.array(fc.tuple(fc.nat(120), fc.nat(255)), { maxLength: 6 }), async (edits) => {
        const bytes = good.slice();
        for (const [at, byte] of edits) bytes[at] = byte;
        await reads(bytes);
      }),
      { numRuns: 400 },
    );
  });
  it("read as far as it goes when a file was cut off, and say so", async () => {
    const good = await wav();
    const outcomes = await Promise.all([0, 3, 12, 30, 500].map((length) => reads(good.slice(0, length))));
    expect(outcomes.slice(0, 4)).not.toContain("sound");
    expect(await reads(good.slice(0, good.length - 1))).toBe("sound");
    const file = await openSoundFile(memorySource(good.slice(0, good.length - 1000)));
    expect(file!.frames).toBe(2400 - 125);
    expect(file!.warnings.join()).toMatch(/were found and read/);
  });
});
