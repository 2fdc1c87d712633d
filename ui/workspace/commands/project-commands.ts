import { goToStage, INSPECT_VIEWS, STAGES, openItem, useWorkspace } from "../../state/workspace-store";
import type { CommandContext, WorkspaceCommand } from "./command";

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
      id: "commands",
      group: "Project",
      label: "Find a command",
      keys: "mod+k",
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
    ...items.map((item): WorkspaceCommand => ({
      id: `item-${item.id}`,
      group: "Items",
      label: `Take “${item.name}” in hand`,
      run: () => openItem(item.id),
    })),
  ];
}
