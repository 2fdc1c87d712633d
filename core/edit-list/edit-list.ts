import type { Frames } from "../audio/units";
import { framesOfClip, recordingClip, type Clip } from "./clip";

export interface PlacedClip {
  clip: Clip;
  /** Frame of the item where it begins. */
  at: Frames;
}

/** The pieces of an item with their places: from the item's time to the recording's and back. */
export class EditList {
  readonly placed: readonly PlacedClip[];
  /** Length of the item. */
  readonly frames: Frames;

  constructor(
    readonly clips: readonly Clip[],
    /** Length of the recording. */
    readonly recorded: Frames,
  ) {
    let at = 0;
    this.placed = clips.map((clip) => {
      const placed = { clip, at };
      at += framesOfClip(clip);
      return placed;
    });
    this.frames = at;
  }

  static of(clips: readonly Clip[] | null | undefined, recorded: Frames): EditList {
    return new EditList(clips ?? [recordingClip(0, recorded)], recorded);
  }

  /** Whether the item is the recording as it lies. */
  get isWhole(): boolean {
    const [only, ...more] = this.clips;
    return more.length === 0 && only?.kind === "recording" && only.start === 0 && only.end === this.recorded;
  }

  /** Index of the piece that holds a frame of the item; the first or the last beyond its ends. */
  indexAt(frame: Frames): number {
    let [low, high] = [0, this.placed.length - 1];
    while (low < high) {
      const middle = (low + high + 1) >> 1;
      if (this.placed[middle]!.at <= frame) low = middle;
      else high = middle - 1;
    }
    return low;
  }

  /** Frame of the recording that is heard at a frame of the item; in silence and tone, where the recording was left. */
  toRecording(frame: Frames): Frames {
    let index = this.indexAt(frame);
    const { clip, at } = this.placed[index]!;
    if (clip.kind === "recording") return Math.max(0, Math.min(this.recorded, clip.start + frame - at));
    while (index >= 0 && this.placed[index]!.clip.kind !== "recording") index--;
    return this.placed[index]?.clip.end ?? 0;
  }

  /** Where in the item a frame of the recording is heard first; `null` where it is cut out. */
  toItem(frame: Frames): Frames | null {
    for (const { clip, at } of this.placed)
      if (clip.kind === "recording" && frame >= clip.start && frame < clip.end) return at + frame - clip.start;
    const last = this.placed.at(-1);
    // One past the last, where a range ends.
    return last?.clip.kind === "recording" && frame === last.clip.end ? this.frames : null;
  }

  /** What of a stretch of the item comes from where in the recording. */
  stretchesOf(start: Frames, end: Frames): { start: Frames; end: Frames }[] {
    return this.placed.flatMap(({ clip, at }) => {
      const from = Math.max(start, at);
      const to = Math.min(end, at + framesOfClip(clip));
      if (clip.kind !== "recording" || to <= from) return [];
      return [{ start: clip.start + from - at, end: clip.start + to - at }];
    });
  }
}
