/**
 * Debian's ffmpeg as a confined child: it runs in a sandbox, is told which one demuxer may read a file (by the file's
 * first bytes), and ends by a kill when it takes too long, when it stands still, or when its process ends. What it says
 * is turned into what a person can do.
 */
import { spawn, type ChildProcessByStdio } from "node:child_process";
import type { Readable } from "node:stream";
import { FileProblem } from "@core/files/bytes";
import { identifyContainer } from "@core/files/container-signature";
import { openFile } from "../storage/byte-files";
import { log } from "../log";
import { inputFile, sandboxed, type SandboxArgument } from "./sandbox";

const MEMORY_BYTES = 2 * 2 ** 30;
const LARGEST_FILE_BYTES = 2 ** 40;
/** The description of a file is told at once, whatever its size. */
const PROBE_SECONDS = 10;

/** No sound is coded in fewer bytes a second: a stated duration beyond that is not believed. */
const LEAST_BYTES_A_SECOND = 50;
/** Decoders and what waits for them are at least so many times faster than the sound lasts. */
const LEAST_SPEED = 10;

/**
 * Wall-clock time that work on a file may take.
 * @param bytes of the file
 * @param seconds that its sound lasts, as it states
 */
export const wallSecondsFor = (bytes: number, seconds = 0): number =>
  30 + bytes / 20_000 + Math.min(seconds, bytes / LEAST_BYTES_A_SECOND) / LEAST_SPEED;

/** It was ended because it took too long: what came of it is no whole. */
export class WallClockExceeded extends FileProblem {
  override name = "TookTooLong";
}

type Child = ChildProcessByStdio<null, Readable, Readable>;

export interface FfmpegProcess {
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

/** Runs a tool of ffmpeg in its sandbox. @throws FileProblem where it is no recording that it is given */
export async function run(
  tool: "ffmpeg" | "ffprobe",
  args: readonly SandboxArgument[],
  { wallSeconds, signal, writesFiles = false }: RunOptions,
): Promise<FfmpegProcess> {
  const fileBytes = writesFiles ? LARGEST_FILE_BYTES : 0;
  const quiet = tool === "ffmpeg" ? ["-hide_banner", "-nostdin", "-v", "error"] : ["-hide_banner", "-v", "error"];
  const limits = { cpuSeconds: wallSeconds, memoryBytes: MEMORY_BYTES, fileBytes };
  const command = await sandboxed(tool, [...quiet, ...args], limits);
  if (signal?.aborted) await command.release();
  signal?.throwIfAborted();
  const child = spawn(command.program, command.args, {
    stdio: ["ignore", "pipe", "pipe"],
    cwd: "/",
    env: { PATH: process.env.PATH ?? "/usr/bin", LC_ALL: "C" },
    signal,
    killSignal: "SIGKILL",
    // A group of its own: Ctrl-C does not reach it, so that a process which answers a stop finishes the job in hand; and
    // all of it can be ended at once. Where nobody answers, it ends with its process.
    detached: true,
  });
  // A sandbox that is still being built does not yet end with its first process: the whole group is ended.
  const kill = () => {
    try {
      process.kill(-child.pid!, "SIGKILL");
    } catch {
      // never started, or ended already
    }
  };
  signal?.addEventListener("abort", kill, { once: true });
  let errors = "";
  let reason: string | undefined;
  child.stderr.on("data", (chunk: Buffer) => (errors = (errors + chunk.toString()).slice(-4000)));
  const stop = (why: string) => {
    reason ??= why;
    kill();
  };
  let late = false;
  const timer = setTimeout(() => {
    late = true;
    stop(TOO_LONG);
  }, wallSeconds * 1000);
  const closed = new Promise<number | null>((resolve, reject) => {
    child.on("error", (error) => reject(missingTool(error)));
    child.on("close", resolve);
  });
  const untilEnded = async () => {
    let code: number | null;
    try {
      code = await closed;
    } finally {
      clearTimeout(timer);
      signal?.removeEventListener("abort", kill);
      await command.release();
    }
    if (late) throw new WallClockExceeded(TOO_LONG);
    if (reason !== undefined) throw new FileProblem(reason);
    if (code === 0) return;
    log.debug({ tool, said: errors }, "ffmpeg could not");
    if (/No space left on device/i.test(errors)) throw Object.assign(new Error(errors), { code: "ENOSPC" });
    throw new FileProblem(explain(errors));
  };
  const ended = untilEnded();
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
  inputFile(path),
];

/** What kind of container a file is, and its size. @throws FileProblem where it is none */
export async function containerOf(path: string) {
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
export const explain = (errors: string): string =>
  EXPLAINED.find(({ is }) => is.test(errors))?.words ??
  "The file could not be read: it is damaged, or of a kind that is not supported. Copy it again, or convert it to WAV where it was made.";
