/** How receivers measure what arrives: by ffmpeg alone, so that nothing of ours judges itself. */
import { execFile } from "node:child_process";
import { promisify } from "node:util";
import { Refused } from "./answer";

const run = promisify(execFile);
const MOST_OUTPUT = 1 << 26;

export interface Heard {
  loudnessLufs: number;
  truePeakDbtp: number;
  seconds: number;
  channels: number;
  sampleRate: number;
  /** ffmpeg's names of container and codec. */
  container: string;
  codec: string;
}

/** What is taken: none of these opens another file. */
const ONLY = ["-protocol_whitelist", "file", "-format_whitelist", "wav,mp3,mov,mp4,m4a,flac,aiff,ogg"];

/** @throws Refused where it is no sound file */
export async function measured(path: string): Promise<Heard> {
  const tool = (name: string, args: string[]) =>
    run(name, args, { maxBuffer: MOST_OUTPUT }).catch(() => {
      throw new Refused(["This is no sound file that can be read."]);
    });
  const probed = await tool("ffprobe", [
    "-v",
    "error",
    "-select_streams",
    "a:0",
    "-show_entries",
    "stream=channels,sample_rate,codec_name,duration:format=format_name,duration",
    "-of",
    "json",
    ...ONLY,
    path,
  ]);
  const about = JSON.parse(probed.stdout) as {
    streams: { channels: number; sample_rate: string; codec_name: string; duration?: string }[];
    format: { format_name: string; duration?: string };
  };
  const [stream] = about.streams;
  if (!stream) throw new Refused(["The file holds no sound."]);
  const filter = "ebur128=peak=true:framelog=verbose";
  const { stderr } = await tool("ffmpeg", [
    "-hide_banner",
    "-nostats",
    ...ONLY,
    "-i",
    path,
    "-map",
    "0:a:0",
    "-af",
    filter,
    "-f",
    "null",
    "-",
  ]);
  const summary = stderr.slice(stderr.lastIndexOf("Summary:"));
  const number = (pattern: RegExp) => Number(pattern.exec(summary)?.[1] ?? NaN);
  return {
    loudnessLufs: number(/I:\s+(-?[\d.]+) LUFS/),
    truePeakDbtp: number(/Peak:\s+(-?[\d.]+) dBFS/),
    seconds: Number(stream.duration ?? about.format.duration ?? 0),
    channels: stream.channels,
    sampleRate: Number(stream.sample_rate),
    container: about.format.format_name,
    codec: stream.codec_name,
  };
}
