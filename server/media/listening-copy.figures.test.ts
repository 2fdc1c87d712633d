/** Copies for listening by ffmpeg: two sides of any number of channels, as our own downmix says, and their outline. */
import { mkdtemp, rm, stat, writeFile } from "node:fs/promises";
import { tmpdir } from "node:os";
import { join } from "node:path";
import { afterAll, beforeAll, describe, expect, it } from "vitest";
import { stereoDownmix } from "@core/audio/downmix";
import { layoutForChannels, layoutNamed, type Layout } from "@core/audio/layout";
import { MemorySink } from "@core/files/bytes";
import { openSoundFile } from "@core/files/open";
import { WavWriter } from "@core/files/wav-writer";
import { sine } from "@core/testing/signals";
import { openFile } from "../storage/byte-files";
import { decodeSound } from "./encode";
import { outlineOf, writeListeningCopy } from "./listening-copy";

const RATE = 48_000;
const SECONDS = 2;
let folder: string;
beforeAll(async () => void (folder = await mkdtemp(join(tmpdir(), "resonum-copy-"))));
afterAll(() => rm(folder, { recursive: true, force: true }));

/** A tone in one channel of a layout, silent in the second half; and its copy. */
async function copyOf(layout: Layout, channel: number) {
  const tone = sine(440, -20, SECONDS, RATE);
  tone.fill(0, RATE);
  const block = layout.speakers.map((_, c) => (c === channel ? tone : new Float32Array(tone.length)));
  const sink = new MemorySink();
  const writer = await WavWriter.open(sink, { sampleRate: RATE, layout, format: "32f" });
  await writer.writeFloat(block, tone.length);
  await writer.finish();
  const [path, out] = [join(folder, `${layout.name}.wav`), join(folder, `${layout.name}.ogg`)];
  await writeFile(path, sink.bytes());
  const master = { path, bytes: (await stat(path)).size, seconds: SECONDS, layout };
  await writeListeningCopy(master, out);
  return { out, outline: await outlineOf(out, master) };
}

/** Root of the mean square of the first second of each side. */
async function levelsOf(copy: string): Promise<number[]> {
  const decoded = `${copy}.wav`;
  await decodeSound(copy, 0, decoded);
  const file = await openFile(decoded);
  const sound = (await openSoundFile(file))!;
  const block = await sound.read(4800, RATE - 9600);
  await file.close();
  return block.map((x) => Math.sqrt(x.reduce((sum, v) => sum + v * v, 0) / x.length));
}

const LAYOUTS = [1, 2, 6, 8, 12, 24].map((channels) => layoutForChannels(channels));

describe("a copy for listening", () => {
  it.each(LAYOUTS.map((layout) => [layout.name, layout] as const))(
    "of %s has each channel where it belongs",
    async (_, layout) => {
      // The last channel that is folded in at all: one above or behind, where there is one.
      const gains = stereoDownmix(layout);
      const channel = gains.findLastIndex(([left, right]) => left > 0 || right > 0);
      const levels = await levelsOf((await copyOf(layout, channel)).out);
      const rms = 10 ** (-20 / 20) / Math.SQRT2;
      expect(levels).toHaveLength(2);
      gains[channel]!.forEach((gain, side) => expect(levels[side]).toBeCloseTo(gain * rms, 2));
    },
  );

  it("is drawn as it sounds: loud, then silent", async () => {
    const { outline } = await copyOf(layoutNamed("stereo")!, 0);
    expect(outline).toHaveLength(800);
    expect(Math.min(...outline.slice(10, 380))).toBeGreaterThan(0.02);
    expect(Math.max(...outline.slice(420))).toBeLessThan(0.005);
  });

  it("is refused of what is no sound", async () => {
    const path = join(folder, "text.wav");
    await writeFile(path, "no sound at all");
    await expect(
      writeListeningCopy({ path, bytes: 15, seconds: 1, layout: null }, join(folder, "none.ogg")),
    ).rejects.toThrow();
  });
});
