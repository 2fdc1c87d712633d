import { goToStage, INSPECT_VIEWS, STAGES, openItem, useWorkspace } from "../../state/workspace-store";
import { workspaceState, type CommandContext, type WorkspaceCommand } from "./command";

/** Items from one to the next; at the ends it stays. */
const toItem = (items: CommandContext["items"], direction: 1 | -1) => () => {
  const at = items.findIndex(({ id }) => id === workspaceState().item);
  const next = items[Math.max(0, Math.min(items.length - 1, at + direction))];
  if (next) openItem(next.id);
};

export function projectCommands({ items, moveHead }: CommandContext): WorkspaceCommand[] {
  return [
    { id: "undo", group: "Project", label: "Undo", keys: "mod+z", run: () => void moveHead({ to: "undo" }) },
    { id: "redo", group: "Project", label: "Redo", keys: "mod+shift+z", run: () => void moveHead({ to: "redo" }) },
    {
      id: "history",
      group: "Project",
      label: "History and versions",
      keys: "h",
      run: () => useWorkspace.setState({ dialog: "history" }),
    },
    {
      id: "comments",
      group: "Project",
      label: "Comments of the team",
      keys: "shift+c",
      run: () => useWorkspace.setState({ dialog: "comments" }),
    },
    {
      id: "commands",
      group: "Project",
      label: "Find a command",
      keys: "mod+k",
      run: () => useWorkspace.setState({ dialog: "commands" }),
    },
    {
      id: "go-to",
      group: "Project",
      label: "Go to a typed place, or select a typed stretch",
      words: "timecode position locate",
      keys: "slash",
      run: () => useWorkspace.setState({ dialog: "commands" }),
    },
    {
      id: "keys",
      group: "Project",
      label: "Keys: see, change, print",
      keys: "shift+slash",
      run: () => useWorkspace.setState({ dialog: "keys" }),
    },
    {
      id: "without-chain",
      group: "Project",
      label: "Bypass all processors, or not",
      run: () => useWorkspace.setState(({ chainBypassed }) => ({ chainBypassed: !chainBypassed })),
    },
    ...STAGES.map((stage, index): WorkspaceCommand => ({
      id: `stage-${stage}`,
      group: "Stages",
      label: `Stage ${index + 1}: ${stage}`,
      keys: String(index + 1),
      run: () => goToStage(stage),
    })),
    ...INSPECT_VIEWS.map((inspect): WorkspaceCommand => ({
      id: `inspect-${inspect}`,
      group: "Stages",
      label: `Inspect: ${inspect}`,
      run: () => useWorkspace.setState({ stage: "inspect", inspect }),
    })),
    {
      id: "item-before-this",
      group: "Items",
      label: "Take the item before in hand",
      keys: "mod+arrowup",
      run: toItem(items, -1),
    },
    {
      id: "item-after-this",
      group: "Items",
      label: "Take the next item in hand",
      keys: "mod+arrowdown",
      run: toItem(items, 1),
    },
    ...items.map((item): WorkspaceCommand => ({
      id: `item-${item.id}`,
      group: "Items",
      label: `Take “${item.name}” in hand`,
      run: () => openItem(item.id),
    })),
  ];
}
