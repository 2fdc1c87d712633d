import { MARKER_KINDS, type MarkerKind } from "@core/project/document";
import { markedFrames, MARKER_LOOKS } from "@ui/state/markers";
import { useDesk } from "../../state/workspace-store";
import type { ItemFacts } from "../../state/current-item";
import { newId } from "../../api/use-project";
import { desk, here, withFacts, type CommandContext, type DeskCommand } from "./command";

const KEYS: Partial<Record<MarkerKind, string>> = { mark: "t", retake: "shift+t", cut: "e", question: "shift+q" };

export function markerCommands(context: CommandContext): DeskCommand[] {
  const group = "Markers";
  const put = (facts: ItemFacts, kind: MarkerKind, seconds: number, endSeconds: number | null = null) =>
    void context.edit({
      type: "addMarkers",
      item: facts.item.id,
      markers: [{ id: newId(), kind, name: "", ...markedFrames(facts, seconds, endSeconds) }],
    });
  return [
    ...MARKER_KINDS.map((kind): DeskCommand => {
      const keys = KEYS[kind];
      return {
        id: `marker-${kind}`,
        group,
        words: `Set a marker at the playhead: ${MARKER_LOOKS[kind].words}`,
        run: withFacts(context, (facts) => put(facts, kind, here(facts))),
        ...(keys ? { keys } : {}),
      };
    }),
    {
      id: "marker-range",
      group,
      words: "Set a marker over the selection",
      keys: "v",
      run: withFacts(context, (facts) => {
        const { selection } = desk();
        if (selection) put(facts, "mark", selection.start, selection.end);
      }),
    },
    { id: "markers", group, words: "List of markers", keys: "k", run: () => useDesk.setState({ dialog: "markers" }) },
  ];
}
