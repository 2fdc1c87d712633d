/** Brings head and tail of an item to a length, with room tone that is learned from the item itself. */
import type { Hertz, Seconds } from "@core/audio/units";
import type { Clip } from "@core/edit-list/clip";
import { EditList } from "@core/edit-list/edit-list";
import { endChange, endsAfterCuts, withHeadAndTail, type EndLengths } from "@core/edit-list/heads-and-tails";
import type { Curves, Figures } from "@core/measure";
import type { Item } from "@core/project/document";
import type { Source } from "@core/project/views";
import { isActive } from "@core/repair";
import type { NoiseProfile } from "@core/repair/noise-profile";
import { enoughOf, quietStretches } from "@core/repair/noise-profile-quality";
import { estimateInBrowser } from "@ui/features/repair/profile-estimation";
import { soundUrl } from "@ui/state/use-range-figures";
import { measureInBrowser } from "@ui/workers/measuring";

export interface WantedEnds {
  headSeconds: Seconds;
  tailSeconds: Seconds;
}

/** Places at most that the room is learned from together. */
const PLACES_TRIED = 8;

/** Figures and curves of an item after its repairs and cuts: those of its recording, or measured now. */
async function measuredItem(item: Item, source: Source, curves: Curves, signal: AbortSignal) {
  const repairs = item.repairs.filter(isActive);
  const editList = EditList.of(item.clips, source.figures!.frames);
  if (editList.isWhole && repairs.length === 0) return { figures: source.figures!, curves };
  const made = {
    source: { url: soundUrl(source.pcm_hash!) },
    layout: source.layout!,
    repairs,
    clips: item.clips ?? null,
  };
  return measureInBrowser({ ...made, range: { start: 0, end: editList.frames } }, signal);
}

/** Both ends as they are, in frames; an end is `null` where it is no steady room, both where no sound stands out of it. */
export function endsOf(figures: Figures): { head: EndLengths | null; tail: EndLengths | null } {
  const { headRoomToneSeconds, tailRoomToneSeconds, headSilenceSeconds, tailSilenceSeconds, sampleRate } = figures;
  const frames = (seconds: Seconds) => Math.round(seconds * sampleRate);
  const end = (quiet: Seconds | null, silent: Seconds) =>
    quiet === null ? null : { quiet: frames(Math.max(quiet, silent)), silent: frames(silent) };
  return { head: end(headRoomToneSeconds, headSilenceSeconds), tail: end(tailRoomToneSeconds, tailSilenceSeconds) };
}

/** Both ends of an item from those of its recording, before they are measured on the item itself. */
export const estimatedEnds = (item: Item, ofRecording: Figures) =>
  endsAfterCuts(EditList.of(item.clips, ofRecording.frames), endsOf(ofRecording));

/** What is done to both ends, in frames. */
export function changesOf(
  { head, tail }: ReturnType<typeof endsOf>,
  { headSeconds, tailSeconds }: WantedEnds,
  sampleRate: Hertz,
) {
  const frames = (seconds: Seconds) => Math.round(seconds * sampleRate);
  return {
    head: head ? endChange(head, frames(headSeconds)) : UNCHANGED,
    tail: tail ? endChange(tail, frames(tailSeconds)) : UNCHANGED,
  };
}

const UNCHANGED = { takenOff: 0, putIn: 0 };

async function learned(item: Item, source: Source, { values, hopSeconds }: Curves["rmsDbfs"]) {
  const { sampleRate, frames } = source.figures!;
  const editList = EditList.of(item.clips, frames);
  const frame = (seconds: Seconds) => editList.toRecording(Math.round(seconds * sampleRate));
  const ranges = enoughOf(quietStretches(values, hopSeconds, PLACES_TRIED))
    .map(({ start, end }) => ({ start: frame(start), end: frame(end) }))
    .filter(({ start, end }) => end > start); // not over a cut
  const url = soundUrl(source.pcm_hash!);
  const { profile } =
    ranges.length > 0
      ? await estimateInBrowser({ what: "noise", url, steps: item.repairs, ranges })
      : { profile: null };
  if (!profile) throw new Error(`“${item.name}” has no quarter of a second of room alone to learn its tone from.`);
  return profile;
}

/**
 * @returns `null` where head and tail have these lengths already
 * @throws Error where they cannot be made, with the reason
 */
export async function withFittedEnds(
  item: Item,
  source: Source,
  curves: Curves,
  wanted: WantedEnds,
  signal: AbortSignal,
): Promise<Clip[] | null> {
  const measured = await measuredItem(item, source, curves, signal);
  const { head, tail } = changesOf(endsOf(measured.figures), wanted, measured.figures.sampleRate);
  let profile: NoiseProfile | null = null;
  if (head.putIn + tail.putIn > 0) profile = await learned(item, source, measured.curves.rmsDbfs);
  return withHeadAndTail(EditList.of(item.clips, source.figures!.frames), { head, tail }, profile);
}
