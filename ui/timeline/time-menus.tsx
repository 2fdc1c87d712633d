"use client";

import { Grid3x3 } from "lucide-react";
import { TIME_FORMATS, type TimeFormat } from "@core/audio/timecode";
import type { ItemFacts } from "@ui/state/current-item";
import { Select, Setting, CheckboxSetting } from "@ui/design-system/controls";
import { NumberInput } from "@ui/design-system/number-input";
import { useLanes } from "../state/lane-settings";
import { TempoFields } from "./tempo-fields";

const FORMAT_WORDS: Partial<Record<TimeFormat, string>> = {
  clock: "hours : minutes : seconds",
  blocks: "blocks of samples",
  bars: "bars and beats",
};
const formatWords = (format: TimeFormat) =>
  FORMAT_WORDS[format] ?? (/^\d/.test(format) ? `timecode ${format}` : format);
const NO_SECOND = "none";
const [LEAST_BLOCK, MOST_BLOCK] = [2, 1 << 20];

/** How times are told, and the tempo that bars are counted by. */
export function TimeMenu({ facts }: { facts: ItemFacts }) {
  const { timeFormat, secondTimeFormat, blockSamples, showGrid } = useLanes();
  const isInBlocks = timeFormat === "blocks" || secondTimeFormat === "blocks";
  return (
    <>
      <Setting label="times are told in">
        <Select
          label="Format of times"
          value={timeFormat}
          options={TIME_FORMATS as readonly TimeFormat[]}
          words={formatWords}
          onChange={(format) => useLanes.setState({ timeFormat: format })}
        />
      </Setting>
      <Setting label="playhead also in">
        <Select
          label="Other time format"
          value={secondTimeFormat ?? NO_SECOND}
          options={[NO_SECOND, ...(TIME_FORMATS as readonly TimeFormat[])] as const}
          words={(format) => (format === NO_SECOND ? "no other" : formatWords(format as TimeFormat))}
          onChange={(format) =>
            useLanes.setState({ secondTimeFormat: format === NO_SECOND ? null : (format as TimeFormat) })
          }
        />
      </Setting>
      {isInBlocks && (
        <div className="grid grid-cols-[1fr_96px] items-center gap-2 py-0.5 text-label">
          <span className="text-soft">samples of a block</span>
          <NumberInput
            label="Samples of a block"
            value={blockSamples}
            unit="smp"
            onCommit={(samples) =>
              useLanes.setState({ blockSamples: Math.max(LEAST_BLOCK, Math.min(MOST_BLOCK, Math.round(samples))) })
            }
          />
        </div>
      )}
      <CheckboxSetting
        label="lines of the ruler through all lanes"
        checked={showGrid}
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
      <CheckboxSetting label="markers and playhead" checked={snap.markers} onChange={(markers) => set({ markers })} />
      <CheckboxSetting label="lines of the ruler" checked={snap.grid} onChange={(grid) => set({ grid })} />
      <CheckboxSetting label="zero crossings, after the drag" checked={snap.zero} onChange={(zero) => set({ zero })} />
      <CheckboxSetting
        label="selections always begin and end on the ruler’s lines"
        checked={quantised}
        onChange={(on) => useLanes.setState({ quantised: on })}
      />
      <p className="mt-1 text-label text-soft">Alt while dragging: no snapping.</p>
    </>
  );
}
