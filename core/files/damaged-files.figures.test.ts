/** Readers on files that are damaged, cut off or made up: sound, or a sentence; never anything else, and soon. */
import fc from "fast-check";
import { describe, expect, it } from "vitest";
import { layoutNamed } from "../audio/layout";
import { Quantiser } from "../dsp/quantise";
import { FileProblem, MemorySink, memorySource } from "./bytes";
import { openMasterWriter } from "./master-writer";
import { openSoundFile } from "./open";
import { newTags, parseTags } from "./tags";

const TAGS = newTags({
  title: "Low Door",
  artist: "Odda Vane",
  isrc: "ZZS1H2600004",
  barcode: "4006381333931",
  track: 3,
  chapters: [
    { title: "One", startSeconds: 0 },
    { title: "Wāter", startSeconds: 0.01 },
  ],
});

async function sample(container: "wav" | "rf64" | "bw64" | "aiff", layout = "stereo"): Promise<Uint8Array> {
  const sink = new MemorySink();
  const { speakers, ...rest } = layoutNamed(layout)!;
  const block = speakers.map((_, c) => Float32Array.from({ length: 800 }, (__, i) => Math.sin(i * (c + 1) * 0.01)));
  const writer = await openMasterWriter(sink, {
    ...{ container, depth: "24", sampleRate: 48_000, layout: { speakers, ...rest }, frames: 800, tags: TAGS },
    broadcast: { description: "", originator: "", originatorReference: "", date: "", time: "", timeReference: 0 },
  });
  await writer.writeIntegers(
    new Quantiser(speakers.length, 24, { dither: "none", sampleRate: 48_000 }).next(block),
    800,
  );
  await writer.finish();
  return sink.bytes();
}

const CORPUS = await Promise.all([
  sample("wav"),
  sample("wav", "7.1.4"),
  sample("rf64"),
  sample("bw64", "5.1"),
  sample("aiff"),
  sample("aiff", "5.1"),
]);

/** Reads all that a file says that it has. */
async function readThrough(bytes: Uint8Array): Promise<void> {
  const file = await openSoundFile(memorySource(bytes));
  if (!file) return;
  expect(file.channels).toBeGreaterThan(0);
  expect(file.channels).toBeLessThanOrEqual(64);
  expect(Number.isSafeInteger(file.frames)).toBe(true);
  await file.read(0, Math.min(file.frames, 4096));
  await file.read(Math.max(0, file.frames - 10), 10);
}

async function soundOrSentence(bytes: Uint8Array): Promise<void> {
  try {
    await readThrough(bytes);
  } catch (error) {
    if (!(error instanceof FileProblem)) throw error;
    expect(error.message).toMatch(/^[A-Z“].{15,}\.$/s);
    expect(error.message).not.toMatch(/undefined|NaN|\[object|Error:|\{"/);
  }
}

const mutation = fc.oneof(
  fc.record({ kind: fc.constant("set" as const), at: fc.nat(4000), byte: fc.constantFrom(0, 1, 0x7f, 0x80, 0xff) }),
  fc.record({ kind: fc.constant("word" as const), at: fc.nat(4000), byte: fc.constantFrom(0, 0xff, 0x7f, 0x10) }),
  fc.record({ kind: fc.constant("cut" as const), at: fc.nat(4000), byte: fc.constant(0) }),
  fc.record({ kind: fc.constant("double" as const), at: fc.nat(4000), byte: fc.nat(64) }),
  fc.record({ kind: fc.constant("drop" as const), at: fc.nat(4000), byte: fc.nat(64) }),
);

function mutated(bytes: Uint8Array, { kind, at, byte }: { kind: string; at: number; byte: number }): Uint8Array {
  const place = Math.min(at, Math.max(0, bytes.length - 1));
  if (kind === "cut") return bytes.slice(0, place);
  if (kind === "drop") return Uint8Array.from([...bytes.subarray(0, place), ...bytes.subarray(place + byte)]);
  if (kind === "double") return Uint8Array.from([...bytes.subarray(0, place + byte), ...bytes.subarray(place)]);
  const out = bytes.slice();
  out.fill(byte, place, place + (kind === "word" ? 4 : 1));
  return out;
}

describe("a damaged file", () => {
  it("is sound or a sentence, whatever was changed in it", async () => {
    const file = fc.tuple(fc.nat(CORPUS.length - 1), fc.array(mutation, { minLength: 1, maxLength: 6 }));
    await fc.assert(
      fc.asyncProperty(file, ([which, mutations]) => soundOrSentence(mutations.reduce(mutated, CORPUS[which]!))),
      { numRuns: 1500 },
    );
  });
  it("is sound or a sentence wherever it is cut off", async () => {
    for (const bytes of CORPUS)
      for (let end = 0; end < Math.min(bytes.length, 700); end++) await soundOrSentence(bytes.slice(0, end));
  });
  it("with chunks without end is given up after a stated number of them", async () => {
    for (const bytes of CORPUS) {
      let reads = 0;
      const endless = {
        size: 2 ** 40,
        read: async (offset: number, length: number) => {
          reads++;
          return offset === 0 ? bytes.slice(0, Math.min(12, length)) : new Uint8Array(length);
        },
      };
      await expect(openSoundFile(endless)).rejects.toThrow(FileProblem);
      expect(reads).toBeLessThan(10_010);
    }
  });
});

describe("what a file says of itself never costs its sound", () => {
  it("is shortened where it is too long, and told", () => {
    const { tags, warnings } = parseTags({ title: "x".repeat(401), artist: "Odda" });
    expect(tags).toMatchObject({ title: "x".repeat(400), artist: "Odda" });
    expect(warnings).toEqual(["The title in the file has more than 400 characters and was shortened."]);
  });
  it("is left out where it is broken, and told", () => {
    const { tags, warnings } = parseTags({
      ...{ isrc: "nonsense", barcode: "123", date: "yesterday", track: NaN, tracks: -3, comment: "a\u0000b\ud800" },
      chapters: [{ title: "good", startSeconds: 1 }, { title: "none", startSeconds: NaN }, { startSeconds: 2 }],
    });
    expect(tags).toMatchObject({ isrc: "", barcode: "", date: "", track: 0, tracks: 0, comment: "ab" });
    expect(tags.chapters.map(({ title }) => title)).toEqual(["good", ""]);
    expect(warnings).toHaveLength(6);
    for (const warning of warnings) expect(warning).toMatch(/ left out\.$/);
  });
  it("takes two thousand cue points of any number, and says how many there were", () => {
    const chapters = Array.from({ length: 2001 }, (_, n) => ({ title: String(n), startSeconds: n }));
    const { tags, warnings } = parseTags({ chapters });
    expect(tags.chapters).toHaveLength(2000);
    expect(warnings).toEqual(["The file has 2001 chapters or cue points; the first 2000 were taken."]);
  });
  it("of any kind becomes tags that every writer takes", () => {
    const anything = fc.dictionary(
      fc.constantFrom("title", "artist", "date", "isrc", "barcode", "track", "tracks", "chapters", "comment"),
      fc.anything(),
    );
    fc.assert(fc.property(anything, (given) => void newTags(parseTags(given).tags)));
  });
});
