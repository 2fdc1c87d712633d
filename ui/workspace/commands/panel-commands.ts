import { toast } from "sonner";
import { PANEL_LABELS, PANELS, togglePanel } from "@ui/state/panel-sizes";
import { useWorkspace } from "@ui/state/workspace-store";
import { workspaceState, type WorkspaceCommand } from "./command";

/** How the room of the screen is used, whatever is in hand. */
export const panelCommands = (): WorkspaceCommand[] => [
  ...PANELS.map((panel, index): WorkspaceCommand => ({
    id: `fold-${panel}`,
    group: "View",
    label: `Fold or unfold the ${PANEL_LABELS[panel]}`,
    keys: `shift+f${index + 6}`,
    run: () => {
      if (!togglePanel(panel, workspaceState().stage))
        toast("This stage has one panel: there is nothing to fold in it but the meters.");
    },
  })),
  {
    id: "show-input",
    group: "View",
    label: "Show keys and clicks on the screen, for teaching",
    run: () => useWorkspace.setState(({ showsInput }) => ({ showsInput: !showsInput })),
  },
];
