import { goToStage, INSPECT_VIEWS, STAGES, takeItem, useDesk } from "../../state/workspace-store";
import type { CommandContext, DeskCommand } from "./command";

export function projectCommands({ items, moveHead }: CommandContext): DeskCommand[] {
  return [
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
    {
      id: "keys",
      group: "Project",
      words: "Keys: see, change, print",
      keys: "shift+slash",
      run: () => useDesk.setState({ dialog: "keys" }),
    },
    {
      id: "without-chain",
      group: "Project",
      words: "Pass over all processors, or hear them again",
      run: () => useDesk.setState(({ withoutChain }) => ({ withoutChain: !withoutChain })),
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
}
