import fc from "fast-check";
import { describe, expect, it } from "vitest";
import { layoutForChannels, layoutNamed } from "../audio/layout";
import { framesOf, type Planar } from "../audio/units";
import { noise, sameBits } from "../testing/signals";
import { FileProblem, MemorySink, memorySource } from "./bytes";
import { ByteWriter } from "./chunk-bytes";
import { openSoundFile } from "./open";
import { openWav } from "./wav-reader";
import type { Depth } from "./containers";
import { streamedWavHeader, WavWriter } from "./wav-writer";
import { encodedFloats } from "../kernels/quantiser";
import { Quantiser } from "../dsp/quantise";

async function written(block: Planar, format: Depth, sampleRate = 48000): Promise<Uint8Array> {
  const sink = new MemorySink();
  const writer = await WavWriter.open(sink, { sampleRate, layout: layoutForChannels(block.length), format });
  if (format === "32f") await writer.writeFloat(block, framesOf(block));
  else
    await writer.writeIntegers(
      new Quantiser(block.length, Number(format) as 16 | 24 | 32, { dither: "none", sampleRate }).next(block),
      framesOf(block),
    );
  await writer.finish();
  return sink.bytes();
}

describe("WAV", () => {
  it("comes back as it was written, in every format and channel count", async () => {
    for (const format of ["16", "24", "32", "32f"] as const) {
      for (const channels of [1, 2, 6, 12]) {
        const block = Array.from({ length: channels }, (_, c) => noise(0.01, 48000, -3, c + 1));
        const file = await openWav(memorySource(await written(block, format)));
        expect(file).toMatchObject({ channels, frames: 480, sampleRate: 48000, warnings: [] });
        const back = await file.read(0, 480);
        const step = format === "32f" ? 0 : 2 ** (1 - Number(format));
        block.forEach((x, c) => x.forEach((v, i) => expect(Math.abs(back[c]![i]! - v)).toBeLessThanOrEqual(step)));
      }
    }
  });

  it("keeps the layout that a channel mask can say", async () => {
    const block = Array.from({ length: 6 }, () => new Float32Array(8));
    const file = await openWav(memorySource(await written(block, "24")));
    expect(file.layout?.name).toBe("5.1");
    expect(layoutNamed("5.1")).toBeDefined();
  });

  it("survives a header that was never completed, and says so", async () => {
    const bytes = await written([noise(0.1, 48000, -6, 1)], "16");
    const dataAt = bytes.length - 4800 * 2;
    for (const size of [0, 0xffffffff]) {
      bytes.set(new ByteWriter().u32(size).done(), dataAt - 4);
      const file = await openWav(memorySource(bytes));
      expect(file.frames).toBe(4800);
      expect(file.warnings.join()).toMatch(/header states/);
    }
  });

  it("reads what is there of a truncated file", async () => {
    const bytes = await written([noise(0.1, 48000, -6, 1)], "24");
    const file = await openWav(memorySource(bytes.subarray(0, bytes.length - 1001)));
    expect(file.frames).toBe(4800 - 334);
    expect(file.warnings.length).toBeGreaterThan(0);
  });

  it("refuses with the reason what cannot be read", async () => {
    const bytes = await written([new Float32Array(10)], "16");
    const fmtAt = 12 + 8 + 28 + 8;
    const channels = bytes.slice();
    channels.set(new ByteWriter().u16(200).done(), fmtAt + 2);
    await expect(openWav(memorySource(channels))).rejects.toThrow(/200 channels/);
    const rate = bytes.slice();
    rate.set(new ByteWriter().u32(999_999).done(), fmtAt + 4);
    await expect(openWav(memorySource(rate))).rejects.toThrow(/999999 Hz/);
    await expect(openWav(memorySource(bytes.subarray(0, 30)))).rejects.toThrow(FileProblem);
    await expect(openSoundFile(memorySource(new Uint8Array(0)))).rejects.toThrow(/empty/);
    expect(await openSoundFile(memorySource(Uint8Array.of(1, 2, 3, 4, 5, 6, 7, 8, 9, 10, 11, 12)))).toBeUndefined();
  });

  it("never fails but with a reason, whatever bytes follow the first twelve", async () => {
    const head = Array.from("RIFFxxxxWAVE", (character) => character.charCodeAt(0));
    await fc.assert(
      fc.asyncProperty(fc.uint8Array({ maxLength: 400 }), async (rest) => {
        try {
          const file = await openWav(memorySource(Uint8Array.from([...head, ...rest])));
          const block = await file.read(0, 100);
          expect(framesOf(block)).toBeLessThanOrEqual(100);
        } catch (error) {
          expect(error).toBeInstanceOf(FileProblem);
        }
      }),
      { numRuns: 500 },
    );
  });

  it("never fails but with a reason when any byte of a good header is wrong", async () => {
    const good = await written([noise(0.005, 48000, -6, 1), noise(0.005, 48000, -6, 2)], "24");
    await fc.assert(
      fc.asyncProperty(fc.integer({ min: 0, max: 100 }), fc.integer({ min: 0, max: 255 }), async (at, byte) => {
        const bytes = good.slice();
        bytes[at] = byte;
        try {
          await (await openSoundFile(memorySource(bytes)))?.read(0, 1000);
        } catch (error) {
          expect(error).toBeInstanceOf(FileProblem);
        }
      }),
      { numRuns: 500 },
    );
  });

  it("becomes RF64 where RIFF ends, with its true sizes in ds64", async () => {
    const sink = new MemorySink();
    const writer = await WavWriter.open(sink, {
      sampleRate: 96000,
      layout: layoutNamed("stereo")!,
      format: "32f",
      largestRiff: 10_000,
    });
    const block = [noise(0.1, 48000, -6, 1), noise(0.1, 48000, -6, 2)];
    await writer.writeFloat(block, 4800);
    await writer.finish();
    const file = await openWav(memorySource(sink.bytes()));
    expect(file).toMatchObject({ container: "RF64", frames: 4800, warnings: [] });
    expect(sameBits(await file.read(0, 4800), block)).toBe(true);
  });

  it("carries the loudness in its bext chunk, version 2 (EBU Tech 3285)", async () => {
    const sink = new MemorySink();
    const identity = {
      description: "Low Door",
      originator: "Resonum",
      originatorReference: "ebu-r128",
      date: "",
      time: "",
      timeReference: 0,
    };
    const writer = await WavWriter.open(sink, {
      sampleRate: 48000,
      layout: layoutNamed("mono")!,
      format: "24",
      broadcast: identity,
    });
    await writer.writeIntegers([new Int32Array(10)], 10);
    await writer.finish();
    const loudness = {
      integratedLufs: -23.04,
      loudnessRangeLu: 7.1,
      truePeakDbtp: -1.25,
      momentaryMaxLufs: -18,
      shortTermMaxLufs: null,
    };
    await writer.describe({ ...identity, loudness });
    const bytes = sink.bytes();
    const at = 12 + 8 + 28;
    const view = new DataView(bytes.buffer, at + 8);
    expect(String.fromCharCode(...bytes.subarray(at, at + 4))).toBe("bext");
    expect(view.getUint16(346, true)).toBe(2);
    expect([0, 1, 2, 3, 4].map((n) => view.getInt16(412 + 2 * n, true))).toEqual([-2304, 710, -125, -1800, 0x7fff]);
    expect((await openWav(memorySource(bytes))).frames).toBe(10);
  });
});

describe("the time reference of a broadcast WAV file", () => {
  const written = async (timeReference: number) => {
    const sink = new MemorySink();
    const broadcast = { description: "", originator: "", originatorReference: "", date: "", time: "", timeReference };
    const writer = await WavWriter.open(sink, {
      sampleRate: 48_000,
      layout: layoutNamed("mono")!,
      format: "24",
      broadcast,
    });
    await writer.writeIntegers([new Int32Array(10)], 10);
    await writer.finish();
    return openWav(memorySource(sink.bytes()));
  };
  it("is read as seconds from midnight, at any time of a day", async () => {
    expect((await written(36_000 * 48_000 + 24)).tags!.startSeconds).toBeCloseTo(36_000.0005, 9);
    expect((await written(2 ** 32 + 48_000)).tags!.startSeconds).toBeCloseTo((2 ** 32 + 48_000) / 48_000, 6);
  });
  it("of 0 tells nothing: such a file says no more than one without", async () => {
    expect((await written(0)).tags).toBeUndefined();
  });
});

describe("a WAV file that is written while it is recorded", () => {
  it("is read to its end, and nothing is said to be wrong with it", async () => {
    const block = [noise(0.1, 48_000, -6, 8)];
    const header = streamedWavHeader({ sampleRate: 48_000, layout: layoutForChannels(1) });
    const sound = encodedFloats(block, framesOf(block));
    const bytes = new Uint8Array(header.length + sound.length);
    bytes.set(header);
    bytes.set(sound, header.length);
    const file = await openWav(memorySource(bytes));
    expect(file).toMatchObject({ frames: framesOf(block), sampleRate: 48_000, warnings: [] });
    expect(sameBits(await file.read(0, file.frames), block)).toBe(true);
    const broken = await openWav(memorySource(bytes.subarray(0, bytes.length - 6)));
    expect(broken.frames).toBe(framesOf(block) - 2);
    expect(broken.warnings).toEqual(["The last frame is incomplete and was left out."]);
  });
});
