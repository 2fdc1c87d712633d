import { toast } from "sonner";
import { editActionsOf, useCutSettings, type EditActions } from "../../state/edit-actions";
import { itemPoints, pointFrom } from "@ui/state/line-points";
import { following } from "@ui/state/time-window";
import { useWorkspace } from "@ui/state/workspace-store";
import {
  movePlayhead,
  playheadSeconds,
  windowOf,
  withFacts,
  workspaceState,
  type CommandContext,
  type WorkspaceCommand,
} from "./command";

/** From point to point of the lines that are drawn over the item. */
export function pointCommands(context: CommandContext): WorkspaceCommand[] {
  const toPoint = (direction: 1 | -1) =>
    withFacts(context, (facts) => {
      const { stage, step } = workspaceState();
      const at = pointFrom(itemPoints(facts.item, facts, stage, step), playheadSeconds(facts), direction);
      if (at === null) toast("There is no point of a line further on in this direction.");
      else {
        movePlayhead(facts, at);
        if (workspaceState().view) useWorkspace.setState({ view: following(windowOf(facts), at, facts.duration) });
      }
    });
  const group = "Editing";
  const words = "gain line automation breakpoint envelope";
  return [
    {
      id: "point-before",
      group,
      label: "To the point of a line before",
      words,
      keys: "bracketleft",
      run: toPoint(-1),
    },
    { id: "point-next", group, label: "To the next point of a line", words, keys: "bracketright", run: toPoint(1) },
  ];
}

/** Edits of what the item is made of. */
export function timeCommands(context: CommandContext): WorkspaceCommand[] {
  const group = "Editing";
  const cutting = (work: (cutting: EditActions) => void) =>
    withFacts(context, (facts) => work(editActionsOf(facts, context.edit)));
  return [
    {
      id: "cut",
      group,
      label: "Cut out the selection, to be put in elsewhere",
      keys: "mod+x",
      run: cutting((now) => {
        now.copy();
        now.cutOut();
      }),
    },
    { id: "copy", group, label: "Copy the selection", keys: "mod+c", run: cutting((now) => now.copy()) },
    {
      id: "paste",
      group,
      label: "Put in what was copied, at the playhead or over the selection",
      keys: "mod+v",
      run: cutting((now) => now.paste()),
    },
    {
      id: "cut-out",
      group,
      label: "Cut out the selection, and close up",
      keys: "delete",
      run: cutting((now) => now.cutOut()),
    },
    {
      id: "cut-out-keeping-time",
      group,
      label: "Cut out the selection, and leave silence or room tone",
      keys: "shift+delete",
      run: cutting((now) => now.cutOut(useCutSettings.getState().fill === "room tone" ? "room tone" : "silence")),
    },
    {
      id: "move-here",
      group,
      label: "Move the selection to the playhead",
      keys: "shift+v",
      run: cutting((now) => now.move()),
    },
    { id: "keep-only", group, label: "Keep only the selection", run: cutting((now) => now.keepOnly()) },
    {
      id: "trim-head",
      group,
      label: "Trim what lies before the playhead",
      run: cutting((now) => now.trim("head")),
    },
    {
      id: "trim-tail",
      group,
      label: "Trim what lies behind the playhead",
      run: cutting((now) => now.trim("tail")),
    },
  ];
}
