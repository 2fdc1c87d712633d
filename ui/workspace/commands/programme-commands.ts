/** What can be done while the programme is in hand. */
import { startAudition } from "@ui/state/audition";
import { toast } from "sonner";
import type { ProjectDocument } from "@core/project/document";
import { pointFrom, programmePoints } from "@ui/state/line-points";
import { pickAll, pickNothing } from "@ui/state/picked";
import { engine } from "@ui/state/listening-engine";
import type { ProgrammeInHand } from "@ui/state/programme";
import { endStretches, goToProgramme, hearJoin, joinStretches } from "@ui/state/programme-listening";
import { togglePlay } from "@ui/state/use-monitor-source";
import { openItem, useWorkspace } from "@ui/state/workspace-store";
import { workspaceState, type WorkspaceCommand } from "./command";

const STEP_SECONDS = 1;

/** A marker where the playhead is. */
export type AddMarker = (seconds: number) => void;

export function programmeCommands(
  document: Pick<ProjectDocument, "items" | "programme">,
  programme: ProgrammeInHand,
  addMarker: AddMarker,
): WorkspaceCommand[] {
  const group = "Programme";
  const { order, join, timeline, duration } = programme;
  const sampleRate = timeline?.sampleRate ?? 48_000;
  const now = () => (engine().state.playing ? engine().position / sampleRate : workspaceState().programmeCursor);
  const goTo = (seconds: number) => goToProgramme(Math.min(duration, Math.max(0, seconds)), sampleRate);
  const goToJoin = (direction: 1 | -1) => () => {
    const at = order.findIndex(({ id }) => id === join?.after.item);
    const next = order[Math.max(1, Math.min(order.length - 1, at + direction))];
    if (next) openItem(next.id);
  };
  const toItem = (direction: 1 | -1) => () => {
    const starts = (timeline?.order ?? []).map(({ start }) => start / sampleRate);
    const next = direction > 0 ? starts.find((at) => at > now() + 0.05) : starts.findLast((at) => at < now() - 0.5);
    goTo(next ?? (direction > 0 ? duration : 0));
  };
  const toPoint = (direction: 1 | -1) => () => {
    const startOf = (item: string) => {
      const at = programme.placed(item);
      return at ? at.start / sampleRate : null;
    };
    const at = pointFrom(programmePoints(document, startOf, workspaceState().gainLineOf), now(), direction);
    if (at === null) toast("There is no point of a gain line further on in this direction.");
    else goTo(at);
  };
  return [
    { id: "play", group, label: "Play or pause", keys: "space", run: togglePlay },
    { id: "hear-join", group, label: "Hear this join", keys: "k", run: () => hearJoin(programme) },
    {
      id: "hear-joins",
      group,
      label: "Hear all joins in turn",
      keys: "shift+k",
      run: () => startAudition(joinStretches(programme, workspaceState().joinRolls)),
    },
    {
      id: "hear-ends",
      group,
      label: "Hear heads and tails",
      keys: "shift+h",
      run: () => startAudition(endStretches(programme, workspaceState().joinRolls)),
    },
    { id: "join-before", group, label: "The join before", keys: "shift+j", run: goToJoin(-1) },
    { id: "join-next", group, label: "The next join", keys: "j", run: goToJoin(1) },
    {
      id: "loop",
      group,
      label: "Loop the join",
      keys: "l",
      run: () => useWorkspace.setState({ loopingJoin: !workspaceState().loopingJoin }),
    },
    {
      id: "original",
      group,
      label: "Hear the recordings as they came, or as they are now",
      keys: "o",
      run: () =>
        useWorkspace.setState({ monitorSource: workspaceState().monitorSource === "original" ? "now" : "original" }),
    },
    {
      id: "programme-reference",
      group,
      label: "Hear what was laid beside the programme, or the programme",
      keys: "q",
      run: () =>
        useWorkspace.setState({ monitorSource: workspaceState().monitorSource === "reference" ? "now" : "reference" }),
    },
    {
      id: "matched",
      group,
      label: "Match levels while listening, or not",
      keys: "m",
      run: () => useWorkspace.setState({ levelMatched: !workspaceState().levelMatched }),
    },
    {
      id: "item-before",
      group,
      label: "To the beginning of the item, or of the one before",
      keys: "comma",
      run: toItem(-1),
    },
    { id: "item-next", group, label: "To the next item", keys: "period", run: toItem(1) },
    { id: "left", group, label: "Playhead 1 s back", keys: "arrowleft", run: () => goTo(now() - STEP_SECONDS) },
    { id: "right", group, label: "Playhead 1 s on", keys: "arrowright", run: () => goTo(now() + STEP_SECONDS) },
    { id: "start", group, label: "To the programme's beginning", keys: "home", run: () => goTo(0) },
    { id: "end", group, label: "To the programme's end", keys: "end", run: () => goTo(duration) },
    { id: "programme-marker", group, label: "Put a marker of the programme", keys: "n", run: () => addMarker(now()) },
    {
      id: "programme-whole",
      group,
      label: "Show the whole programme",
      keys: "w",
      run: () => useWorkspace.setState({ programmeView: null }),
    },
    {
      id: "pick-all",
      group,
      label: "Select all items of the order",
      words: "several",
      keys: "mod+a",
      run: () =>
        pickAll(
          "items",
          order.map(({ id }) => id),
        ),
    },
    { id: "pick-nothing", group, label: "Deselect all items", words: "none", run: () => pickNothing("items") },
    {
      id: "point-before",
      group,
      label: "To the point of a gain line before",
      words: "automation breakpoint envelope previous",
      keys: "bracketleft",
      run: toPoint(-1),
    },
    {
      id: "point-next",
      group,
      label: "To the next point of a gain line",
      words: "automation breakpoint envelope",
      keys: "bracketright",
      run: toPoint(1),
    },
    { id: "reset-meters", group, label: "Reset the meters", keys: "r", run: () => engine().resetMeters() },
  ];
}
