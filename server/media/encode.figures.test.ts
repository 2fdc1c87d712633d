/** Encoded masters: what is in them is read by ffprobe, what is heard is decoded and measured. */
import { execFileSync } from "node:child_process";
import { mkdir, mkdtemp, readFile, rm, writeFile } from "node:fs/promises";
import { tmpdir } from "node:os";
import { join } from "node:path";
import { afterAll, beforeAll, describe, expect, it } from "vitest";
import { align } from "@core/compare/alignment";
import { newTags } from "@core/files/tags";
import { MemorySink } from "@core/files/bytes";
import { openSoundFile } from "@core/files/open";
import { writeWithTags } from "@core/delivery/retag";
import { renderMaster } from "@core/delivery/render-master";
import { renderSound } from "@core/delivery/write-master";
import type { MasterJob } from "@core/delivery/master-job";
import { newFormat, recipeSchema, type MasterFormat } from "@core/delivery/recipe";
import { loudnessBetween, truePeakAtMost } from "@core/delivery/spec";
import { specNamed } from "@core/delivery/specs";
import { layoutNamed } from "@core/audio/layout";
import { exactTruePeakDb, memoryFrames, noise, sine } from "@core/testing/signals";
import { hashFile, openFile } from "../storage/byte-files";
import { makePng } from "../reports/png";
import { retagEncoded } from "./encode";
import { MasterFile } from "../rendering/master-file";
import { codedSoundHash, pictureHash, trackOffset } from "./video";

let folder: string;
let cover: string;
beforeAll(async () => {
  folder = await mkdtemp(join(tmpdir(), "resonum-encode-"));
  cover = join(folder, "cover.png");
  await writeFile(cover, makePng(64));
});
afterAll(() => rm(folder, { recursive: true, force: true }));

const TAGS = newTags({
  title: "Low Door = “Sluice”; №4",
  artist: "The Quiet Sluices",
  album: "Saltmarsh Hours",
  albumArtist: "The Quiet Sluices",
  composer: "Merle Tan",
  genre: "Folk",
  date: "2026",
  isrc: "ZZS1H2600004",
  barcode: "4006381333931",
  catalogue: "LSP 014",
  comment: "Line one",
  track: 4,
  tracks: 7,
  chapters: [
    { title: "Beginning", startSeconds: 0 },
    { title: "Wāter", startSeconds: 1.5 },
  ],
});

/** Bright and spiky: what lossy encoders put over the ceiling. */
const block = [1, 2].map((side) => {
  const x = noise(2, 48000, -14, side);
  const tone = sine(5200 + 90 * side, -8, 2, 48000);
  return x.map((v, i) => 0.9 * (v + tone[i]! * (i % 7000 < 900 ? 1 : 0.1)));
});

let made = 0;
async function master(
  format: MasterFormat,
  spec: unknown = "streaming-14",
  more: Partial<MasterJob> = {},
  video: string | null = null,
) {
  const place = join(folder, `master-${made++}`);
  await mkdir(place);
  const about = { format, tags: more.tags ?? TAGS, cover, video: video ? { path: video, extension: "mp4" } : null };
  const file = new MasterFile(place, about);
  const job: MasterJob = {
    source: memoryFrames(block, 48000),
    layout: layoutNamed("stereo")!,
    sourceBits: null,
    recipe: recipeSchema.parse({ spec, format }),
    tags: TAGS,
    ...more,
  };
  const result = await renderMaster(job, file);
  await file.finish();
  return { file, result, job };
}

interface Probed {
  streams: { codec_name: string; codec_type: string; tags?: Record<string, string> }[];
  format: { tags?: Record<string, string>; duration: string };
  chapters: { start_time: string; tags: { title: string } }[];
}
const probe = (path: string): Probed =>
  JSON.parse(
    execFileSync("ffprobe", [
      "-v",
      "error",
      "-show_streams",
      "-show_format",
      "-show_chapters",
      "-of",
      "json",
      path,
    ]).toString(),
  ) as Probed;

/** Tags of file and streams together, their names in small letters. */
const tagsIn = ({ format, streams }: Probed): Record<string, string> =>
  Object.fromEntries(
    [...Object.entries(format.tags ?? {}), ...streams.flatMap(({ tags }) => Object.entries(tags ?? {}))].map(
      ([name, value]) => [name.toLowerCase(), value],
    ),
  );

async function decoded(path: string) {
  const out = `${path}.wav`;
  execFileSync("ffmpeg", ["-v", "error", "-y", "-i", path, "-map", "0:a:0", "-c:a", "pcm_f32le", out]);
  const bytes = await openFile(out);
  const file = (await openSoundFile(bytes))!;
  const sound = await file.read(0, file.frames);
  await bytes.close();
  return { sound, rate: file.sampleRate };
}

describe("encoded masters", () => {
  const formats: [string, MasterFormat, string][] = [
    ["FLAC", newFormat({ container: "flac", bitDepth: "24" }), "flac"],
    ["MP3 at a constant rate", newFormat({ container: "mp3", sampleRate: 44100, bitrateKbps: 128 }), "mp3"],
    ["MP3 at a variable rate", newFormat({ container: "mp3", bitrateKbps: 192, variableBitrate: true }), "mp3"],
    ["AAC", newFormat({ container: "m4a", bitrateKbps: 128 }), "aac"],
    ["Opus", newFormat({ container: "opus", bitrateKbps: 64 }), "opus"],
  ];
  it.each([
    ["FLAC", newFormat({ container: "flac", bitDepth: "24" })],
    ["MP3", newFormat({ container: "mp3", bitrateKbps: 192 })],
    ["AAC", newFormat({ container: "m4a", bitrateKbps: 192 })],
    ["Opus", newFormat({ container: "opus", bitrateKbps: 128 })],
  ])("%s is inside in four passes at most where it must be limited", async (_, format) => {
    const spec = {
      ...specNamed("streaming-14")!,
      id: "own",
      target: -8,
      limits: [truePeakAtMost(-1, "own"), loudnessBetween(-8.5, -7.5, "own")],
    };
    const { result } = await master(format, { ...spec, maxLimitingLossLu: 20, maxLimitingDb: 20 });
    expect(result.limitingDb).toBeGreaterThan(0.4);
    expect(result.figures.truePeakDbtp!).toBeLessThanOrEqual(-1);
    expect(Math.abs(result.figures.integratedLufs! + 8)).toBeLessThanOrEqual(0.5);
    expect(result.attempts).toBeLessThanOrEqual(4);
  });
  it.each(formats)(
    "%s meet their spec as they are decoded, and carry tags, chapters and a cover",
    async (_, format, codec) => {
      const { file, result } = await master(format);
      expect(result.verdict!.pass).toBe(true);
      expect(Math.abs(result.figures.integratedLufs! + 14)).toBeLessThanOrEqual(0.05);
      const { sound } = await decoded(file.path);
      for (const x of sound) expect(exactTruePeakDb(x)).toBeLessThanOrEqual(-1 + 0.02);
      const about = probe(file.path);
      expect(about.streams[0]!.codec_name).toBe(codec);
      const tags = tagsIn(about);
      expect(tags).toMatchObject({ title: TAGS.title, artist: TAGS.artist, album: TAGS.album, genre: "Folk" });
      expect(JSON.stringify(tags)).toContain("ZZS1H2600004");
      expect(JSON.stringify(tags)).toContain("4006381333931");
      expect(tags.track ?? tags.tracknumber).toMatch(/^4/);
      expect(about.chapters.map(({ start_time, tags: { title } }) => [Number(start_time), title])).toEqual([
        [0, "Beginning"],
        [1.5, "Wāter"],
      ]);
      expect(about.streams.some(({ codec_type }) => codec_type === "video")).toBe(true);
      await file.close();
    },
  );

  it("keep every sample in FLAC", async () => {
    const { file } = await master(newFormat({ container: "flac", bitDepth: "16" }));
    const bytes = await openFile(file.soundPath);
    const own = (await openSoundFile(bytes))!;
    const wanted = await own.read(0, own.frames);
    expect((await decoded(file.path)).sound).toEqual(wanted);
    await bytes.close();
    await file.close();
  });

  it("are the same bytes each time, and so is the sound that is encoded", async () => {
    const format = newFormat({ container: "opus", bitrateKbps: 64 });
    const [first, second] = [await master(format), await master(format)];
    expect(await hashFile(first.file.path)).toEqual(await hashFile(second.file.path));
    const before = await hashFile(first.file.soundPath);
    await renderSound(first.job, first.result, first.file);
    await first.file.finish();
    expect(await hashFile(first.file.soundPath)).toEqual(before);
    await first.file.close();
    await second.file.close();
  });
});

describe("a master with other tags", () => {
  const OTHER = newTags({
    ...TAGS,
    title: "Low Door, remembered",
    artist: "",
    comment: "A much longer line than before",
  });
  it.each([
    ["FLAC", newFormat({ container: "flac", bitDepth: "24" })],
    ["MP3", newFormat({ container: "mp3", bitrateKbps: 192 })],
  ])("has the bytes of a render with them, without being encoded again: %s", async (_, format) => {
    const { file } = await master(format);
    const wanted = await master(format, "streaming-14", { tags: OTHER });
    const out = join(wanted.file.folder, "again");
    await retagEncoded({
      ...{ sound: file.path, out, folder: wanted.file.folder, format, tags: OTHER },
      ...{ seconds: wanted.result.figures.durationSeconds, cover },
    });
    expect(await hashFile(out)).toEqual(await hashFile(wanted.file.path));
    expect(await codedSoundHash(out)).toBe(await codedSoundHash(file.path));
  });
  it.each([
    ["WAV", newFormat({ bitDepth: "24" })],
    ["WAV, 16 bit with dither", newFormat({ bitDepth: "16" })],
    ["RF64", newFormat({ container: "rf64", bitDepth: "32f" })],
    ["BW64", newFormat({ container: "bw64", bitDepth: "24" })],
    ["AIFF", newFormat({ container: "aiff", bitDepth: "24" })],
  ])("has the bytes of a render with them, samples copied: %s", async (_, format) => {
    const { file } = await master(format);
    const wanted = await master(format, "streaming-14", { tags: OTHER });
    const before = await openFile(file.path);
    const sink = new MemorySink();
    await writeWithTags((await openSoundFile(before))!, sink, {
      ...{ recipe: wanted.job.recipe, layout: wanted.job.layout, tags: OTHER },
      figures: wanted.result.figures,
    });
    await before.close();
    expect(Buffer.compare(sink.bytes(), await readFile(wanted.file.path))).toBe(0);
  });
});

describe("sound under a picture", () => {
  it("leaves the picture bit for bit, begins where it began, and lies to the sample", async () => {
    const video = join(folder, "reel.mp4");
    const sound = join(folder, "reel.wav");
    execFileSync("sh", [
      "-c",
      `ffmpeg -v error -y -f lavfi -i anoisesrc=d=3:r=48000:a=0.5:c=brown:seed=4 -ac 2 "${sound}" && ffmpeg -v error -y -f lavfi -i testsrc=s=160x90:r=25:d=3 -itsoffset 0.2 -i "${sound}" -c:v libx264 -pix_fmt yuv420p -c:a aac -metadata:s:a:0 language=fra "${video}"`,
    ]);
    const before = { hash: await pictureHash(video), offset: await trackOffset(video) };
    expect(before.offset).toBeGreaterThan(0.15);
    for (const tracks of ["replace", "keep"] as const) {
      const { file } = await master(newFormat({ container: "video", tracks }), "ebu-r128", {}, video);
      expect(await pictureHash(file.path)).toBe(before.hash);
      // What was the first sample of the sound is heard when it was, whatever the encoder puts before it.
      const [own, heard] = await Promise.all([openFile(file.soundPath), openFile(join(file.folder, "decoded"))]);
      const { shift, likeness } = await align((await openSoundFile(own))!, (await openSoundFile(heard))!);
      expect(likeness).toBeGreaterThan(0.9);
      const begins = (await trackOffset(file.path)) + shift / 48_000;
      expect(Math.abs(begins - before.offset)).toBeLessThan(0.5 / 48_000);
      await Promise.all([own.close(), heard.close()]);
      const streams = probe(file.path).streams.filter(({ codec_type }) => codec_type === "audio");
      expect(streams).toHaveLength(tracks === "keep" ? 2 : 1);
      await file.close();
    }
  });
  it("is refused for recordings without one", async () => {
    await expect(master(newFormat({ container: "video" }))).rejects.toThrow(/no picture/);
  });
});
