/**
 * Debian's ffmpeg as a confined child: it runs in a sandbox, is told which one demuxer may read a file (by the file's
 * first bytes), and ends by a kill when it takes too long, when it stands still, or when its process ends. What it says
 * is turned into what a person can do.
 */
import { spawn, type ChildProcessByStdio } from "node:child_process";
import type { Readable } from "node:stream";
import * as z from "zod";
import { FileProblem } from "@core/files/bytes";
import { identifyContainer } from "@core/files/container-signature";
import { layoutForChannels, layoutFromMask, type Layout } from "@core/signal/layout";
import { emptyPlanar, type Planar } from "@core/signal/units";
import { openFile } from "./byte-files";
import { log } from "./log";
import { reads, sandboxed, type SandboxArgument } from "./sandbox";

const MEMORY_BYTES = 2 * 2 ** 30;
const LARGEST_FILE_BYTES = 2 ** 40;
/** The description of a file is told at once, whatever its size. */
const PROBE_SECONDS = 10;
/** Without a byte for so long, while we wait for one, a decoder is stuck. */
const STALLED_MS = 10_000;

/** Wall-clock time that work on a file of so many bytes may take. */
export const wallSecondsFor = (bytes: number): number => 30 + bytes / 20_000;

type Child = ChildProcessByStdio<null, Readable, Readable>;

interface Running {
  child: Child;
  /** Resolves when it has ended well. @throws FileProblem, or an error with the code ENOSPC */
  ended: Promise<void>;
  /** Ends it, with this as the reason. */
  stop(reason: string): void;
  /** The last of what it complained of. */
  complaints(): string;
}

interface RunOptions {
  wallSeconds: number;
  signal?: AbortSignal | undefined;
  writesFiles?: boolean;
}

const TOO_LONG =
  "Reading the file was stopped: it took longer than any sound file of its size. It is damaged, or not what it says it is.";
const STUCK = "Reading the file was stopped: nothing came out of it any more. It is damaged.";

async function run(
  tool: "ffmpeg" | "ffprobe",
  args: readonly SandboxArgument[],
  { wallSeconds, signal, writesFiles = false }: RunOptions,
): Promise<Running> {
  const fileBytes = writesFiles ? LARGEST_FILE_BYTES : 0;
  const quiet = tool === "ffmpeg" ? ["-hide_banner", "-nostdin", "-v", "error"] : ["-hide_banner", "-v", "error"];
  const limits = { cpuSeconds: wallSeconds, memoryBytes: MEMORY_BYTES, fileBytes };
  const command = await sandboxed(tool, [...quiet, ...args], limits);
  const child = spawn(command.program, command.args, {
    stdio: ["ignore", "pipe", "pipe"],
    cwd: "/",
    env: { PATH: process.env.PATH ?? "/usr/bin", LC_ALL: "C" },
    signal,
    killSignal: "SIGKILL",
    // A process that answers a stop finishes the job in hand: its tool has a group of its own and outlives a signal to
    // the whole group, such as Ctrl-C. Where nobody answers, the tool ends with its process.
    detached: process.listenerCount("SIGTERM") > 0,
  });
  let errors = "";
  let reason: string | undefined;
  child.stderr.on("data", (chunk: Buffer) => (errors = (errors + chunk.toString()).slice(-4000)));
  const stop = (why: string) => {
    reason ??= why;
    child.kill("SIGKILL");
  };
  const timer = setTimeout(() => stop(TOO_LONG), wallSeconds * 1000);
  const closed = new Promise<number | null>((resolve, reject) => {
    child.on("error", (error) => reject(missingTool(error)));
    child.on("close", resolve);
  });
  const ended = closed
    .finally(async () => {
      clearTimeout(timer);
      await command.release();
    })
    .then((code) => {
      if (reason !== undefined) throw new FileProblem(reason);
      if (code === 0) return;
      log.debug({ tool, said: errors }, "ffmpeg could not");
      if (/No space left on device/i.test(errors)) throw Object.assign(new Error(errors), { code: "ENOSPC" });
      throw new FileProblem(explain(errors));
    });
  ended.catch(() => undefined); // told when it is awaited
  return { child, ended, stop, complaints: () => errors.trim() };
}

/** A file as ffmpeg's input, with the one demuxer that may read it. @throws FileProblem where it is no recording */
export async function inputOf(path: string): Promise<SandboxArgument[]> {
  return demuxedBy(await containerOf(path).then(({ demuxer }) => demuxer), path);
}

/** A file as the input of a demuxer of our choice: for what we have written ourselves. */
export const demuxedBy = (demuxer: string, path: string): SandboxArgument[] => [
  ...["-protocol_whitelist", "file,pipe", "-format_whitelist", demuxer, "-f", demuxer],
  "-i",
  reads(path),
];

async function containerOf(path: string) {
  const file = await openFile(path);
  try {
    return { ...(await identifyContainer(file)), bytes: file.size };
  } finally {
    await file.close();
  }
}

/** What a tool prints, up to 1 MB. @throws FileProblem in words for a person */
export async function textOf(
  tool: "ffmpeg" | "ffprobe",
  args: readonly SandboxArgument[],
  { wallSeconds = PROBE_SECONDS, signal }: { wallSeconds?: number; signal?: AbortSignal | undefined } = {},
): Promise<string> {
  const { child, ended } = await run(tool, args, { wallSeconds, signal });
  let out = "";
  child.stdout.on("data", (chunk: Buffer) => (out = (out + chunk.toString()).slice(0, 1 << 20)));
  await ended;
  return out;
}

/** Has ffmpeg write a file. @throws FileProblem; what it wrote before stays */
export async function writeByFfmpeg(args: readonly SandboxArgument[], options: RunOptions): Promise<void> {
  const { child, ended } = await run("ffmpeg", ["-y", ...args], { ...options, writesFiles: true });
  child.stdout.resume();
  await ended;
}

/** Which ffmpeg this is: its files depend on it. */
export async function ffmpegVersion(): Promise<string> {
  const [first] = (await textOf("ffmpeg", ["-version"])).split("\n");
  return first?.replace(/ Copyright.*$/, "").trim() ?? "unknown";
}

function missingTool(error: Error): Error {
  return (error as NodeJS.ErrnoException).code === "ENOENT"
    ? new FileProblem(
        "ffmpeg is not installed, so only WAV and AIFF can be read. Install it with: apt-get install ffmpeg",
      )
    : error;
}

const EXPLAINED: readonly { is: RegExp; words: string }[] = [
  {
    is: /moov atom not found/i,
    words:
      "The file has no index at its end: the recording or the copy was cut off. Copy it again, or repair it where it was made.",
  },
  {
    is: /Cannot allocate memory|out of memory/i,
    words: "Reading the file needs more memory than is allowed for it.",
  },
  {
    is: /execvp .*(ffmpeg|ffprobe)|failed to execute/i,
    words: "ffmpeg is not installed, so only WAV and AIFF can be read. Install it with: apt-get install ffmpeg",
  },
];

/** What ffmpeg complained of, for a person: none of its own words. */
const explain = (errors: string): string =>
  EXPLAINED.find(({ is }) => is.test(errors))?.words ??
  "The file could not be read: it is damaged, or of a kind that is not supported. Copy it again, or convert it to WAV where it was made.";

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
        disposition: z.object({ attached_pic: z.number() }).partial().optional(),
      }),
    )
    .default([]),
  format: z.object({ duration: z.coerce.number().optional() }).default({}),
});

export interface MediaAbout {
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

function parseProbe(text: string) {
  try {
    return probeSchema.parse(JSON.parse(text));
  } catch {
    throw new FileProblem("The file's description could not be understood: it is damaged.");
  }
}

/** What sound a file holds. @throws FileProblem when there is none, or it cannot be read */
export async function probeMedia(path: string): Promise<MediaAbout> {
  const { name, demuxer, bytes } = await containerOf(path);
  const args = [...demuxedBy(demuxer, path), "-show_streams", "-show_format", "-of", "json"];
  const { streams, format } = parseProbe(await textOf("ffprobe", args));
  const sound = streams.filter(({ codec_type }) => codec_type === "audio");
  const first = sound[0];
  if (!first) throw new FileProblem("The file holds no sound.");
  const { sample_rate: sampleRate = 0, channels = 0, codec_name: codec = "unknown" } = first;
  if (channels < 1 || channels > 24) throw new FileProblem(`The file has ${channels} channels; 1 to 24 can be read.`);
  if (!(sampleRate >= 8000 && sampleRate <= 384_000))
    throw new FileProblem(`The sample rate is ${sampleRate} Hz; 8000 to 384000 can be read.`);
  const video = streams.some((stream) => stream.codec_type === "video" && !stream.disposition?.attached_pic);
  const warnings = sound.length > 1 ? [`The file has ${sound.length} sound tracks; the first was taken.`] : [];
  const mask = MASKS[first.channel_layout ?? ""];
  return {
    container: name + (video ? ", with picture" : ""),
    demuxer,
    encoding: codec.toUpperCase(),
    sampleRate,
    channels,
    layout: channels <= 2 ? layoutForChannels(channels) : mask ? layoutFromMask(mask, channels) : undefined,
    bits: LOSSLESS.includes(codec) ? first.bits_per_raw_sample || 16 : null,
    seconds: first.duration ?? format.duration ?? 0,
    streamIndex: first.index,
    fileBytes: bytes,
    warnings,
  };
}

/** Decodes a file's sound, block by block. @throws FileProblem; what was decoded before stays with the caller */
export async function* decodeMedia(
  path: string,
  about: MediaAbout,
  signal: AbortSignal,
): AsyncGenerator<Planar, string[]> {
  const { child, ended, stop, complaints } = await run(
    "ffmpeg",
    [
      ...demuxedBy(about.demuxer, path),
      ...["-map", `0:${about.streamIndex}`, "-vn", "-sn", "-dn"],
      ...["-f", "f32le", "-acodec", "pcm_f32le", "pipe:1"],
    ],
    { wallSeconds: wallSecondsFor(about.fileBytes), signal },
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
    if (any && error instanceof FileProblem) return [DAMAGED];
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
