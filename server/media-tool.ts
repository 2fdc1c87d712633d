/**
 * Debian's ffmpeg as a confined child: local files only, no network, limits on time and memory, sound out by a pipe.
 * What it says is turned into what a person can do.
 */
import { spawn } from "node:child_process";
import * as z from "zod";
import { FileProblem } from "@core/files/bytes";
import { layoutForChannels, layoutFromMask, type Layout } from "@core/signal/layout";
import { emptyPlanar, type Planar } from "@core/signal/units";

const MEMORY_BYTES = 2 * 2 ** 30;
const PROBE_CPU_SECONDS = 20;
const DECODE_CPU_SECONDS = 3 * 3600;
export const CONFINED = ["-hide_banner", "-nostdin", "-protocol_whitelist", "file,pipe"];

/** @param fileBytes the largest file that it may write */
function run(
  tool: "ffmpeg" | "ffprobe",
  cpuSeconds: number,
  args: string[],
  signal?: AbortSignal,
  fileBytes: number | "unlimited" = 0,
) {
  const limits = [`--as=${MEMORY_BYTES}`, `--cpu=${cpuSeconds}`, "--core=0", `--fsize=${fileBytes}`];
  return spawn("prlimit", [...limits, tool, ...args], {
    stdio: ["ignore", "pipe", "pipe"],
    cwd: "/",
    env: { PATH: process.env.PATH ?? "/usr/bin", LC_ALL: "C" },
    signal,
    killSignal: "SIGKILL",
    // A process that answers a stop finishes the job in hand: its tool has a group of its own and outlives a signal to
    // the whole group, such as Ctrl-C. Where nobody answers, the tool ends with its process.
    detached: process.listenerCount("SIGTERM") > 0,
  });
}

/** What a tool prints. @throws FileProblem in words for a person */
export async function textOf(
  tool: "ffmpeg" | "ffprobe",
  args: string[],
  { cpuSeconds = PROBE_CPU_SECONDS, signal }: { cpuSeconds?: number; signal?: AbortSignal } = {},
): Promise<string> {
  const child = run(tool, cpuSeconds, args, signal);
  let out = "";
  let errors = "";
  child.stdout.on("data", (chunk: Buffer) => (out = (out + chunk.toString()).slice(0, 1 << 20)));
  child.stderr.on("data", (chunk: Buffer) => (errors = (errors + chunk.toString()).slice(-4000)));
  const code = await new Promise<number | null>((resolve, reject) => {
    child.on("error", reject);
    child.on("close", resolve);
  }).catch((error: Error) => {
    throw missingTool(error);
  });
  if (code !== 0) throw new FileProblem(explain(errors));
  return out;
}

/** Has ffmpeg write a file. @throws FileProblem; what it wrote before stays */
export async function writeByTool(args: string[], signal?: AbortSignal): Promise<void> {
  const child = run("ffmpeg", DECODE_CPU_SECONDS, [...CONFINED, "-v", "error", "-y", ...args], signal, "unlimited");
  let errors = "";
  child.stderr.on("data", (chunk: Buffer) => (errors = (errors + chunk.toString()).slice(-4000)));
  child.stdout.resume();
  const code = await new Promise<number | null>((resolve, reject) => {
    child.on("error", reject);
    child.on("close", resolve);
  }).catch((error: Error) => {
    throw missingTool(error);
  });
  if (code === 0) return;
  if (/No space left on device/i.test(errors)) throw Object.assign(new Error(errors), { code: "ENOSPC" });
  throw new FileProblem(explain(errors));
}

/** Which ffmpeg this is: its files depend on it. */
export async function mediaToolVersion(): Promise<string> {
  const [first] = (await textOf("ffmpeg", ["-hide_banner", "-version"])).split("\n");
  return first?.replace(/ Copyright.*$/, "").trim() ?? "unknown";
}

function missingTool(error: Error): Error {
  return (error as NodeJS.ErrnoException).code === "ENOENT"
    ? new FileProblem(
        "ffmpeg is not installed, so only WAV and AIFF can be read. Install it with: apt-get install ffmpeg",
      )
    : error;
}

function explain(errors: string): string {
  if (/moov atom not found/i.test(errors))
    return "The file has no index at its end: the recording or the copy was cut off. Copy it again, or repair it where it was made.";
  if (/Invalid data found|could not find codec parameters/i.test(errors))
    return "This does not look like a sound or video file, or it is damaged from the start.";
  if (/Cannot allocate memory|out of memory/i.test(errors))
    return "Reading the file needs more memory than is allowed for it.";
  const last =
    errors
      .trim()
      .split("\n")
      .pop()
      ?.replace(/^\[[^\]]*\]\s*/, "")
      .replace(/\/\S+/g, "the file") ?? "";
  return `The file could not be read${last ? `: ${last}` : ""}.`;
}

const probeSchema = z.object({
  streams: z.array(
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
  ),
  format: z.object({ format_long_name: z.string().optional(), duration: z.coerce.number().optional() }),
});

export interface MediaAbout {
  container: string;
  encoding: string;
  sampleRate: number;
  channels: number;
  layout: Layout | undefined;
  /** Depth of a lossless integer source; `null` where there is none. */
  bits: number | null;
  /** As stated by the file; may be off. */
  seconds: number;
  streamIndex: number;
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

/** What sound a file holds. @throws FileProblem when there is none, or it cannot be read */
export async function probeMedia(path: string): Promise<MediaAbout> {
  const args = [
    ...CONFINED.filter((flag) => flag !== "-nostdin"),
    "-v",
    "error",
    "-show_streams",
    "-show_format",
    "-of",
    "json",
    `file:${path}`,
  ];
  const parsed = probeSchema.safeParse(JSON.parse(await textOf("ffprobe", args)));
  if (!parsed.success) throw new FileProblem("The file's description could not be understood.");
  const { streams, format } = parsed.data;
  const sound = streams.filter(({ codec_type }) => codec_type === "audio");
  const first = sound[0];
  if (!first) throw new FileProblem("The file holds no sound.");
  const { sample_rate: sampleRate = 0, channels = 0, codec_name: codec = "unknown" } = first;
  if (channels < 1 || channels > 24) throw new FileProblem(`The file has ${channels} channels; 1 to 24 can be read.`);
  if (sampleRate < 8000 || sampleRate > 384_000)
    throw new FileProblem(`The sample rate is ${sampleRate} Hz; 8000 to 384000 can be read.`);
  const video = streams.some((stream) => stream.codec_type === "video" && !stream.disposition?.attached_pic);
  const warnings = sound.length > 1 ? [`The file has ${sound.length} sound tracks; the first was taken.`] : [];
  const mask = MASKS[first.channel_layout ?? ""];
  return {
    container: (format.format_long_name ?? "unknown") + (video ? ", with picture" : ""),
    encoding: codec.toUpperCase(),
    sampleRate,
    channels,
    layout: channels <= 2 ? layoutForChannels(channels) : mask ? layoutFromMask(mask, channels) : undefined,
    bits: LOSSLESS.includes(codec) ? first.bits_per_raw_sample || 16 : null,
    seconds: first.duration ?? format.duration ?? 0,
    streamIndex: first.index,
    warnings,
  };
}

/** Decodes a file's sound, block by block. @throws FileProblem; what was decoded before stays with the caller */
export async function* decodeMedia(
  path: string,
  about: MediaAbout,
  signal: AbortSignal,
): AsyncGenerator<Planar, string[]> {
  const args = [
    ...CONFINED,
    "-v",
    "error",
    "-i",
    `file:${path}`,
    "-map",
    `0:${about.streamIndex}`,
    "-vn",
    "-sn",
    "-dn",
  ];
  const child = run("ffmpeg", DECODE_CPU_SECONDS, [...args, "-f", "f32le", "-acodec", "pcm_f32le", "pipe:1"], signal);
  let errors = "";
  child.stderr.on("data", (chunk: Buffer) => (errors = (errors + chunk.toString()).slice(-4000)));
  const ended = new Promise<number | null>((resolve, reject) => {
    child.on("error", reject);
    child.on("close", resolve);
  });
  ended.catch(() => undefined);
  const frameBytes = about.channels * 4;
  let rest = Buffer.alloc(0);
  let any = false;
  for await (const chunk of child.stdout) {
    const bytes = rest.length > 0 ? Buffer.concat([rest, chunk as Buffer]) : (chunk as Buffer);
    const frames = Math.floor(bytes.length / frameBytes);
    if (frames > 0) {
      any = true;
      yield planarOf(bytes, about.channels, frames);
    }
    rest = Buffer.from(bytes.subarray(frames * frameBytes));
  }
  const code = await ended.catch((error: Error) => {
    throw missingTool(error);
  });
  if (!any) throw new FileProblem(explain(errors));
  // Sound came out, and then trouble: keep it and say so.
  return code === 0 && errors.trim() === "" ? [] : ["The file is damaged; what could be read was taken in."];
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
