import { LANE_IDS, LANE_LABELS, switchLane, useLanes, type LaneId } from "@ui/state/lane-settings";
import { around, scrolled, zoomed } from "@ui/state/time-window";
import { goToWindow } from "@ui/state/window-history";
import { zoomWaveform } from "@ui/state/waveform-height";
import { useSheet } from "@ui/design-system/sheet";
import { SELECT_TOOLS, useWorkspace } from "../../state/workspace-store";
import {
  workspaceState,
  playheadSeconds,
  windowOf,
  withFacts,
  type CommandContext,
  type WorkspaceCommand,
} from "./command";

const LANE_KEYS: Partial<Record<LaneId, string>> = {
  waveform: "shift+w",
  spectrogram: "s",
  "constant-q": "shift+s",
  loudness: "shift+l",
};
/** Of the window, by one key. */
const SCROLL_SHARE = 0.25;
const NUDGE_SHARE = 0.01;

export function viewCommands(context: CommandContext): WorkspaceCommand[] {
  const group = "View";
  const zoom = (factor: number) =>
    withFacts(context, (facts) =>
      useWorkspace.setState({ view: zoomed(windowOf(facts), factor, playheadSeconds(facts), facts.duration) }),
    );
  const scroll = (share: number) =>
    withFacts(context, (facts) => {
      const { start, end } = windowOf(facts);
      useWorkspace.setState({ view: scrolled({ start, end }, (end - start) * share, facts.duration) });
    });
  return [
    { id: "closer", group, label: "Zoom in", keys: "equal", run: zoom(2) },
    { id: "further", group, label: "Zoom out", keys: "minus", run: zoom(0.5) },
    { id: "left", group, label: "Window to the left", keys: "shift+arrowleft", run: scroll(-SCROLL_SHARE) },
    { id: "right", group, label: "Window to the right", keys: "shift+arrowright", run: scroll(SCROLL_SHARE) },
    { id: "taller", group, label: "Zoom the waveform in", keys: "arrowup", run: () => zoomWaveform(1) },
    { id: "lower", group, label: "Zoom the waveform out", keys: "arrowdown", run: () => zoomWaveform(-1) },
    {
      id: "peaks",
      group,
      label: "Waveform as tall as its highest peak, or to full scale",
      keys: "p",
      run: withFacts(context, ({ figures }) =>
        useWorkspace.setState({
          waveformZoomDb: workspaceState().waveformZoomDb ? 0 : Math.max(0, Math.floor(-(figures.samplePeakDbfs ?? 0))),
        }),
      ),
    },
    { id: "whole", group, label: "The whole item", keys: "w", run: () => useWorkspace.setState({ view: null }) },
    { id: "window-back", group, label: "Back to the window before", keys: "z", run: () => goToWindow("back") },
    { id: "window-forth", group, label: "Forth to the window after", keys: "shift+z", run: () => goToWindow("forth") },
    {
      id: "tofit",
      group,
      label: "Fill the window with the selection",
      keys: "f",
      run: withFacts(context, ({ duration }) => {
        const { selection } = workspaceState();
        if (selection) useWorkspace.setState({ view: around(selection, duration) });
      }),
    },
    ...LANE_IDS.map((id): WorkspaceCommand => {
      const keys = LANE_KEYS[id];
      return {
        id: `lane-${id}`,
        group,
        label: `Lane on or off: ${LANE_LABELS[id].name}`,
        run: () => switchLane(id),
        ...(keys ? { keys } : {}),
      };
    }),
    {
      id: "grid",
      group,
      label: "Lines of the ruler through all lanes",
      keys: "g",
      run: () => useLanes.setState(({ showGrid }) => ({ showGrid: !showGrid })),
    },
    { id: "sheet", group, label: "Light or dark sheet", keys: "shift+d", run: () => useSheet.getState().toggle() },
  ];
}

export function selectionCommands(context: CommandContext): WorkspaceCommand[] {
  const group = "Selection";
  const nudge = (edge: "start" | "end", direction: number) =>
    withFacts(context, (facts) => {
      const { selection } = workspaceState();
      if (!selection) return;
      const window = windowOf(facts);
      const moved = selection[edge] + direction * NUDGE_SHARE * (window.end - window.start);
      const next = { ...selection, [edge]: Math.max(0, Math.min(facts.duration, moved)) };
      if (next.end > next.start) useWorkspace.setState({ selection: next });
    });
  return [
    {
      id: "from",
      group,
      label: "Selection from the playhead",
      keys: "comma",
      run: withFacts(context, (facts) => {
        const start = playheadSeconds(facts);
        const end = Math.max(workspaceState().selection?.end ?? 0, Math.min(facts.duration, start + 1));
        useWorkspace.setState({ selection: { start, end } });
      }),
    },
    {
      id: "to",
      group,
      label: "Selection to the playhead",
      keys: "period",
      run: withFacts(context, (facts) => {
        const end = playheadSeconds(facts);
        useWorkspace.setState({ selection: { start: Math.min(workspaceState().selection?.start ?? 0, end), end } });
      }),
    },
    {
      id: "start-earlier",
      group,
      label: "Start of the selection earlier",
      keys: "shift+comma",
      run: nudge("start", -1),
    },
    {
      id: "start-later",
      group,
      label: "Start of the selection later",
      keys: "mod+shift+comma",
      run: nudge("start", 1),
    },
    { id: "end-later", group, label: "End of the selection later", keys: "shift+period", run: nudge("end", 1) },
    {
      id: "end-earlier",
      group,
      label: "End of the selection earlier",
      keys: "mod+shift+period",
      run: nudge("end", -1),
    },
    {
      id: "all",
      group,
      label: "Select the whole item",
      keys: "mod+a",
      run: withFacts(context, ({ duration }) =>
        useWorkspace.setState({ selection: { start: 0, end: duration }, otherSelections: [] }),
      ),
    },
    {
      id: "keep-selection",
      group,
      label: "Keep this selection beside the next one",
      keys: "shift+e",
      run: () => {
        const { selection, otherSelections } = workspaceState();
        if (selection) useWorkspace.setState({ otherSelections: [...otherSelections, selection], selection: null });
      },
    },
    {
      id: "unselect",
      group,
      label: "No selection",
      keys: "escape",
      run: () => useWorkspace.setState({ selection: null, otherSelections: [] }),
    },
    {
      id: "tool",
      group,
      label: "Select in time, by a box, by hand in turn",
      keys: "b",
      run: () =>
        useWorkspace.setState(({ tool }) => ({
          tool: SELECT_TOOLS[(SELECT_TOOLS.indexOf(tool) + 1) % SELECT_TOOLS.length]!,
        })),
    },
    {
      id: "snap-grid",
      group,
      label: "Snap to the lines of the ruler, or not",
      keys: "shift+g",
      run: () => useLanes.setState(({ snap }) => ({ snap: { ...snap, grid: !snap.grid } })),
    },
  ];
}
