/** Edits of what an item is made of. Frames are the item's; nothing is changed in place. */
import type { Frames } from "../audio/units";
import { EditList } from "./edit-list";
import { framesOfClip, recordingClip, type Crossfade, type Clip } from "./clip";

/** The pieces between two frames. */
export function sliceOf(pieces: readonly Clip[], start: Frames, end: Frames): Clip[] {
  let at = 0;
  const out: Clip[] = [];
  for (const piece of pieces) {
    const length = framesOfClip(piece);
    const from = Math.max(0, start - at);
    const to = Math.min(length, end - at);
    at += length;
    if (to <= from) continue;
    const { joint, ...rest } = piece;
    const cut = { ...rest, start: piece.start + from, end: piece.start + to };
    // A new edge joins in the plain way; an old one stays as it was.
    out.push(from === 0 && joint ? { ...cut, joint } : cut);
  }
  return out;
}

/** What goes on without a joint is one piece. */
export function withClipsMerged(pieces: readonly Clip[]): Clip[] {
  const out: Clip[] = [];
  for (const piece of pieces) {
    const last = out.at(-1);
    if (last && last.kind === piece.kind && last.end === piece.start && piece.kind === "recording")
      out[out.length - 1] = { ...last, end: piece.end };
    else out.push(piece);
  }
  return out;
}

/** Puts `inserted` in the place of what lies between two frames; what follows moves up, or on. */
export const replaced = (
  pieces: readonly Clip[],
  start: Frames,
  end: Frames,
  inserted: readonly Clip[] = [],
  joint?: Crossfade,
): Clip[] => {
  const after = sliceOf(pieces, end, Infinity);
  const joined = (list: readonly Clip[]): Clip[] =>
    joint ? list.map((piece, i) => (i === 0 ? { ...piece, joint } : piece)) : [...list];
  return withClipsMerged([...sliceOf(pieces, 0, start), ...joined(inserted), ...joined(after)]);
};

/** Takes what lies between two frames elsewhere: to `to`, a frame of the item as it is before. */
export function withClipsMoved(
  pieces: readonly Clip[],
  start: Frames,
  end: Frames,
  to: Frames,
  joint?: Crossfade,
): Clip[] {
  if (to >= start && to <= end) return [...pieces];
  const part = sliceOf(pieces, start, end);
  const left = replaced(pieces, start, end, [], joint);
  const at = to < start ? to : to - (end - start);
  return replaced(left, at, at, part, joint);
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
  const head = placed[0]!.piece;
  const tail = placed.at(-1)!.piece;
  const cuts: Cut[] = [];
  if (head.kind === "recording" && head.start > 0) cuts.push({ at: 0, index: 0, leftOut: head.start });
  for (let index = 1; index < placed.length; index++) {
    const { piece, at } = placed[index]!;
    const before = placed[index - 1]!.piece;
    const goesOn = before.kind === "recording" && piece.kind === "recording" && piece.start > before.end;
    cuts.push({ at, index, leftOut: goesOn ? piece.start - before.end : 0 });
  }
  if (tail.kind === "recording" && tail.end < recorded)
    cuts.push({ at: frames, index: placed.length, leftOut: recorded - tail.end });
  return cuts;
}

/**
 * Takes a cut back: what was left out between its sides is there again, and what was put in between is gone. `null`
 * where the sides do not lie one after the other in the recording.
 */
export function reopened({ pieces, recorded }: EditList, index: number): Clip[] | null {
  if (index === 0 && pieces[0]?.kind === "recording")
    return withClipsMerged([{ ...withoutJoint(pieces[0]), start: 0 }, ...pieces.slice(1)]);
  if (index === pieces.length && pieces.at(-1)?.kind === "recording")
    return withClipsMerged([...pieces.slice(0, -1), { ...pieces.at(-1)!, end: recorded }]);
  let before = index - 1;
  let after = index;
  while (before >= 0 && pieces[before]!.kind !== "recording") before--;
  while (after < pieces.length && pieces[after]!.kind !== "recording") after++;
  const [a, b] = [pieces[before], pieces[after]];
  if (!a || !b || b.start < a.end) return null;
  return withClipsMerged([...pieces.slice(0, before), { ...a, end: b.end }, ...pieces.slice(after + 1)]);
}

const withoutJoint = ({ joint: _, ...piece }: Clip): Clip => piece;

/** Moves an edge of a cut by frames of the recording: the end of the piece before, or the beginning of the one behind. */
export function withEdgeMoved(
  { pieces, recorded }: EditList,
  index: number,
  edge: "before" | "behind",
  by: Frames,
): Clip[] {
  return pieces.map((piece, i) => {
    if (piece.kind !== "recording") return piece;
    if (edge === "before" && i === index - 1)
      return { ...piece, end: Math.max(piece.start + 1, Math.min(recorded, piece.end + by)) };
    if (edge === "behind" && i === index)
      return { ...piece, start: Math.max(0, Math.min(piece.end - 1, piece.start + by)) };
    return piece;
  });
}

export const withCrossfade = (pieces: readonly Clip[], index: number, joint: Crossfade): Clip[] =>
  pieces.map((piece, i) => (i === index ? { ...piece, joint } : piece));

/** Silence to be put in. */
export const silence = (frames: Frames): Clip => ({ ...recordingClip(0, frames), kind: "silence" });
