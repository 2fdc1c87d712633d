import { describe, expect, it } from "vitest";
import { memorySource } from "./bytes";
import { ByteWriter } from "./chunk-bytes";
import { openSoundFile } from "./open";

type Chunk = readonly [id: string, body: Uint8Array];

const format = (channels: number, bits = 16, bytes = bits / 8) =>
  new ByteWriter()
    .u16(1)
    .u16(channels)
    .u32(48_000)
    .u32(48_000 * channels * bytes)
    .u16(channels * bytes)
    .u16(bits)
    .done();

/** Chunks under a head; an odd one is padded. */
function riff(id: string, chunks: readonly Chunk[]): Uint8Array {
  const writer = new ByteWriter()
    .ascii(id)
    .u32(id === "RIFF" ? 4 : 0xffffffff)
    .ascii("WAVE");
  for (const [name, body] of chunks) {
    writer.ascii(name).u32(body.length).raw(body);
    if (body.length % 2) writer.zeros(1);
  }
  return writer.done();
}
const layoutOf = async (bytes: Uint8Array) =>
  (await openSoundFile(memorySource(bytes)))!.layout?.speakers.map(({ label }) => label);

/** A chna chunk whose tracks refer to these channel formats. */
function chna(formats: readonly string[]): Uint8Array {
  const writer = new ByteWriter().u16(formats.length).u16(formats.length);
  formats.forEach((digits, i) =>
    writer
      .u16(i + 1)
      .ascii(`ATU_0000000${i + 1}`, 12)
      .ascii(`AT_${digits}_01`, 14)
      .ascii("AP_00010003", 11)
      .zeros(1),
  );
  return writer.done();
}
const frames = (channels: number) => new Uint8Array(channels * 2 * 4);

describe("the layout of a BW64 file (ITU-R BS.2076, BS.2094)", () => {
  const six = ["00010001", "00010002", "00010003", "00010004", "00010005", "00010006"];
  it("comes from the common definitions that its tracks refer to", async () =>
    expect(
      await layoutOf(
        riff("BW64", [
          ["chna", chna(six)],
          ["fmt ", format(6)],
          ["data", frames(6)],
        ]),
      ),
    ).toEqual(["L", "R", "C", "LFE", "Ls", "Rs"]));
  it("follows the order of the tracks, also where chna stands behind the sound", async () => {
    const turned = [six[2]!, ...six.slice(0, 2), ...six.slice(3)];
    expect(
      await layoutOf(
        riff("BW64", [
          ["fmt ", format(6)],
          ["data", frames(6)],
          ["chna", chna(turned)],
        ]),
      ),
    ).toEqual(["C", "L", "R", "LFE", "Ls", "Rs"]);
  });
  it("comes from the document's own definitions", async () => {
    const axml = `<ebuCoreMain><audioFormatExtended>${["U+045", "U-045"]
      .map(
        (label, i) =>
          `<audioChannelFormat audioChannelFormatID="AC_0001100${i + 1}"><audioBlockFormat><speakerLabel>urn:itu:bs:2051:0:speaker:${label}</speakerLabel></audioBlockFormat></audioChannelFormat>`,
      )
      .join("")}</audioFormatExtended></ebuCoreMain>`;
    const document = Uint8Array.from(axml, (c) => c.charCodeAt(0));
    expect(
      await layoutOf(
        riff("BW64", [
          ["fmt ", format(2)],
          ["chna", chna(["00011001", "00011002"])],
          ["axml", document],
          ["data", frames(2)],
        ]),
      ),
    ).toEqual(["Ltf", "Rtf"]);
  });
  it("is refused with the tracks where they are objects, a scene or a matrix: no loudspeaker plays them", async () => {
    const of = (formats: readonly string[]) =>
      openSoundFile(
        memorySource(
          riff("BW64", [
            ["fmt ", format(formats.length)],
            ["chna", chna(formats)],
            ["data", frames(formats.length)],
          ]),
        ),
      );
    await expect(of([...six.slice(0, 2), "00031001", "00031002"])).rejects.toThrow(/^Tracks 3, 4 are moving objects/);
    await expect(of(["00010001", "00031001"])).rejects.toThrow(/^Track 2 is a moving object /);
    await expect(of(["00040001", "00040002", "00040003", "00040004"])).rejects.toThrow(/scene components \(HOA\)/);
    await expect(of(["00021001", "00021002"])).rejects.toThrow(/matrices/);
    // Two ears are two channels.
    expect(await of(["00050001", "00050002"])).toMatchObject({ channels: 2 });
  });
  it("is not known for damaged documents, and where a track is missing", async () => {
    const of = (body: Uint8Array, axml = "<") =>
      layoutOf(
        riff("BW64", [
          ["fmt ", format(2)],
          ["chna", body],
          ["axml", Uint8Array.from(axml, (c) => c.charCodeAt(0))],
          ["data", frames(2)],
        ]),
      );
    expect(await of(chna(["00010001"]))).toBeUndefined();
    expect(await of(new Uint8Array(7))).toBeUndefined();
  });
});

describe("a WAV file", () => {
  it("may have chunks of odd length before its sound", async () => {
    const sound = Uint8Array.of(0, 64, 0, 192);
    const file = await openSoundFile(
      memorySource(
        riff("RIFF", [
          ["LIST", new Uint8Array(7)],
          ["fmt ", format(1)],
          ["data", sound],
        ]),
      ),
    );
    expect(Array.from((await file!.read(0, 2))[0]!)).toEqual([0.5, -0.5]);
  });
  it("may hold 24 bits in 32", async () => {
    const body = new ByteWriter()
      .u16(0xfffe)
      .u16(1)
      .u32(48_000)
      .u32(192_000)
      .u16(4)
      .u16(32)
      .u16(22)
      .u16(24)
      .u32(4)
      .u16(1)
      .zeros(14)
      .done();
    const file = await openSoundFile(
      memorySource(
        riff("RIFF", [
          ["fmt ", body],
          ["data", Uint8Array.of(0, 0, 0, 64)],
        ]),
      ),
    );
    expect(file!.bitsPerSample).toBe(24);
    expect((await file!.read(0, 1))[0]![0]).toBe(0.5);
  });
  it("may be big-endian", async () => {
    const swapped = (bytes: Uint8Array, widths: number[]) => {
      const out: number[] = [];
      let at = 0;
      for (const width of widths) {
        out.push(...Array.from(bytes.subarray(at, at + width)).reverse());
        at += width;
      }
      return Uint8Array.from(out);
    };
    const head = new ByteWriter()
      .ascii("RIFX")
      .zeros(4)
      .ascii("WAVE")
      .ascii("fmt ")
      .raw(Uint8Array.of(0, 0, 0, 16))
      .raw(swapped(format(1), [2, 2, 4, 4, 2, 2]));
    const bytes = head
      .ascii("data")
      .raw(Uint8Array.of(0, 0, 0, 2, 64, 0))
      .done();
    const file = await openSoundFile(memorySource(bytes));
    expect(file!.sampleRate).toBe(48_000);
    expect((await file!.read(0, 1))[0]![0]).toBe(0.5);
  });
});

describe("the layout of an AIFF file", () => {
  const be = (value: number, width: number) =>
    Array.from({ length: width }, (_, i) => (value >>> (8 * (width - 1 - i))) & 0xff);
  const aiff = (channels: number, chan: number[]) => {
    const comm = [...be(channels, 2), ...be(1, 4), ...be(16, 2), 0x40, 0x0e, 0xbb, 0x80, 0, 0, 0, 0, 0, 0];
    const sound = [...be(0, 4), ...be(0, 4), ...new Array<number>(channels * 2).fill(0)];
    const chunk = (id: string, body: number[]) => [
      ...Array.from(id, (c) => c.charCodeAt(0)),
      ...be(body.length, 4),
      ...body,
    ];
    return Uint8Array.from([
      ...Array.from("FORM", (c) => c.charCodeAt(0)),
      ...be(0, 4),
      ...Array.from("AIFF", (c) => c.charCodeAt(0)),
      ...chunk("COMM", comm),
      ...chunk("CHAN", chan),
      ...chunk("SSND", sound),
    ]);
  };
  it("comes from the tag of its CHAN chunk", async () =>
    expect(await layoutOf(aiff(6, [...be(124, 2), ...be(6, 2), ...be(0, 8)]))).toEqual([
      "C",
      "L",
      "R",
      "Ls",
      "Rs",
      "LFE",
    ]));
  it("comes from its bitmap", async () =>
    expect(await layoutOf(aiff(6, [...be(1, 2), ...be(0, 2), ...be(0x3f, 4), ...be(0, 4)]))).toEqual([
      "L",
      "R",
      "C",
      "LFE",
      "Ls",
      "Rs",
    ]));
  it("is not known where the tag is another's, or does not fit", async () => {
    expect(await layoutOf(aiff(2, [...be(999, 2), ...be(2, 2), ...be(0, 8)]))).toBeUndefined();
    expect(await layoutOf(aiff(2, [...be(121, 2), ...be(6, 2), ...be(0, 8)]))).toBeUndefined();
  });
});
