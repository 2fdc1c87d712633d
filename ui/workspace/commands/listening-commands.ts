import { findingsOf } from "@core/findings";
import { LISTEN_TO } from "@core/monitoring/monitor-matrix";
import { placeMarkers } from "@ui/state/markers";
import { following } from "@ui/state/time-window";
import { useWorkspace } from "../../state/workspace-store";
import type { MonitorSourceName } from "../../state/monitor-source";
import type { ItemFacts } from "../../state/current-item";
import { itemFrame } from "../../state/item-time";
import { engine } from "../../state/listening-engine";
import { togglePlay } from "../../state/use-monitor-source";
import {
  workspaceState,
  playheadSeconds,
  movePlayhead,
  windowOf,
  withFacts,
  type CommandContext,
  type WorkspaceCommand,
} from "./command";

const STEP_SHARE = 0.02;
/** Seconds heard on each side of a cut where no rolls are set. */
const AROUND_SECONDS = 1.5;
const SPEEDS = [-4, -2, -1, 0.5, 0.75, 1, 1.25, 1.5, 2, 3, 4];
/** A place this near counts as reached. */
const REACHED_SECONDS = 0.02;

/** Hears one thing, or goes back to "now". */
const hear = (heard: MonitorSourceName) => () =>
  useWorkspace.setState({ monitorSource: workspaceState().monitorSource === heard ? "now" : heard });

function changeSpeed(by: number): void {
  const at = SPEEDS.indexOf(workspaceState().speed);
  useWorkspace.setState({ speed: SPEEDS[Math.max(0, Math.min(SPEEDS.length - 1, at + by))] ?? 1 });
}

/** Places worth a stop: markers, findings, edges of selections, both ends. */
function placesOf({ spec }: CommandContext, facts: ItemFacts): number[] {
  const { item, figures, duration } = facts;
  const { selection, otherSelections } = workspaceState();
  const regions = selection ? [selection, ...otherSelections] : otherSelections;
  return [
    0,
    duration,
    ...placeMarkers(item.markers, facts).flatMap(({ seconds, endSeconds }) =>
      endSeconds === null ? [seconds] : [seconds, endSeconds],
    ),
    ...findingsOf(figures, spec).flatMap(({ places }) => places.map(({ seconds }) => seconds)),
    ...regions.flatMap(({ start, end }) => [start, end]),
  ].sort((a, b) => a - b);
}

function skip(context: CommandContext, facts: ItemFacts, direction: 1 | -1): void {
  const now = playheadSeconds(facts);
  const places = placesOf(context, facts);
  const next =
    direction > 0
      ? places.find((place) => place > now + REACHED_SECONDS)
      : places.findLast((place) => place < now - REACHED_SECONDS);
  if (next === undefined) return;
  movePlayhead(facts, next);
  useWorkspace.setState({ view: following(windowOf(facts), next, facts.duration) });
}

/** The slots: what is heard now goes into one of them, or one after the other is heard. */
const switchSlots = () =>
  useWorkspace.setState({ monitorSource: workspaceState().monitorSource === "first" ? "second" : "first" });

export function listeningCommands(context: CommandContext, keepSlot: (slot: 0 | 1) => void): WorkspaceCommand[] {
  const group = "Listening";
  const playStretch = (start: number, end: number) =>
    withFacts(context, (facts) => {
      void engine().playStretch(itemFrame(facts, start), itemFrame(facts, end));
    })();
  const step = (direction: number) =>
    withFacts(context, (facts) => {
      const { start, end } = windowOf(facts);
      movePlayhead(facts, playheadSeconds(facts) + direction * STEP_SHARE * (end - start));
    });
  return [
    { id: "play", group, label: "Play or pause", keys: "space", run: togglePlay },
    {
      id: "play-selection",
      group,
      label: "Play the selection, once",
      keys: "shift+space",
      run: () => {
        const { selection, rolls } = workspaceState();
        if (selection) playStretch(selection.start - rolls.before, selection.end + rolls.after);
      },
    },
    {
      id: "around",
      group,
      label: "Play around the playhead",
      keys: "c",
      run: withFacts(context, (facts) => {
        const { rolls } = workspaceState();
        const at = playheadSeconds(facts);
        playStretch(at - (rolls.before || AROUND_SECONDS), at + (rolls.after || AROUND_SECONDS));
      }),
    },
    {
      id: "loop",
      group,
      label: "Loop the selection",
      keys: "l",
      run: () => useWorkspace.setState({ looping: !workspaceState().looping }),
    },
    { id: "original", group, label: "Hear the original, or as it is now", keys: "o", run: hear("original") },
    { id: "before", group, label: "Hear it before the step, or as it is now", keys: "shift+o", run: hear("before") },
    { id: "removed", group, label: "Hear only what is removed, or as it is now", keys: "d", run: hear("removed") },
    {
      id: "reference",
      group,
      label: "Hear the reference, or as it is now",
      keys: "q",
      run: () =>
        workspaceState().reference === null ? useWorkspace.setState({ dialog: "listen" }) : hear("reference")(),
    },
    {
      id: "match",
      group,
      label: "Match the levels of what is compared",
      keys: "m",
      run: () => useWorkspace.setState({ levelMatched: !workspaceState().levelMatched }),
    },
    {
      id: "band",
      group,
      label: "Hear only the band of the selection",
      keys: "y",
      run: () => useWorkspace.setState({ soloSelectedBand: !workspaceState().soloSelectedBand }),
    },
    {
      id: "sides",
      group,
      label: "Hear all, mid, side, mono, left, right in turn",
      keys: "shift+m",
      run: () =>
        useWorkspace.setState(({ monitor }) => ({
          monitor: { ...monitor, listenTo: LISTEN_TO[(LISTEN_TO.indexOf(monitor.listenTo) + 1) % LISTEN_TO.length]! },
        })),
    },
    { id: "faster", group, label: "Faster", keys: "j", run: () => changeSpeed(1) },
    { id: "slower", group, label: "Slower, then backwards", keys: "shift+j", run: () => changeSpeed(-1) },
    { id: "normal", group, label: "At its own speed", keys: "u", run: () => useWorkspace.setState({ speed: 1 }) },
    {
      id: "next",
      group,
      label: "To the next marker, finding or edge",
      keys: "n",
      run: withFacts(context, (facts) => skip(context, facts, 1)),
    },
    {
      id: "previous",
      group,
      label: "To the marker, finding or edge before",
      keys: "shift+n",
      run: withFacts(context, (facts) => skip(context, facts, -1)),
    },
    {
      id: "start",
      group,
      label: "Playhead to the start",
      keys: "home",
      run: withFacts(context, (facts) => movePlayhead(facts, 0)),
    },
    {
      id: "end",
      group,
      label: "Playhead to the end",
      keys: "end",
      run: withFacts(context, (facts) => movePlayhead(facts, facts.duration)),
    },
    { id: "back", group, label: "Playhead back a little", keys: "arrowleft", run: step(-1) },
    { id: "forward", group, label: "Playhead on a little", keys: "arrowright", run: step(1) },
    { id: "slot-1", group, label: "Keep what is heard in slot 1", keys: "shift+1", run: () => keepSlot(0) },
    { id: "slot-2", group, label: "Keep what is heard in slot 2", keys: "shift+2", run: () => keepSlot(1) },
    { id: "slots", group, label: "Hear one slot, then the other", keys: "x", run: switchSlots },
    { id: "difference", group, label: "Hear the difference of the slots", keys: "shift+x", run: hear("difference") },
    {
      id: "compare",
      group,
      label: "Compare two states, also blind",
      keys: "a",
      run: () => useWorkspace.setState({ dialog: "compare" }),
    },
    {
      id: "listen",
      group,
      label: "Channels, reference, rolls, device …",
      keys: "i",
      run: () => useWorkspace.setState({ dialog: "listen" }),
    },
    { id: "meters", group, label: "Reset the meters", keys: "r", run: () => engine().resetMeters() },
    {
      id: "record",
      group,
      label: "Record from an input",
      keys: "shift+r",
      run: () => useWorkspace.setState({ dialog: "record" }),
    },
  ];
}
