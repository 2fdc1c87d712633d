/** Edits of what an item is made of. Frames are the item's; nothing is changed in place. */
import type { Frames } from "../audio/units";
import { EditList } from "./edit-list";
import { framesOfClip, recordingClip, type Crossfade, type Clip } from "./clip";

/** The pieces between two frames. */
export function sliceOf(clips: readonly Clip[], start: Frames, end: Frames): Clip[] {
  let at = 0;
  const out: Clip[] = [];
  for (const clip of clips) {
    const length = framesOfClip(clip);
    const from = Math.max(0, start - at);
    const to = Math.min(length, end - at);
    at += length;
    if (to <= from) continue;
    const { crossfade, ...rest } = clip;
    const cut = { ...rest, start: clip.start + from, end: clip.start + to };
    // A new edge joins in the plain way; an old one stays as it was.
    out.push(from === 0 && crossfade ? { ...cut, crossfade } : cut);
  }
  return out;
}

/** What goes on without a joint is one piece. */
export function withClipsMerged(clips: readonly Clip[]): Clip[] {
  const out: Clip[] = [];
  for (const clip of clips) {
    const last = out.at(-1);
    if (last && last.kind === clip.kind && last.end === clip.start && clip.kind === "recording")
      out[out.length - 1] = { ...last, end: clip.end };
    else out.push(clip);
  }
  return out;
}

/** Puts `inserted` in the place of what lies between two frames; what follows moves up, or on. */
export const replaced = (
  clips: readonly Clip[],
  start: Frames,
  end: Frames,
  inserted: readonly Clip[] = [],
  crossfade?: Crossfade,
): Clip[] => {
  const after = sliceOf(clips, end, Infinity);
  const joined = (list: readonly Clip[]): Clip[] =>
    crossfade ? list.map((clip, i) => (i === 0 ? { ...clip, crossfade } : clip)) : [...list];
  return withClipsMerged([...sliceOf(clips, 0, start), ...joined(inserted), ...joined(after)]);
};

/** Takes what lies between two frames elsewhere: to `to`, a frame of the item as it is before. */
export function withClipsMoved(
  clips: readonly Clip[],
  start: Frames,
  end: Frames,
  to: Frames,
  crossfade?: Crossfade,
): Clip[] {
  if (to >= start && to <= end) return [...clips];
  const part = sliceOf(clips, start, end);
  const left = replaced(clips, start, end, [], crossfade);
  const at = to < start ? to : to - (end - start);
  return replaced(left, at, at, part, crossfade);
}

/** A place where the recording does not go on as it lies. */
export interface Cut {
  /** Frame of the item. */
  at: Frames;
  /** The piece that begins here. */
  index: number;
  /** How much of the recording is left out here; 0 where it goes back, or on elsewhere. */
  leftOut: Frames;
}

/** All joints, and where head and tail are cut. */
export function cutsOf(arrangement: EditList): Cut[] {
  const { placed, frames, recorded } = arrangement;
  const head = placed[0]!.clip;
  const tail = placed.at(-1)!.clip;
  const cuts: Cut[] = [];
  if (head.kind === "recording" && head.start > 0) cuts.push({ at: 0, index: 0, leftOut: head.start });
  for (let index = 1; index < placed.length; index++) {
    const { clip, at } = placed[index]!;
    const before = placed[index - 1]!.clip;
    const goesOn = before.kind === "recording" && clip.kind === "recording" && clip.start > before.end;
    cuts.push({ at, index, leftOut: goesOn ? clip.start - before.end : 0 });
  }
  if (tail.kind === "recording" && tail.end < recorded)
    cuts.push({ at: frames, index: placed.length, leftOut: recorded - tail.end });
  return cuts;
}

/**
 * Takes a cut back: what was left out between its sides is there again, and what was put in between is gone. `null`
 * where the sides do not lie one after the other in the recording.
 */
export function reopened({ clips, recorded }: EditList, index: number): Clip[] | null {
  if (index === 0 && clips[0]?.kind === "recording")
    return withClipsMerged([{ ...withoutJoint(clips[0]), start: 0 }, ...clips.slice(1)]);
  if (index === clips.length && clips.at(-1)?.kind === "recording")
    return withClipsMerged([...clips.slice(0, -1), { ...clips.at(-1)!, end: recorded }]);
  let before = index - 1;
  let after = index;
  while (before >= 0 && clips[before]!.kind !== "recording") before--;
  while (after < clips.length && clips[after]!.kind !== "recording") after++;
  const [a, b] = [clips[before], clips[after]];
  if (!a || !b || b.start < a.end) return null;
  return withClipsMerged([...clips.slice(0, before), { ...a, end: b.end }, ...clips.slice(after + 1)]);
}

const withoutJoint = ({ crossfade: _, ...clip }: Clip): Clip => clip;

/** Moves an edge of a cut by frames of the recording: the end of the piece before, or the beginning of the one behind. */
export function withEdgeMoved(
  { clips, recorded }: EditList,
  index: number,
  edge: "before" | "behind",
  by: Frames,
): Clip[] {
  return clips.map((clip, i) => {
    if (clip.kind !== "recording") return clip;
    if (edge === "before" && i === index - 1)
      return { ...clip, end: Math.max(clip.start + 1, Math.min(recorded, clip.end + by)) };
    if (edge === "behind" && i === index)
      return { ...clip, start: Math.max(0, Math.min(clip.end - 1, clip.start + by)) };
    return clip;
  });
}

export const withCrossfade = (clips: readonly Clip[], index: number, crossfade: Crossfade): Clip[] =>
  clips.map((clip, i) => (i === index ? { ...clip, crossfade } : clip));

/** Silence to be put in. */
export const silence = (frames: Frames): Clip => ({ ...recordingClip(0, frames), kind: "silence" });
