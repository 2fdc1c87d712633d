"use client";

import { Grid3x3 } from "lucide-react";
import { TIME_FORMATS, type TimeFormat } from "@core/audio/timecode";
import type { ItemFacts } from "@ui/state/current-item";
import { Choice, Setting, Tick } from "@ui/design-system/setting";
import { useLanes } from "../state/lane-settings";
import { TempoFields } from "./tempo-fields";

const FORMAT_WORDS: Partial<Record<TimeFormat, string>> = {
  clock: "hours : minutes : seconds",
  bars: "bars and beats",
};

/** How times are told, and the tempo that bars are counted by. */
export function TimeMenu({ facts }: { facts: ItemFacts }) {
  const { timeFormat, showGrid } = useLanes();
  return (
    <>
      <Setting words="times are told in">
        <Choice
          label="Format of times"
          value={timeFormat}
          of={TIME_FORMATS as readonly TimeFormat[]}
          words={(format) => FORMAT_WORDS[format] ?? (/^\d/.test(format) ? `timecode ${format}` : format)}
          onChoose={(format) => useLanes.setState({ timeFormat: format })}
        />
      </Setting>
      <Tick
        words="lines of the ruler through all lanes"
        on={showGrid}
        onChange={(on) => useLanes.setState({ showGrid: on })}
      />
      <TempoFields facts={facts} />
    </>
  );
}

/** What dragged edges are drawn to. */
export function SnapMenu() {
  const { snap, quantised } = useLanes();
  const set = (change: Partial<typeof snap>) => useLanes.setState({ snap: { ...snap, ...change } });
  return (
    <>
      <h2 className="mb-1 flex items-center gap-1 font-semibold">
        <Grid3x3 size={13} /> Edges are drawn to
      </h2>
      <Tick words="markers and playhead" on={snap.markers} onChange={(markers) => set({ markers })} />
      <Tick words="lines of the ruler" on={snap.grid} onChange={(grid) => set({ grid })} />
      <Tick words="zero crossings, after the drag" on={snap.zero} onChange={(zero) => set({ zero })} />
      <Tick
        words="selections always begin and end on the ruler’s lines"
        on={quantised}
        onChange={(on) => useLanes.setState({ quantised: on })}
      />
      <p className="mt-1 text-label text-soft">Alt while dragging: no snapping.</p>
    </>
  );
}
