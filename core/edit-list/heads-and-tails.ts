/** Room tone of exact length before the first wanted sound of an item, and after the last. */
import type { Frames } from "../audio/units";
import type { NoiseProfile } from "../repair/noise-profile";
import { DEFAULT_CROSSFADE, framesOfClip, recordingClip, type Clip } from "./clip";
import type { EditList } from "./edit-list";
import { sliceOf } from "./edits";

/** What lies at one end, as it was measured. */
export interface EndLengths {
  /** From the end to the wanted sound. */
  quiet: Frames;
  /** Digital silence at the very end, which is part of it. */
  silent: Frames;
}

/**
 * An end of an item by that of its recording: what was cut off is not there any more, what was put in is.
 * @param ofRecording as it was measured
 * @returns `null` where the cut went into the sound
 */
function endAfterCuts(
  clips: readonly Clip[],
  ofRecording: EndLengths,
  cutOff: (clip: Clip) => Frames,
): EndLengths | null {
  let putIn = 0;
  let silent = 0;
  for (const clip of clips) {
    if (clip.kind === "recording") {
      const left = ofRecording.quiet - cutOff(clip);
      if (left < 0) return putIn > 0 ? { quiet: putIn, silent } : null;
      const own = Math.max(0, ofRecording.silent - cutOff(clip));
      return { quiet: putIn + left, silent: putIn === silent ? silent + own : silent };
    }
    if (clip.kind === "silence" && putIn === silent) silent += framesOfClip(clip);
    putIn += framesOfClip(clip);
  }
  return null;
}

/** Both ends of an item by those of its recording. */
export const endsAfterCuts = (
  { clips, recorded }: EditList,
  { head, tail }: { head: EndLengths | null; tail: EndLengths | null },
): { head: EndLengths | null; tail: EndLengths | null } => ({
  head: head && endAfterCuts(clips, head, ({ start }) => start),
  tail: tail && endAfterCuts([...clips].reverse(), tail, ({ end }) => recorded - end),
});

/** What is done to one end: digital silence and what is too long are taken off, what is missing is put in. */
export interface EndChange {
  takenOff: Frames;
  putIn: Frames;
}

export function endChange({ quiet, silent }: EndLengths, wanted: Frames): EndChange {
  const tone = quiet - silent;
  return { takenOff: silent + Math.max(0, tone - wanted), putIn: Math.max(0, wanted - tone) };
}

const isNothing = ({ takenOff, putIn }: EndChange): boolean => takenOff === 0 && putIn === 0;

/**
 * An item with both ends of the length that is wanted.
 * @param profile what room tone sounds like; only needed where some is put in
 * @returns `null` where nothing changes
 * @throws RangeError where room tone is needed and there is no profile
 */
export function withHeadAndTail(
  { clips, frames }: EditList,
  { head, tail }: { head: EndChange; tail: EndChange },
  profile: NoiseProfile | null,
): Clip[] | null {
  if (isNothing(head) && isNothing(tail)) return null;
  const kept = sliceOf(clips, head.takenOff, frames - tail.takenOff);
  const tone = (length: Frames): Clip[] => {
    if (length === 0) return [];
    if (!profile) throw new RangeError("room tone without a profile");
    return [{ ...recordingClip(0, length), kind: "room-tone", profile }];
  };
  const joined = ([first, ...rest]: Clip[]): Clip[] =>
    first ? [{ ...first, crossfade: first.crossfade ?? DEFAULT_CROSSFADE }, ...rest] : [];
  const before = tone(head.putIn);
  return [...before, ...(before.length > 0 ? joined(kept) : kept), ...joined(tone(tail.putIn))];
}
