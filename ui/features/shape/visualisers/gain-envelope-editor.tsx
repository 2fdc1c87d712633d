"use client";

import { Select } from "@ui/design-system/controls";
import { useState } from "react";
import type { Breakpoint } from "@core/parameters/parameter";
import { envelopeAt } from "@core/parameters/breakpoints";
import { levelsAfter } from "@core/delivery/predict-chain";
import { counted, formatDb } from "@core/audio/format";
import { RecordingOverview } from "@ui/state/recording-overview";
import { blobUrl } from "@ui/api/api";
import { Button } from "@ui/design-system/button";
import { useCurrentItem } from "@ui/state/current-item";
import type { VisualiserProps } from "./visualiser-props";
import { BreakpointPlot } from "./breakpoint-plot";
import { AddBreakpoint, BreakpointList } from "./breakpoint-list";

const GAIN_RANGE = { min: -60, max: 24, unit: "dB" };

/** The line of a leveller or a ducker over the loudness of the item: worked out, and drawn over point by point. */
export function GainEnvelopeEditor({ inHand, visualiser }: VisualiserProps<"gain envelope">) {
  const { facts, chain, view } = useCurrentItem();
  const line = inHand.settings["line"] as Breakpoint[];
  const at = chain.findIndex(({ id }) => id === inHand.entry.id);
  const [other, setOther] = useState("");
  if (!facts)
    return (
      <p className="p-3 text-label text-soft">
        Its line is worked out from an item and drawn over it. Of a lane, draw the gain line on the map.
      </p>
    );
  const before = levelsAfter(facts.figures, facts.curves, chain.slice(0, Math.max(0, at)), facts.knownLevels);
  const reach = Math.max(6, ...line.map(([, db]) => Math.abs(db) + 1));
  const ruler = {
    toShare: (db: number) => (1 + db / reach) / 2,
    fromShare: (share: number) =>
      Number(Math.max(GAIN_RANGE.min, Math.min(GAIN_RANGE.max, reach * (2 * share - 1))).toFixed(1)),
  };
  const commit = (next: Breakpoint[]) => void inHand.commit("line", next);
  const ofAnother = visualiser.of === "another item";

  const workOut = async () => {
    if (!ofAnother) return inHand.commit("line", visualiser.envelope(before.momentaryLufs, inHand.settings));
    const item = view.document.items.find(({ id }) => id === other);
    const source = view.sources.find(({ hash }) => hash === item?.source);
    if (!source?.overview_hash) return;
    const data = await RecordingOverview.open(blobUrl(source.overview_hash), blobUrl(source.pcm_hash!), () => {});
    const { momentaryLufs } = data.curves;
    return inHand.commit("line", visualiser.envelope(momentaryLufs.values, inHand.settings));
  };
  const others = view.document.items.filter(({ id }) => id !== facts.item.id);
  return (
    <div className="flex h-full flex-col px-3 py-2">
      <div className="flex flex-wrap items-center gap-2 pb-1">
        {ofAnother && (
          <Select
            label="Goes down while this item sounds"
            value={other}
            options={["", ...others.map(({ id }) => id)]}
            words={(id) => others.find((one) => one.id === id)?.name ?? "while which item sounds?"}
            onChange={setOther}
            className="h-7"
          />
        )}
        <Button
          kind={line.length === 0 ? "main" : "plain"}
          disabled={ofAnother && other === ""}
          onClick={() => void workOut()}
        >
          {line.length === 0 ? "Work out the line" : "Work it out anew"}
        </Button>
        <AddBreakpoint line={line} valueAt={(seconds) => envelopeAt(line, seconds)} onCommit={commit} />
        <Button disabled={line.length === 0} onClick={() => commit([])}>
          No line
        </Button>
        <span className="text-label text-soft">
          {line.length === 0
            ? "No line yet: nothing is changed."
            : `${counted(line.length, "point")}, ${formatDb(Math.min(...line.map(([, db]) => db)), { sign: true })} to ${formatDb(Math.max(...line.map(([, db]) => db)), { sign: true })} dB. Drag points, click for new ones, Alt click takes one away.`}
        </span>
      </div>
      <BreakpointPlot
        label="Gain envelope"
        line={line}
        ruler={ruler}
        resting={0}
        facts={facts}
        momentaryLufs={before.momentaryLufs}
        words={`grey: momentary loudness before it · blue: gain, ±${reach.toFixed(0)} dB`}
        onMove={(next) => inHand.setPending("line", next)}
        onCommit={commit}
      />
      <BreakpointList line={line} range={GAIN_RANGE} onCommit={commit} />
    </div>
  );
}
