"use client";

import { useMemo } from "react";
import { useHotkeys } from "react-hotkeys-hook";
import { useSheet } from "@ui/shared/sheet";
import { around, scrolled, zoomed } from "@ui/programme/time-window";
import { stretchWaveform } from "@ui/programme/waveform-height";
import { goToStage, INSPECT_VIEWS, STAGES, takeItem, useDesk, type Stretch } from "./desk";
import { useInHand, type ItemFacts } from "./in-hand";
import { engine, togglePlay } from "./listening";
import { useMoveHead } from "./use-project";

/** Something that a person can do by key, or find by its words. */
export interface DeskCommand {
  id: string;
  words: string;
  group: "Listening" | "View" | "Project" | "Stages" | "Items";
  /** As react-hotkeys-hook writes keys. */
  keys?: string;
  run: () => void;
}

/** A key in words: "mod+shift+z" is "Ctrl Shift Z". */
export const keyWords = (keys: string): string =>
  keys
    .split(",")[0]!
    .split("+")
    .map(
      (key) =>
        ({
          mod: "Ctrl",
          shift: "Shift",
          space: "Space",
          arrowleft: "←",
          arrowright: "→",
          arrowup: "↑",
          arrowdown: "↓",
          home: "Home",
          end: "End",
          equal: "+",
          minus: "−",
          comma: ",",
          period: ".",
        })[key] ?? key.toUpperCase(),
    )
    .join(" ");

const STEP_SHARE = 0.02;

function movePlayhead(facts: ItemFacts, seconds: number): void {
  const cursor = Math.max(0, Math.min(facts.duration, seconds));
  useDesk.setState({ cursor });
  engine().seek(facts.range.start + Math.round(cursor * facts.sampleRate));
}

const here = (facts: ItemFacts): number =>
  engine().state.playing ? (engine().position - facts.range.start) / facts.sampleRate : useDesk.getState().cursor;

/** Everything that the desk can do, with its keys. */
export function useDeskCommands(project: string): DeskCommand[] {
  const { facts, view } = useInHand();
  const moveHead = useMoveHead(project);
  const { items } = view.document;
  return useMemo(() => {
    const window = (): Stretch => useDesk.getState().view ?? { start: 0, end: facts?.duration ?? 0 };
    const withFacts = (run: (facts: ItemFacts) => void) => () => facts && run(facts);
    const step = (direction: number) =>
      withFacts((known) => movePlayhead(known, here(known) + direction * STEP_SHARE * (window().end - window().start)));
    const zoom = (factor: number) =>
      withFacts((known) => useDesk.setState({ view: zoomed(window(), factor, here(known), known.duration) }));
    const desk = useDesk.getState;
    const list: DeskCommand[] = [
      { id: "play", group: "Listening", words: "Play or pause", keys: "space", run: togglePlay },
      {
        id: "loop",
        group: "Listening",
        words: "Loop the selection",
        keys: "l",
        run: () => useDesk.setState({ looping: !desk().looping }),
      },
      {
        id: "original",
        group: "Listening",
        words: "Hear the original, or as it is now",
        keys: "o",
        run: () => useDesk.setState({ heard: desk().heard === "now" ? "original" : "now" }),
      },
      {
        id: "match",
        group: "Listening",
        words: "Match the levels of original and now",
        keys: "m",
        run: () => useDesk.setState({ matched: !desk().matched }),
      },
      {
        id: "meters",
        group: "Listening",
        words: "Start the meters afresh",
        keys: "r",
        run: () => engine().resetMeters(),
      },
      {
        id: "start",
        group: "Listening",
        words: "Playhead to the start",
        keys: "home",
        run: withFacts((known) => movePlayhead(known, 0)),
      },
      {
        id: "end",
        group: "Listening",
        words: "Playhead to the end",
        keys: "end",
        run: withFacts((known) => movePlayhead(known, known.duration)),
      },
      { id: "back", group: "Listening", words: "Playhead back a little", keys: "arrowleft", run: step(-1) },
      { id: "forward", group: "Listening", words: "Playhead on a little", keys: "arrowright", run: step(1) },
      {
        id: "from",
        group: "View",
        words: "Selection from the playhead",
        keys: "comma",
        run: withFacts((known) =>
          useDesk.setState({
            selection: {
              start: here(known),
              end: Math.max(desk().selection?.end ?? 0, Math.min(known.duration, here(known) + 1)),
            },
          }),
        ),
      },
      {
        id: "to",
        group: "View",
        words: "Selection to the playhead",
        keys: "period",
        run: withFacts((known) =>
          useDesk.setState({
            selection: { start: Math.min(desk().selection?.start ?? 0, here(known)), end: here(known) },
          }),
        ),
      },
      { id: "closer", group: "View", words: "Closer", keys: "equal", run: zoom(2) },
      { id: "further", group: "View", words: "Further away", keys: "minus", run: zoom(0.5) },
      {
        id: "left",
        group: "View",
        words: "Window to the left",
        keys: "shift+arrowleft",
        run: withFacts((known) =>
          useDesk.setState({ view: scrolled(window(), (window().start - window().end) * 0.25, known.duration) }),
        ),
      },
      {
        id: "right",
        group: "View",
        words: "Window to the right",
        keys: "shift+arrowright",
        run: withFacts((known) =>
          useDesk.setState({ view: scrolled(window(), (window().end - window().start) * 0.25, known.duration) }),
        ),
      },
      { id: "taller", group: "View", words: "Waveform taller", keys: "arrowup", run: () => stretchWaveform(1) },
      { id: "lower", group: "View", words: "Waveform lower", keys: "arrowdown", run: () => stretchWaveform(-1) },
      {
        id: "peaks",
        group: "View",
        words: "Waveform as tall as its highest peak, or to full scale",
        keys: "p",
        run: withFacts((known) =>
          useDesk.setState({
            tallerDb: desk().tallerDb ? 0 : Math.max(0, Math.floor(-(known.figures.samplePeakDbfs ?? 0))),
          }),
        ),
      },
      { id: "whole", group: "View", words: "The whole item", keys: "w", run: () => useDesk.setState({ view: null }) },
      {
        id: "tofit",
        group: "View",
        words: "Fill the window with the selection",
        keys: "f",
        run: withFacts((known) => {
          const { selection } = desk();
          if (selection) useDesk.setState({ view: around(selection, known.duration) });
        }),
      },
      {
        id: "unselect",
        group: "View",
        words: "No selection",
        keys: "escape",
        run: () => useDesk.setState({ selection: null }),
      },
      {
        id: "sheet",
        group: "View",
        words: "Light or dark sheet",
        keys: "shift+d",
        run: () => useSheet.getState().toggle(),
      },
      { id: "undo", group: "Project", words: "Undo", keys: "mod+z", run: () => void moveHead({ to: "undo" }) },
      { id: "redo", group: "Project", words: "Redo", keys: "mod+shift+z", run: () => void moveHead({ to: "redo" }) },
      {
        id: "history",
        group: "Project",
        words: "History and versions",
        keys: "h",
        run: () => useDesk.setState({ dialog: "history" }),
      },
      {
        id: "commands",
        group: "Project",
        words: "Find a command",
        keys: "mod+k",
        run: () => useDesk.setState({ dialog: "commands" }),
      },
      ...STAGES.map((stage, index): DeskCommand => ({
        id: `stage-${stage}`,
        group: "Stages",
        words: `Stage ${index + 1}: ${stage}`,
        keys: String(index + 1),
        run: () => goToStage(stage),
      })),
      ...INSPECT_VIEWS.map((inspect): DeskCommand => ({
        id: `inspect-${inspect}`,
        group: "Stages",
        words: `Inspect: ${inspect}`,
        run: () => useDesk.setState({ stage: "inspect", inspect }),
      })),
      ...items.map((item): DeskCommand => ({
        id: `item-${item.id}`,
        group: "Items",
        words: `Take “${item.name}” in hand`,
        run: () => takeItem(item.id),
      })),
    ];
    return list;
  }, [facts, moveHead, items]);
}

/** Binds the keys of all commands. Keys typed into fields stay there. */
export function useCommandKeys(project: string): void {
  const commands = useDeskCommands(project);
  const keyed = commands.filter((command) => command.keys);
  useHotkeys(
    keyed.map(({ keys }) => keys!),
    (event, hotkey) => {
      // Space on a focused button presses the button; everywhere else it plays.
      if (
        hotkey.keys?.includes("space") &&
        event.target instanceof HTMLElement &&
        event.target.closest("[role=dialog], [role=menu]")
      )
        return;
      const pressed = keyed.find(({ keys }) => sameKeys(keys!, hotkey));
      if (!pressed) return;
      event.preventDefault();
      pressed.run();
    },
    { enableOnFormTags: false, ignoreModifiers: false },
    [commands],
  );
}

interface Pressed {
  keys?: readonly string[] | undefined;
  shift?: boolean | undefined;
  mod?: boolean | undefined;
}

function sameKeys(keys: string, pressed: Pressed): boolean {
  const parts = keys.split("+");
  const main = parts.filter((part) => part !== "shift" && part !== "mod").join("+");
  return (
    pressed.keys?.join("+") === main &&
    Boolean(pressed.shift) === parts.includes("shift") &&
    Boolean(pressed.mod) === parts.includes("mod")
  );
}
