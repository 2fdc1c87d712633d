import { findingsOf } from "@core/findings";
import { LISTEN_TO } from "@core/monitoring/monitor-matrix";
import { placeMarkers } from "@ui/state/markers";
import { following } from "@ui/state/time-window";
import { useDesk } from "../../state/workspace-store";
import type { Heard } from "../../state/monitor-source";
import type { ItemFacts } from "../../state/current-item";
import { itemFrame } from "../../state/item-time";
import { engine } from "../../state/listening-engine";
import { togglePlay } from "../../state/use-monitor-source";
import { desk, here, movePlayhead, windowOf, withFacts, type CommandContext, type DeskCommand } from "./command";

const STEP_SHARE = 0.02;
/** Seconds heard on each side of a cut where no rolls are set. */
const AROUND_SECONDS = 1.5;
const SPEEDS = [-4, -2, -1, 0.5, 0.75, 1, 1.25, 1.5, 2, 3, 4];
/** A place this near counts as reached. */
const REACHED_SECONDS = 0.02;

/** Hears one thing, or goes back to "now". */
const hear = (heard: Heard) => () => useDesk.setState({ heard: desk().heard === heard ? "now" : heard });

function changeSpeed(by: number): void {
  const at = SPEEDS.indexOf(desk().speed);
  useDesk.setState({ speed: SPEEDS[Math.max(0, Math.min(SPEEDS.length - 1, at + by))] ?? 1 });
}

/** Places worth a stop: markers, findings, edges of selections, both ends. */
function placesOf({ spec }: CommandContext, facts: ItemFacts): number[] {
  const { item, figures, duration } = facts;
  const { selection, others } = desk();
  const regions = selection ? [selection, ...others] : others;
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
  const now = here(facts);
  const places = placesOf(context, facts);
  const next =
    direction > 0
      ? places.find((place) => place > now + REACHED_SECONDS)
      : places.findLast((place) => place < now - REACHED_SECONDS);
  if (next === undefined) return;
  movePlayhead(facts, next);
  useDesk.setState({ view: following(windowOf(facts), next, facts.duration) });
}

/** The slots: what is heard now goes into one of them, or one after the other is heard. */
const switchSlots = () => useDesk.setState({ heard: desk().heard === "first" ? "second" : "first" });

export function listeningCommands(context: CommandContext, keepSlot: (slot: 0 | 1) => void): DeskCommand[] {
  const group = "Listening";
  const playStretch = (start: number, end: number) =>
    withFacts(context, (facts) => {
      void engine().playStretch(itemFrame(facts, start), itemFrame(facts, end));
    })();
  const step = (direction: number) =>
    withFacts(context, (facts) => {
      const { start, end } = windowOf(facts);
      movePlayhead(facts, here(facts) + direction * STEP_SHARE * (end - start));
    });
  return [
    { id: "play", group, words: "Play or pause", keys: "space", run: togglePlay },
    {
      id: "play-selection",
      group,
      words: "Play the selection, once",
      keys: "shift+space",
      run: () => {
        const { selection, rolls } = desk();
        if (selection) playStretch(selection.start - rolls.before, selection.end + rolls.after);
      },
    },
    {
      id: "around",
      group,
      words: "Play around the playhead",
      keys: "c",
      run: withFacts(context, (facts) => {
        const { rolls } = desk();
        const at = here(facts);
        playStretch(at - (rolls.before || AROUND_SECONDS), at + (rolls.after || AROUND_SECONDS));
      }),
    },
    {
      id: "loop",
      group,
      words: "Loop the selection",
      keys: "l",
      run: () => useDesk.setState({ looping: !desk().looping }),
    },
    { id: "original", group, words: "Hear the original, or as it is now", keys: "o", run: hear("original") },
    { id: "before", group, words: "Hear it before the step, or as it is now", keys: "shift+o", run: hear("before") },
    { id: "removed", group, words: "Hear only what is removed, or as it is now", keys: "d", run: hear("removed") },
    {
      id: "reference",
      group,
      words: "Hear the reference, or as it is now",
      keys: "q",
      run: () => (desk().reference === null ? useDesk.setState({ dialog: "listen" }) : hear("reference")()),
    },
    {
      id: "match",
      group,
      words: "Match the levels of what is compared",
      keys: "m",
      run: () => useDesk.setState({ matched: !desk().matched }),
    },
    {
      id: "band",
      group,
      words: "Hear only the band of the selection",
      keys: "y",
      run: () => useDesk.setState({ bandOnly: !desk().bandOnly }),
    },
    {
      id: "sides",
      group,
      words: "Hear all, mid, side, mono, left, right in turn",
      keys: "shift+m",
      run: () =>
        useDesk.setState(({ monitor }) => ({
          monitor: { ...monitor, listenTo: LISTEN_TO[(LISTEN_TO.indexOf(monitor.listenTo) + 1) % LISTEN_TO.length]! },
        })),
    },
    { id: "faster", group, words: "Faster", keys: "j", run: () => changeSpeed(1) },
    { id: "slower", group, words: "Slower, then backwards", keys: "shift+j", run: () => changeSpeed(-1) },
    { id: "normal", group, words: "At its own speed", keys: "u", run: () => useDesk.setState({ speed: 1 }) },
    {
      id: "next",
      group,
      words: "To the next marker, finding or edge",
      keys: "n",
      run: withFacts(context, (facts) => skip(context, facts, 1)),
    },
    {
      id: "previous",
      group,
      words: "To the marker, finding or edge before",
      keys: "shift+n",
      run: withFacts(context, (facts) => skip(context, facts, -1)),
    },
    {
      id: "start",
      group,
      words: "Playhead to the start",
      keys: "home",
      run: withFacts(context, (facts) => movePlayhead(facts, 0)),
    },
    {
      id: "end",
      group,
      words: "Playhead to the end",
      keys: "end",
      run: withFacts(context, (facts) => movePlayhead(facts, facts.duration)),
    },
    { id: "back", group, words: "Playhead back a little", keys: "arrowleft", run: step(-1) },
    { id: "forward", group, words: "Playhead on a little", keys: "arrowright", run: step(1) },
    { id: "slot-1", group, words: "Keep what is heard in slot 1", keys: "shift+1", run: () => keepSlot(0) },
    { id: "slot-2", group, words: "Keep what is heard in slot 2", keys: "shift+2", run: () => keepSlot(1) },
    { id: "slots", group, words: "Hear one slot, then the other", keys: "x", run: switchSlots },
    { id: "difference", group, words: "Hear the difference of the slots", keys: "shift+x", run: hear("difference") },
    {
      id: "compare",
      group,
      words: "Compare two states, also blind",
      keys: "a",
      run: () => useDesk.setState({ dialog: "compare" }),
    },
    {
      id: "listen",
      group,
      words: "Channels, reference, rolls, device …",
      keys: "i",
      run: () => useDesk.setState({ dialog: "listen" }),
    },
    { id: "meters", group, words: "Reset the meters", keys: "r", run: () => engine().resetMeters() },
    {
      id: "record",
      group,
      words: "Record from an input",
      keys: "shift+r",
      run: () => useDesk.setState({ dialog: "record" }),
    },
  ];
}
