import { LANE_IDS, LANE_WORDS, switchLane, useLanes, type LaneId } from "@ui/state/lane-settings";
import { around, scrolled, zoomed } from "@ui/state/time-window";
import { stretchWaveform } from "@ui/state/waveform-height";
import { useSheet } from "@ui/design-system/sheet";
import { SELECT_TOOLS, useDesk } from "../../state/workspace-store";
import { desk, here, windowOf, withFacts, type CommandContext, type DeskCommand } from "./command";

const LANE_KEYS: Partial<Record<LaneId, string>> = {
  waveform: "shift+w",
  spectrogram: "s",
  "constant-q": "shift+s",
  loudness: "shift+l",
};
/** Of the window, by one key. */
const SCROLL_SHARE = 0.25;
const NUDGE_SHARE = 0.01;

export function viewCommands(context: CommandContext): DeskCommand[] {
  const group = "View";
  const zoom = (factor: number) =>
    withFacts(context, (facts) =>
      useDesk.setState({ view: zoomed(windowOf(facts), factor, here(facts), facts.duration) }),
    );
  const scroll = (share: number) =>
    withFacts(context, (facts) => {
      const { start, end } = windowOf(facts);
      useDesk.setState({ view: scrolled({ start, end }, (end - start) * share, facts.duration) });
    });
  return [
    { id: "closer", group, words: "Closer", keys: "equal", run: zoom(2) },
    { id: "further", group, words: "Further away", keys: "minus", run: zoom(0.5) },
    { id: "left", group, words: "Window to the left", keys: "shift+arrowleft", run: scroll(-SCROLL_SHARE) },
    { id: "right", group, words: "Window to the right", keys: "shift+arrowright", run: scroll(SCROLL_SHARE) },
    { id: "taller", group, words: "Waveform taller", keys: "arrowup", run: () => stretchWaveform(1) },
    { id: "lower", group, words: "Waveform lower", keys: "arrowdown", run: () => stretchWaveform(-1) },
    {
      id: "peaks",
      group,
      words: "Waveform as tall as its highest peak, or to full scale",
      keys: "p",
      run: withFacts(context, ({ figures }) =>
        useDesk.setState({ tallerDb: desk().tallerDb ? 0 : Math.max(0, Math.floor(-(figures.samplePeakDbfs ?? 0))) }),
      ),
    },
    { id: "whole", group, words: "The whole item", keys: "w", run: () => useDesk.setState({ view: null }) },
    {
      id: "tofit",
      group,
      words: "Fill the window with the selection",
      keys: "f",
      run: withFacts(context, ({ duration }) => {
        const { selection } = desk();
        if (selection) useDesk.setState({ view: around(selection, duration) });
      }),
    },
    ...LANE_IDS.map((id): DeskCommand => {
      const keys = LANE_KEYS[id];
      return {
        id: `lane-${id}`,
        group,
        words: `Lane on or off: ${LANE_WORDS[id].name}`,
        run: () => switchLane(id),
        ...(keys ? { keys } : {}),
      };
    }),
    {
      id: "grid",
      group,
      words: "Lines of the ruler through all lanes",
      keys: "g",
      run: () => useLanes.setState(({ showGrid }) => ({ showGrid: !showGrid })),
    },
    { id: "sheet", group, words: "Light or dark sheet", keys: "shift+d", run: () => useSheet.getState().toggle() },
  ];
}

export function selectionCommands(context: CommandContext): DeskCommand[] {
  const group = "Selection";
  const nudge = (edge: "start" | "end", direction: number) =>
    withFacts(context, (facts) => {
      const { selection } = desk();
      if (!selection) return;
      const window = windowOf(facts);
      const moved = selection[edge] + direction * NUDGE_SHARE * (window.end - window.start);
      const next = { ...selection, [edge]: Math.max(0, Math.min(facts.duration, moved)) };
      if (next.end > next.start) useDesk.setState({ selection: next });
    });
  return [
    {
      id: "from",
      group,
      words: "Selection from the playhead",
      keys: "comma",
      run: withFacts(context, (facts) => {
        const start = here(facts);
        const end = Math.max(desk().selection?.end ?? 0, Math.min(facts.duration, start + 1));
        useDesk.setState({ selection: { start, end } });
      }),
    },
    {
      id: "to",
      group,
      words: "Selection to the playhead",
      keys: "period",
      run: withFacts(context, (facts) => {
        const end = here(facts);
        useDesk.setState({ selection: { start: Math.min(desk().selection?.start ?? 0, end), end } });
      }),
    },
    {
      id: "start-earlier",
      group,
      words: "Start of the selection earlier",
      keys: "shift+comma",
      run: nudge("start", -1),
    },
    {
      id: "start-later",
      group,
      words: "Start of the selection later",
      keys: "mod+shift+comma",
      run: nudge("start", 1),
    },
    { id: "end-later", group, words: "End of the selection later", keys: "shift+period", run: nudge("end", 1) },
    {
      id: "end-earlier",
      group,
      words: "End of the selection earlier",
      keys: "mod+shift+period",
      run: nudge("end", -1),
    },
    {
      id: "all",
      group,
      words: "Select the whole item",
      keys: "mod+a",
      run: withFacts(context, ({ duration }) =>
        useDesk.setState({ selection: { start: 0, end: duration }, others: [] }),
      ),
    },
    {
      id: "keep-selection",
      group,
      words: "Keep this selection beside the next one",
      keys: "shift+e",
      run: () => {
        const { selection, others } = desk();
        if (selection) useDesk.setState({ others: [...others, selection], selection: null });
      },
    },
    {
      id: "unselect",
      group,
      words: "No selection",
      keys: "escape",
      run: () => useDesk.setState({ selection: null, others: [] }),
    },
    {
      id: "tool",
      group,
      words: "Select in time, by a box, by hand in turn",
      keys: "b",
      run: () =>
        useDesk.setState(({ tool }) => ({
          tool: SELECT_TOOLS[(SELECT_TOOLS.indexOf(tool) + 1) % SELECT_TOOLS.length]!,
        })),
    },
    {
      id: "snap-grid",
      group,
      words: "Snap to the lines of the ruler, or not",
      keys: "shift+g",
      run: () => useLanes.setState(({ snap }) => ({ snap: { ...snap, grid: !snap.grid } })),
    },
  ];
}
