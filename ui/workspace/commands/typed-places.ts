"use client";

import { typedTime } from "@core/audio/typed-time";
import { useLanes } from "@ui/state/lane-settings";
import { useTimeContext, useTimeFormatter } from "@ui/state/use-time-format";
import { goToProgramme } from "@ui/state/programme-listening";
import { useWholeProgramme } from "@ui/state/programme";
import { useCurrentItem } from "@ui/state/current-item";
import { around, following } from "@ui/state/time-window";
import { useWorkspace } from "@ui/state/workspace-store";
import { engine } from "@ui/state/listening-engine";
import { movePlayhead, playheadSeconds, windowOf, workspaceState, type WorkspaceCommand } from "./command";

type TypedPlace = Pick<WorkspaceCommand, "id" | "label" | "run">;

/** What a time that was typed can mean for what is in hand: the playhead there, the stretch selected. */
export function useTypedPlaces(): (text: string) => TypedPlace[] {
  const { facts } = useCurrentItem();
  const programme = useWholeProgramme();
  const isProgramme = useWorkspace((workspace) => workspace.stage === "sequence");
  const format = useLanes((lanes) => lanes.timeFormat);
  const sampleRate = facts?.sampleRate ?? 48_000;
  const time = useTimeContext({ sampleRate });
  const written = useTimeFormatter({ sampleRate });
  return (text) => {
    if (isProgramme) {
      const rate = programme.timeline?.sampleRate ?? sampleRate;
      const playhead = engine().state.playing ? engine().position / rate : workspaceState().programmeCursor;
      const typed = typedTime(text, { ...time, format, playhead });
      if (typed?.kind !== "place") return [];
      const at = Math.min(programme.duration, typed.at);
      return [
        { id: "typed-place", label: `Playhead to ${written(at)} of the programme`, run: () => goToProgramme(at, rate) },
      ];
    }
    if (!facts) return [];
    const typed = typedTime(text, { ...time, format, playhead: playheadSeconds(facts) });
    if (!typed) return [];
    if (typed.kind === "place") {
      const at = Math.min(facts.duration, typed.at);
      const goTo = () => {
        movePlayhead(facts, at);
        if (workspaceState().view) useWorkspace.setState({ view: following(windowOf(facts), at, facts.duration) });
      };
      const select = () => useWorkspace.setState({ selection: between(playheadSeconds(facts), at) });
      return [
        { id: "typed-place", label: `Playhead to ${written(at)}`, run: goTo },
        { id: "typed-to-place", label: `Select from the playhead to ${written(at)}`, run: select },
      ];
    }
    const [start, end] = [typed.start, Math.min(facts.duration, typed.end)];
    if (end <= start) return [];
    const select = () => {
      movePlayhead(facts, start);
      useWorkspace.setState({ selection: { start, end } });
      const view = windowOf(facts);
      if (start < view.start || end > view.end) useWorkspace.setState({ view: around({ start, end }, facts.duration) });
    };
    return [{ id: "typed-stretch", label: `Select ${written(start)} to ${written(end)}`, run: select }];
  };
}

const between = (a: number, b: number) => ({ start: Math.min(a, b), end: Math.max(a, b) });
