import { editActionsOf, useCutSettings, type EditActions } from "../../state/edit-actions";
import { withFacts, type CommandContext, type WorkspaceCommand } from "./command";

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
