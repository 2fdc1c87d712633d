import { MARKER_KINDS, type MarkerKind } from "@core/project/document";
import { markedFrames, MARKER_STYLES } from "@ui/state/markers";
import { useWorkspace } from "../../state/workspace-store";
import type { ItemFacts } from "../../state/current-item";
import { newId } from "../../api/use-project";
import { workspaceState, playheadSeconds, withFacts, type CommandContext, type WorkspaceCommand } from "./command";

const KEYS: Partial<Record<MarkerKind, string>> = { mark: "t", retake: "shift+t", cut: "e", question: "shift+q" };

export function markerCommands(context: CommandContext): WorkspaceCommand[] {
  const group = "Markers";
  const put = (facts: ItemFacts, kind: MarkerKind, seconds: number, endSeconds: number | null = null) =>
    void context.edit({
      type: "addMarkers",
      item: facts.item.id,
      markers: [{ id: newId(), kind, name: "", ...markedFrames(facts, seconds, endSeconds) }],
    });
  return [
    ...MARKER_KINDS.map((kind): WorkspaceCommand => {
      const keys = KEYS[kind];
      return {
        id: `marker-${kind}`,
        group,
        label: `Set a marker at the playhead: ${MARKER_STYLES[kind].words}`,
        run: withFacts(context, (facts) => put(facts, kind, playheadSeconds(facts))),
        ...(keys ? { keys } : {}),
      };
    }),
    {
      id: "marker-range",
      group,
      label: "Set a marker over the selection",
      keys: "v",
      run: withFacts(context, (facts) => {
        const { selection } = workspaceState();
        if (selection) put(facts, "mark", selection.start, selection.end);
      }),
    },
    {
      id: "markers",
      group,
      label: "List of markers",
      keys: "k",
      run: () => useWorkspace.setState({ dialog: "markers" }),
    },
  ];
}
