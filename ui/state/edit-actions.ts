"use client";

import { toast } from "sonner";
import { create } from "zustand";
import { persist } from "zustand/middleware";
import { EditList } from "@core/edit-list/edit-list";
import {
  withEdgeMoved,
  withCrossfade,
  withClipsMoved,
  reopened,
  replaced,
  silence,
  sliceOf,
} from "@core/edit-list/edits";
import { framesOfClip, DEFAULT_CROSSFADE, recordingClip, type Crossfade, type Clip } from "@core/edit-list/clip";
import type { Command } from "@core/project/commands";
import type { NoiseProfile } from "@core/repair/noise-profile";
import { formatTime } from "@core/audio/format";
import { useWorkspace, type TimeRange } from "./workspace-store";
import type { ItemFacts } from "./current-item";
import { itemFrame, type Timed } from "./item-time";
import { engine } from "./listening-engine";

/** What is left where something is cut out. */
export const FILL_MODES = ["nothing", "silence", "room tone"] as const;
export type FillMode = (typeof FILL_MODES)[number];

interface CutSettings {
  crossfade: Crossfade;
  fill: FillMode;
  /** The place is heard after each edit. */
  hear: boolean;
  /** What room tone sounds like; told by the panel that learns or chooses it. */
  tone: NoiseProfile | null;
}

export const useCutSettings = create<CutSettings>()(
  persist((): CutSettings => ({ crossfade: DEFAULT_CROSSFADE, fill: "nothing", hear: true, tone: null }), {
    name: "resonum-cutting",
    version: 1,
    partialize: ({ crossfade, fill, hear }) => ({ crossfade, fill, hear }) as CutSettings,
  }),
);

/** What was copied: pieces of one recording. */
export const useClipboard = create<{ recording: string | null; clips: Clip[] }>(() => ({ recording: null, clips: [] }));

const lengthOf = (clips: readonly Clip[]): number => clips.reduce((sum, clip) => sum + framesOfClip(clip), 0);

/** Heard on each side of a crossfade where no rolls are set. */
const AROUND_SECONDS = 1.5;

/** Plays the item around a place, once. */
export function playAround(facts: Timed, seconds: number, length = 0): void {
  const { rolls } = useWorkspace.getState();
  void engine().playStretch(
    itemFrame(facts, seconds - (rolls.before || AROUND_SECONDS)),
    itemFrame(facts, seconds + length + (rolls.after || AROUND_SECONDS)),
  );
}

/** Plays around a place once an edit has reached the engine: what React draws goes there after it. */
export function playEdit(facts: Timed, seconds: number, length = 0): void {
  if (!useCutSettings.getState().hear) return;
  requestAnimationFrame(() => requestAnimationFrame(() => playAround(facts, seconds, length)));
}

/** Edits of what an item is made of, on what is selected or at the playhead; all go through the project's history. */
export function editActionsOf(facts: ItemFacts, edit: (command: Command) => Promise<void>) {
  const { item, editList, sampleRate, source } = facts;
  const { clips } = editList;
  const { crossfade } = useCutSettings.getState();
  const seconds = (frames: number) => frames / sampleRate;

  const put = (next: Clip[], what: string, at: number, selection: TimeRange | null = null): void => {
    void edit({ type: "setPieces", item: item.id, clips: next, what });
    useWorkspace.setState({ selection, otherSelections: [], cursor: seconds(at) });
    engine().seek(at);
    const length = selection ? selection.end - selection.start : 0;
    playEdit({ sampleRate, editList: new EditList(next, editList.recorded) }, seconds(at), length);
  };
  const selected = (): { start: number; end: number } | null => {
    const { selection } = useWorkspace.getState();
    if (!selection) return null;
    const range = { start: itemFrame(facts, selection.start), end: itemFrame(facts, selection.end) };
    return range.end > range.start ? range : null;
  };
  const playhead = (): number => {
    const { cursor } = useWorkspace.getState();
    return itemFrame(facts, engine().state.playing ? seconds(engine().position) : cursor);
  };
  const filling = (fill: FillMode, frames: number): Clip[] => {
    const { tone } = useCutSettings.getState();
    if (fill === "nothing") return [];
    return [
      fill === "room tone" && tone
        ? { ...recordingClip(0, frames), kind: "room-tone", profile: tone }
        : silence(frames),
    ];
  };
  const words = (frames: number) => `${seconds(frames).toFixed(2)} s`;
  const time = (frame: number) => formatTime(seconds(frame), 2);

  return {
    copy(): void {
      const range = selected();
      if (range) useClipboard.setState({ recording: source.hash, clips: sliceOf(clips, range.start, range.end) });
    },
    /** Takes out what is selected; what follows moves up, unless something is left in its place. */
    cutOut(fill: FillMode = "nothing"): void {
      const range = selected();
      if (!range) return;
      if (range.end - range.start >= editList.frames)
        return void toast.error("All of the item is selected", { description: "An item cannot be empty." });
      const { start, end } = range;
      const left = filling(fill, end - start);
      const what = `cut ${words(end - start)} at ${time(start)}${left.length > 0 ? `, ${fill} in its place` : ""}`;
      put(replaced(clips, start, end, left, crossfade), what, start);
    },
    /** Takes out stretches of the recording in one edit; those that are cut already stay as they are. */
    cutRanges(ranges: readonly { start: number; end: number }[], what: string): void {
      const inItem = ranges.flatMap(({ start, end }) => {
        const [from, to] = [editList.toItem(start), editList.toItem(end)];
        return from !== null && to !== null && to > from ? [{ from, to }] : [];
      });
      if (inItem.length === 0) return;
      inItem.sort((a, b) => b.from - a.from);
      let next: Clip[] = [...clips];
      let below = Infinity;
      for (const { from, to } of inItem) {
        if (to > below) continue; // lies in one that is cut out already
        next = replaced(next, from, to, [], crossfade);
        below = from;
      }
      put(next, what, inItem.at(-1)!.from);
    },
    /** Puts what was copied in at the playhead, or in the place of what is selected. */
    paste(): void {
      const { recording, clips: copied } = useClipboard.getState();
      if (copied.length === 0) return void toast("Nothing was copied yet", { description: "Select, then Ctrl C." });
      if (recording !== source.hash)
        return void toast.error("What was copied belongs to another recording", {
          description: "An item is made of one recording only.",
        });
      const at = selected() ?? { start: playhead(), end: playhead() };
      const length = lengthOf(copied);
      const selection = { start: seconds(at.start), end: seconds(at.start + length) };
      put(
        replaced(clips, at.start, at.end, copied, crossfade),
        `put ${words(length)} in at ${time(at.start)}`,
        at.start,
        selection,
      );
    },
    /** Takes what is selected to the playhead. */
    move(to = playhead()): void {
      const range = selected();
      if (!range || (to >= range.start && to <= range.end)) return;
      const length = range.end - range.start;
      const at = to < range.start ? to : to - length;
      put(
        withClipsMoved(clips, range.start, range.end, to, crossfade),
        `move ${words(length)} from ${time(range.start)} to ${time(at)}`,
        at,
        { start: seconds(at), end: seconds(at + length) },
      );
    },
    keepOnly(): void {
      const range = selected();
      if (!range) return;
      put(sliceOf(clips, range.start, range.end), `keep ${time(range.start)} to ${time(range.end)}`, 0);
      useWorkspace.setState({ view: null });
    },
    /** Takes off what lies before, or behind, the playhead. */
    trim(side: "head" | "tail"): void {
      const at = playhead();
      if (at <= 0 || at >= editList.frames) return;
      const next = side === "head" ? sliceOf(clips, at, Infinity) : sliceOf(clips, 0, at);
      put(
        next,
        `take off the ${side}, ${words(side === "head" ? at : editList.frames - at)}`,
        side === "head" ? 0 : at,
      );
    },
    insert(fill: Exclude<FillMode, "nothing">, length: number): void {
      const at = playhead();
      const frames = Math.max(1, Math.round(length * sampleRate));
      put(
        replaced(clips, at, at, filling(fill, frames), crossfade),
        `put in ${words(frames)} of ${fill} at ${time(at)}`,
        at,
      );
    },
    open(index: number, at: number): void {
      const next = reopened(editList, index);
      if (next) put(next, `open the cut at ${time(at)}`, at);
    },
    openAll(): void {
      void edit({ type: "setPieces", item: item.id, clips: null, what: "open all cuts" });
      useWorkspace.setState({ selection: null, view: null, cursor: 0 });
    },
    setCrossfade(index: number, at: number, next: Crossfade): void {
      put(withCrossfade(clips, index, next), `crossfade at ${time(at)}: ${next.shape}, ${next.seconds} s`, at);
    },
    nudge(index: number, edge: "before" | "behind", at: number, by: number): void {
      const frames = Math.round(by * sampleRate);
      const next = withEdgeMoved(editList, index, edge, frames);
      put(next, `move an edge of the cut at ${time(at)}`, edge === "before" && index > 0 ? at + frames : at);
    },
  };
}

export type EditActions = ReturnType<typeof editActionsOf>;
