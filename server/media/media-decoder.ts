/** Recordings that the core does not read itself: what sound they hold, and that sound, block by block. */
import type { Readable } from "node:stream";
import * as z from "zod";
import { FileProblem } from "@core/files/bytes";
import { layoutForChannels, layoutFromMask, type Layout } from "@core/audio/layout";
import { parseTimecode, TIMECODE_RATES } from "@core/audio/timecode";
import { emptyPlanar, type Planar, type Seconds } from "@core/audio/units";
import type { SoundTrack } from "@core/project/views";
import { containerOf, demuxedBy, explain, run, textOf, WallClockExceeded, wallSecondsFor } from "./ffmpeg";

/** Without a byte for so long, while we wait for one, a decoder is stuck. */
const STALLED_MS = 10_000;
const STUCK = "Reading the file was stopped: nothing came out of it any more. It is damaged.";

const probeSchema = z.object({
  streams: z
    .array(
      z.object({
        index: z.number(),
        codec_type: z.string().optional(),
        codec_name: z.string().optional(),
        sample_rate: z.coerce.number().optional(),
        channels: z.number().optional(),
        channel_layout: z.string().optional(),
        bits_per_raw_sample: z.coerce.number().optional(),
        duration: z.coerce.number().optional(),
        r_frame_rate: z.string().optional(),
        tags: z.object({ language: z.string(), title: z.string(), timecode: z.string() }).partial().optional(),
        disposition: z.object({ attached_pic: z.number() }).partial().optional(),
      }),
    )
    .default([]),
  format: z
    .object({
      duration: z.coerce.number().optional(),
      tags: z.object({ timecode: z.string() }).partial().optional(),
    })
    .default({}),
});

export interface MediaProbe {
  container: string;
  demuxer: string;
  encoding: string;
  sampleRate: number;
  channels: number;
  layout: Layout | undefined;
  /** Depth of a lossless integer source; `null` where there is none. */
  bits: number | null;
  /** As stated by the file; may be off. */
  seconds: number;
  streamIndex: number;
  fileBytes: number;
  warnings: string[];
  /** All sound tracks, where there are several. */
  tracks: SoundTrack[] | null;
  /** Timecode of the beginning, from midnight; `undefined` where nothing tells it. */
  startSeconds: Seconds | undefined;
}

const MASKS: Record<string, number> = {
  "5.1": 0x3f,
  "5.1(side)": 0x60f,
  "7.1": 0x63f,
  "7.1.4": 0x2d63f,
  "5.1.4": 0x2d60f,
  quad: 0x33,
  "5.0": 0x37,
  "5.0(side)": 0x607,
};
const LOSSLESS = ["flac", "alac", "wavpack", "tta", "mlp", "truehd"];

/** Codecs by the names that the trade has for them. */
const CODEC_NAMES: Readonly<Record<string, string>> = {
  ...{ aac: "AAC", ac3: "AC-3", alac: "ALAC", dts: "DTS", eac3: "E-AC-3", flac: "FLAC", mp2: "MP2", mp3: "MP3" },
  ...{ opus: "Opus", truehd: "TrueHD", vorbis: "Vorbis", wavpack: "WavPack", pcm_alaw: "A-law", pcm_mulaw: "µ-law" },
};

/** "24-bit integer" for `pcm_s24le`, "FLAC" for `flac`. */
export function encodingName(codec: string): string {
  const [, kind, bits] = /^pcm_([suf])(\d+)/.exec(codec) ?? [];
  if (kind) return `${bits}-bit ${kind === "f" ? "float" : "integer"}`;
  return CODEC_NAMES[codec] ?? codec.replaceAll("_", " ").toUpperCase();
}

function parseProbe(text: string) {
  try {
    return probeSchema.parse(JSON.parse(text));
  } catch {
    throw new FileProblem("The file's description could not be understood: it is damaged.");
  }
}

type Probe = ReturnType<typeof parseProbe>;

/** A language that says nothing: undetermined, by ISO 639-2. */
const NO_LANGUAGE = "und";

const trackOf = ({ codec_name: codec = "unknown", channels = 0, tags }: Probe["streams"][number]): SoundTrack => ({
  encoding: encodingName(codec),
  channels,
  language: tags?.language && tags.language !== NO_LANGUAGE ? tags.language : null,
  title: tags?.title ?? null,
});

/** The timecode that a video tells of its first picture. */
function startOf({ streams, format }: Probe): Seconds | undefined {
  const text = streams.find(({ tags }) => tags?.timecode)?.tags?.timecode ?? format.tags?.timecode;
  const rate = streams.find(({ codec_type }) => codec_type === "video")?.r_frame_rate;
  const [frames = 0, seconds = 1] = (rate ?? "").split("/").map(Number);
  if (!text || !(frames > 0)) return undefined;
  const isDrop = text.includes(";");
  const found = Object.values(TIMECODE_RATES).find(
    ({ exact, dropFrame }) => Math.abs(exact - frames / seconds) < 0.005 && dropFrame === isDrop,
  );
  const start = found ? parseTimecode(text, found) : null;
  return start === null || start === 0 ? undefined : start;
}

/**
 * What sound a file holds.
 * @param track which of its sound tracks, from 0
 * @throws FileProblem when there is none, or it cannot be read
 */
export async function probeMedia(path: string, track = 0): Promise<MediaProbe> {
  const { name, demuxer, bytes } = await containerOf(path);
  const args = [...demuxedBy(demuxer, path), "-show_streams", "-show_format", "-of", "json"];
  const { streams, format } = parseProbe(await textOf("ffprobe", args));
  const sound = streams.filter(({ codec_type }) => codec_type === "audio");
  const first = sound[track] ?? sound[0];
  if (!first) throw new FileProblem("The file holds no sound.");
  const { sample_rate: sampleRate = 0, channels = 0, codec_name: codec = "unknown" } = first;
  if (channels < 1 || channels > 24) throw new FileProblem(`The file has ${channels} channels; 1 to 24 can be read.`);
  if (!(sampleRate >= 8000 && sampleRate <= 384_000))
    throw new FileProblem(`The sample rate is ${sampleRate} Hz; 8000 to 384000 can be read.`);
  const video = streams.some((stream) => stream.codec_type === "video" && !stream.disposition?.attached_pic);
  const mask = MASKS[first.channel_layout ?? ""];
  return {
    container: name + (video ? ", with picture" : ""),
    demuxer,
    encoding: encodingName(codec),
    sampleRate,
    channels,
    layout: channels <= 2 ? layoutForChannels(channels) : mask ? layoutFromMask(mask, channels) : undefined,
    bits: LOSSLESS.includes(codec) ? first.bits_per_raw_sample || 16 : null,
    seconds: first.duration ?? format.duration ?? 0,
    streamIndex: first.index,
    fileBytes: bytes,
    warnings: [],
    tracks: sound.length > 1 ? sound.map(trackOf) : null,
    startSeconds: startOf({ streams, format }),
  };
}

/** Decodes a file's sound, block by block. @throws FileProblem; what was decoded before stays with the caller */
export async function* decodeMedia(
  path: string,
  about: MediaProbe,
  signal: AbortSignal,
): AsyncGenerator<Planar, string[]> {
  const { child, ended, stop, complaints } = await run(
    "ffmpeg",
    [
      ...demuxedBy(about.demuxer, path),
      ...["-map", `0:${about.streamIndex}`, "-vn", "-sn", "-dn"],
      ...["-f", "f32le", "-acodec", "pcm_f32le", "pipe:1"],
    ],
    { wallSeconds: wallSecondsFor(about.fileBytes, about.seconds), signal },
  );
  const frameBytes = about.channels * 4;
  let rest = Buffer.alloc(0);
  let any = false;
  try {
    for await (const chunk of withoutStalling(child.stdout, () => stop(STUCK))) {
      const bytes = rest.length > 0 ? Buffer.concat([rest, chunk]) : chunk;
      const frames = Math.floor(bytes.length / frameBytes);
      if (frames > 0) {
        any = true;
        yield planarOf(bytes, about.channels, frames);
      }
      rest = Buffer.from(bytes.subarray(frames * frameBytes));
    }
    await ended;
    if (any) return complaints() === "" ? [] : [DAMAGED];
  } catch (error) {
    // Sound came out, and then trouble: keep it and say so.
    if (any && error instanceof FileProblem && !(error instanceof WallClockExceeded)) return [DAMAGED];
    throw error;
  } finally {
    stop("No longer wanted.");
  }
  throw new FileProblem(explain(complaints()));
}

const DAMAGED = "The file is damaged; what could be read was taken in.";

/** What a stream gives; `stalled` is called when it gives nothing for too long although we wait. */
async function* withoutStalling(stream: Readable, stalled: () => void): AsyncGenerator<Buffer> {
  const chunks = stream[Symbol.asyncIterator]() as AsyncIterator<Buffer>;
  for (;;) {
    const timer = setTimeout(stalled, STALLED_MS);
    const next = await chunks.next().finally(() => clearTimeout(timer));
    if (next.done) return;
    yield next.value;
  }
}

function planarOf(bytes: Buffer, channels: number, frames: number): Planar {
  const block = emptyPlanar(channels, frames);
  const view = new DataView(bytes.buffer, bytes.byteOffset, bytes.length);
  for (let c = 0; c < channels; c++) {
    const x = block[c]!;
    for (let i = 0, at = c * 4; i < frames; i++, at += channels * 4) x[i] = view.getFloat32(at, true);
  }
  return block;
}
