/** Sound under a picture: where it begins against the picture, and the proof that the picture stayed as it was. */
import * as z from "zod";
import { FileProblem } from "@core/files/bytes";
import { inputOf, textOf, wallSecondsFor } from "./ffmpeg";
import { stat } from "node:fs/promises";

const startsSchema = z.object({
  streams: z.array(
    z.object({ codec_type: z.string().optional(), start_time: z.coerce.number().optional().catch(undefined) }),
  ),
});

/** How long after the picture a sound track begins, in seconds; negative where it begins before. */
export async function trackOffset(path: string, track = 0): Promise<number> {
  const told = startsSchema.parse(
    JSON.parse(
      await textOf("ffprobe", [
        ...(await inputOf(path)),
        "-of",
        "json",
        "-show_entries",
        "stream=codec_type,start_time",
      ]),
    ),
  );
  const startOf = (type: string, at: number) =>
    told.streams.filter(({ codec_type }) => codec_type === type)[at]?.start_time ?? 0;
  return startOf("audio", track) - startOf("video", 0);
}

/** MD5 of the coded picture, packet by packet. */
export const pictureHash = (path: string, signal?: AbortSignal): Promise<string> => streamHash(path, "0:v:0", signal);
/** MD5 of the coded sound, packet by packet. */
export const codedSoundHash = (path: string, signal?: AbortSignal): Promise<string> =>
  streamHash(path, "0:a:0", signal);

async function streamHash(path: string, stream: string, signal?: AbortSignal): Promise<string> {
  const args = [...(await inputOf(path)), "-map", stream, "-c", "copy", "-f", "md5", "pipe:1"];
  const wallSeconds = wallSecondsFor((await stat(path)).size);
  const printed = await textOf("ffmpeg", args, { wallSeconds, signal });
  return printed.trim();
}

/** @throws FileProblem where the picture is not bit for bit the one before */
export async function checkPicture(before: string, after: string, signal?: AbortSignal): Promise<void> {
  const [was, is] = [await pictureHash(before, signal), await pictureHash(after, signal)];
  if (was !== is)
    throw new FileProblem("The picture of the new file is not the one of the recording: nothing was delivered.");
}

const PICTURE_TYPES: Readonly<Record<string, string>> = {
  mp4: "video/mp4",
  m4v: "video/mp4",
  mov: "video/mp4", // what browsers can show of it, they show under this name
  mkv: "video/x-matroska",
  webm: "video/webm",
};

/** The media type of a video, by its name. */
export const pictureType = (name: string): string =>
  PICTURE_TYPES[name.split(".").pop()?.toLowerCase() ?? ""] ?? "application/octet-stream";
