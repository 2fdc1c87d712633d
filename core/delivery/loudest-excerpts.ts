/** The excerpts of a sound in which its highest peaks lie: enough to tell what encoding does to them. */
import type { FrameSource } from "../audio/frame-source";
import type { Seconds } from "../audio/units";
import { recordingClip, type Clip } from "../edit-list/clip";
import type { TimeSeries } from "../measure/measurement";

/** More places tell little more, and each is encoded several times. */
const EXCERPTS = 8;
/** An encoder needs some sound before a peak to be as it is in the whole. */
const EXCERPT_SECONDS: Seconds = 1;

/** Clips around the highest values of `peaks`, in the order of time; `null` where they would be all of the sound. */
export function excerptClips(
  peaks: TimeSeries,
  { frames, sampleRate }: Pick<FrameSource, "frames" | "sampleRate">,
): Clip[] | null {
  const length = Math.round(EXCERPT_SECONDS * sampleRate);
  if (frames <= length * EXCERPTS) return null;
  const starts: number[] = [];
  const order = Array.from(peaks.values.keys()).sort((a, b) => peaks.values[b]! - peaks.values[a]!);
  for (const step of order) {
    const middle = Math.round((step + 0.5) * peaks.hopSeconds * sampleRate);
    const start = Math.max(0, Math.min(frames - length, middle - length / 2));
    if (starts.every((other) => Math.abs(other - start) >= length)) starts.push(Math.round(start));
    if (starts.length === EXCERPTS) break;
  }
  return starts.sort((a, b) => a - b).map((start) => recordingClip(start, start + length));
}
