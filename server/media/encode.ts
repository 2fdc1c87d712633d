/** Files that ffmpeg writes: FLAC, MP3, AAC and Opus with their tags, chapters and cover; and sound put back under a picture. */
import { readFile, stat, writeFile } from "node:fs/promises";
import { join } from "node:path";
import { FileProblem } from "@core/files/bytes";
import { chapterSpans, type Tags } from "@core/files/tags";
import type { MasterFormat } from "@core/delivery/recipe";
import { formatClock } from "@core/audio/format";
import type { Container } from "@core/files/containers";
import { imageFormatOf } from "./image-signature";
import { demuxedBy, inputOf, wallSecondsFor, writeByFfmpeg } from "./ffmpeg";
import { outputFile, type SandboxArgument } from "./sandbox";

export interface Encoding {
  /** The sound as WAV. */
  sound: string;
  out: string;
  /** For what must lie beside. */
  folder: string;
  format: MasterFormat;
  tags: Tags;
  seconds: number;
  cover: string | null;
}

/** Nothing of the time or the machine goes into the file. */
const SAME_BYTES = ["-fflags", "+bitexact", "-flags:v", "+bitexact", "-flags:a", "+bitexact"];

const escaped = (text: string): string => text.replace(/[=;#\\\n]/g, (character) => `\\${character}`);

/** Names of what an encoder's container calls by itself; all others go by ours. */
type Code = "isrc" | "barcode" | "catalogue";
const KEYS: Partial<Record<Container, Record<Code, string>>> = {
  mp3: { isrc: "TSRC", barcode: "BARCODE", catalogue: "CATALOGNUMBER" },
  flac: { isrc: "ISRC", barcode: "BARCODE", catalogue: "CATALOGNUMBER" },
  opus: { isrc: "ISRC", barcode: "BARCODE", catalogue: "CATALOGNUMBER" },
};

const isVorbisCommented = (container: Container): boolean => container === "flac" || container === "opus";

/** Chapters as Vorbis comments: ffmpeg writes none into FLAC, and rounds their times in Ogg. */
const vorbisChapters = ({ chapters }: Tags): string[] =>
  chapters.flatMap(({ title, startSeconds }, index) => {
    const number = String(index).padStart(3, "0");
    return [`CHAPTER${number}=${formatClock(startSeconds)}`, `CHAPTER${number}NAME=${escaped(title)}`];
  });

/** Tags and chapters in ffmpeg's own text form. */
export function metadataText(tags: Tags, container: Container, seconds: number): string {
  const keys = KEYS[container];
  // MP4 has no place for codes that every reader knows: they are told in words.
  const codes = [
    tags.isrc && `ISRC ${tags.isrc}`,
    tags.catalogue && `catalogue ${tags.catalogue}`,
    tags.barcode && `barcode ${tags.barcode}`,
  ].filter(Boolean);
  const comment = [tags.comment, ...(keys ? [] : codes)].filter(Boolean).join("; ");
  const pairs: [string, string][] = [
    ["title", tags.title],
    ["artist", tags.artist],
    ["album", tags.album],
    ["album_artist", tags.albumArtist],
    ["composer", tags.composer],
    ["publisher", tags.publisher],
    ["genre", tags.genre],
    ["date", tags.date],
    ["track", tags.track ? (tags.tracks ? `${tags.track}/${tags.tracks}` : String(tags.track)) : ""],
    ["comment", comment],
    ...(keys ? Object.entries(keys).map(([name, key]): [string, string] => [key, tags[name as Code]]) : []),
  ];
  const lines = pairs.filter(([, value]) => value !== "").map(([key, value]) => `${key}=${escaped(value)}`);
  if (isVorbisCommented(container)) return [";FFMETADATA1", ...lines, ...vorbisChapters(tags), ""].join("\n");
  const chapters = chapterSpans(tags.chapters, seconds).map(
    ({ title, startSeconds, endSeconds }) =>
      `[CHAPTER]\nTIMEBASE=1/1000\nSTART=${Math.round(startSeconds * 1000)}\nEND=${Math.round(endSeconds * 1000)}\ntitle=${escaped(title)}`,
  );
  return [";FFMETADATA1", ...lines, ...chapters, ""].join("\n");
}

/** LAME's qualities by the rate that they come to. */
const MP3_QUALITIES: readonly [bitrateKbps: number, quality: number][] = [
  [245, 0],
  [225, 1],
  [190, 2],
  [175, 3],
  [165, 4],
  [130, 5],
  [115, 6],
  [100, 7],
  [85, 8],
  [65, 9],
];

const nearestQuality = (bitrateKbps: number): number =>
  MP3_QUALITIES.reduce((a, b) => (Math.abs(b[0] - bitrateKbps) < Math.abs(a[0] - bitrateKbps) ? b : a))[1];

function codecOf(format: MasterFormat): string[] {
  const { container, bitDepth, bitrateKbps, variableBitrate } = format;
  return [...coderOf(container, bitDepth, bitrateKbps, variableBitrate), ...muxerOf(format)];
}

function coderOf(
  container: Container,
  bits: MasterFormat["bitDepth"],
  bitrateKbps: number,
  variable: boolean,
): string[] {
  switch (container) {
    case "flac":
      return ["-c:a", "flac", "-compression_level", "8", "-sample_fmt", bits === "16" ? "s16" : "s32"];
    case "mp3":
      return [
        "-c:a",
        "libmp3lame",
        ...(variable ? ["-q:a", String(nearestQuality(bitrateKbps))] : ["-b:a", `${bitrateKbps}k`]),
      ];
    case "m4a":
      return ["-c:a", "aac", "-b:a", `${bitrateKbps}k`];
    case "opus":
      return ["-c:a", "libopus", "-b:a", `${bitrateKbps}k`, "-vbr", variable ? "on" : "off"];
    default:
      throw new Error(`${container} is not encoded by ffmpeg`);
  }
}

const MUXERS: Partial<Record<Container, readonly string[]>> = {
  flac: ["-f", "flac"],
  mp3: ["-id3v2_version", "4", "-f", "mp3"],
  m4a: ["-movflags", "+faststart", "-f", "ipod"],
  opus: ["-f", "ogg"],
};

const muxerOf = ({ container }: MasterFormat): readonly string[] => MUXERS[container] ?? [];

/** A picture as Ogg carries it: a FLAC picture block in base64. */
function pictureBlock(bytes: Buffer, type: string): string {
  const u32 = (value: number) => {
    const four = Buffer.alloc(4);
    four.writeUInt32BE(value);
    return four;
  };
  const mime = Buffer.from(type, "ascii");
  const FRONT_COVER = 3;
  return Buffer.concat([
    u32(FRONT_COVER),
    u32(mime.length),
    mime,
    u32(0),
    ...[0, 0, 0, 0].map(u32),
    u32(bytes.length),
    bytes,
  ]).toString("base64");
}

/** Encodes a master. @throws FileProblem */
export async function encodeSound(encoding: Encoding, signal?: AbortSignal): Promise<void> {
  await writeTagged(encoding, demuxedBy("wav", encoding.sound), codecOf(encoding.format), signal);
}

/** Writes an encoded master with other tags: its coded sound stays as it is. @throws FileProblem */
export async function retagEncoded(encoding: Encoding, signal?: AbortSignal): Promise<void> {
  const { sound, format } = encoding;
  await writeTagged(encoding, await inputOf(sound), ["-c:a", "copy", ...muxerOf(format)], signal);
}

async function writeTagged(
  { sound, out, folder, format, tags, seconds, cover }: Encoding,
  input: readonly SandboxArgument[],
  codec: readonly string[],
  signal: AbortSignal | undefined,
): Promise<void> {
  const about = join(folder, "about.txt");
  let text = metadataText(tags, format.container, seconds);
  const attached = cover !== null && format.container !== "opus";
  if (cover !== null && !attached) {
    const bytes = await readFile(cover);
    const lines = text.split("\n");
    lines.splice(1, 0, `METADATA_BLOCK_PICTURE=${escaped(pictureBlock(bytes, imageFormatOf(bytes) ?? "image/jpeg"))}`);
    text = lines.join("\n");
  }
  await writeFile(about, text);
  const inputs = [...input, ...demuxedBy("ffmetadata", about)];
  if (attached) inputs.push(...demuxedBy(await imageDemuxer(cover), cover));
  const maps = ["-map", "0:a", "-map_metadata", "1", "-map_chapters", isVorbisCommented(format.container) ? "-1" : "1"];
  if (attached) maps.push("-map", "2:v", "-c:v", "copy", "-disposition:v:0", "attached_pic");
  await writeByFfmpeg([...inputs, ...SAME_BYTES, ...maps, ...codec, outputFile(out)], await limitsOf(sound, signal));
}

const limitsOf = async (path: string, signal?: AbortSignal) => ({
  wallSeconds: wallSecondsFor((await stat(path)).size),
  signal,
});

const IMAGE_DEMUXERS: Readonly<Record<string, string>> = {
  "image/png": "png_pipe",
  "image/jpeg": "jpeg_pipe",
  "image/webp": "webp_pipe",
};

/** @throws FileProblem where it is no image that a file can carry */
async function imageDemuxer(path: string): Promise<string> {
  const kind = imageFormatOf(await readFile(path));
  const demuxer = kind && IMAGE_DEMUXERS[kind];
  if (!demuxer) throw new FileProblem("The cover is no JPEG, PNG or WebP image: choose another one.");
  return demuxer;
}

/** Decodes the sound of a file to floating point. */
export const decodeSound = async (from: string, track: number, out: string, signal?: AbortSignal): Promise<void> =>
  writeByFfmpeg(
    [
      ...(await inputOf(from)),
      ...["-map", `0:a:${track}`, "-c:a", "pcm_f32le", "-rf64", "auto", "-f", "wav"],
      outputFile(out),
    ],
    await limitsOf(from, signal),
  );

/** How the sound of a video is kept, by the container that its picture is in. */
function videoCodec(extension: string, bitrateKbps: number): string[] {
  switch (extension) {
    case "mov":
      return ["-c:a:0", "pcm_s24le"];
    case "mkv":
      return ["-c:a:0", "flac"];
    case "webm":
      return ["-c:a:0", "libopus", "-b:a:0", `${bitrateKbps}k`];
    case "mp4":
    case "m4v":
      return ["-c:a:0", "aac", "-b:a:0", `${bitrateKbps}k`];
    default:
      throw new FileProblem(
        `Sound cannot be put back into a .${extension} file: MP4, MOV, MKV and WebM can. Deliver the sound by itself.`,
      );
  }
}

const isMovie = (extension: string): boolean => ["mp4", "mov", "m4v"].includes(extension);
/** Holds whole samples of 44.1, 48 and 96 kHz. */
const MOVIE_TIMESCALE = 14_112_000;

/** A video whose sound is replaced. */
export interface VideoAbout {
  path: string;
  extension: string;
  /** Which of its sound tracks the new one is made of, and its language. */
  track?: number;
  language?: string | null;
}

export interface VideoSound {
  picture: string;
  extension: string;
  language?: string | null;
  sound: string;
  out: string;
  format: MasterFormat;
  /** Where the sound began against the picture, in seconds. */
  offsetSeconds: number;
}

/** Puts sound under a picture that is copied as it is. @throws FileProblem */
export async function soundUnderPicture(
  { picture, extension, language, sound, out, format, offsetSeconds }: VideoSound,
  signal?: AbortSignal,
): Promise<void> {
  const kept = format.tracks === "keep" ? ["-map", "0:a", "-c:a", "copy"] : [];
  await writeByFfmpeg(
    [
      ...(await inputOf(picture)),
      ...(offsetSeconds === 0 ? [] : ["-itsoffset", String(offsetSeconds)]),
      ...demuxedBy("wav", sound),
      "-fflags",
      "+bitexact",
      "-flags:a",
      "+bitexact",
      // The new sound comes first; what there was follows where it is kept.
      "-map",
      "0:v",
      "-map",
      "1:a",
      ...kept,
      "-map",
      "0:s?",
      "-c:v",
      "copy",
      "-c:s",
      "copy",
      ...videoCodec(extension, format.bitrateKbps),
      ...(language ? ["-metadata:s:a:0", `language=${language}`] : []),
      "-map_metadata",
      "0",
      "-map_chapters",
      "0",
      // Where the sound begins is told in parts of a second: as fine as its samples.
      ...(isMovie(extension) ? ["-movflags", "+faststart", "-movie_timescale", String(MOVIE_TIMESCALE)] : []),
      outputFile(out),
    ],
    await limitsOf(picture, signal),
  );
}
