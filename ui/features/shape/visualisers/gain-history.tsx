"use client";

import { useMemo } from "react";
import { levelsAfter, predictChain } from "@core/delivery/predict-chain";
import { processorNamed } from "@core/processors";
import { formatDb, formatTime } from "@core/audio/format";
import { useWorkspace } from "@ui/state/workspace-store";
import { useCurrentItem } from "@ui/state/current-item";
import type { EntryEditing } from "./use-entry";

const HEIGHT = 64;
const WIDTH = 600;
const ESTIMATE_HOP = 0.1;
/** Less than this is not counted as taking off. */
const WORKS_DB = 0.1;

interface History {
  measured: boolean;
  hopSeconds: number;
  /** Of each band, or of the whole; dB ≥ 0. */
  rows: Float32Array[];
}

/** What a processor takes off over the item: measured once the chain stands still, estimated from its levels before. */
export function useGainHistory(entryId: string | undefined): History | null {
  const { facts, chain, reductions } = useCurrentItem();
  const at = chain.findIndex(({ id }) => id === entryId);
  const measured = entryId ? reductions?.of[entryId] : undefined;
  return useMemo(() => {
    if (!facts || at < 0) return null;
    if (measured && reductions) return { measured: true, hopSeconds: reductions.hopSeconds, rows: measured };
    const before = levelsAfter(facts.figures, facts.curves, chain.slice(0, at), facts.knownLevels);
    const after = predictChain(before, [{ ...chain[at]!, bypass: false }]);
    const cut = before.peakDb.map((peak, i) => (Number.isFinite(peak) ? Math.max(0, peak - after.peakDb[i]!) : 0));
    return { measured: false, hopSeconds: ESTIMATE_HOP, rows: [cut] };
  }, [facts, chain, at, measured, reductions]);
}

/** What a processor takes off over the part of the item that is in view. */
export function GainHistory({ inHand }: { inHand: EntryEditing }) {
  const history = useGainHistory(inHand.entry.id);
  if (!history) return null;
  const { rows, measured } = history;
  const names = processorNamed(inHand.entry.type).reductionNames?.(inHand.settings) ?? [];
  return (
    <div>
      {rows.map((row, band) => (
        <HistoryRow
          key={band}
          row={row}
          hopSeconds={history.hopSeconds}
          how={measured ? "measured" : "estimated"}
          name={rows.length > 1 ? (names[band] ?? "") : ""}
        />
      ))}
    </div>
  );
}

function HistoryRow({
  row,
  hopSeconds,
  how,
  name,
}: {
  row: Float32Array;
  hopSeconds: number;
  how: string;
  name: string;
}) {
  const { facts } = useCurrentItem();
  const window_ = useWorkspace((workspace) => workspace.view);
  if (!facts) return null;
  const [from, to] = window_ ? [window_.start, window_.end] : [0, facts.duration];
  const first = Math.floor(from / hopSeconds);
  const shown = row.subarray(first, Math.ceil(to / hopSeconds));
  const [most, at] = deepestOf(shown);
  const scale = Math.max(3, most);
  const step = WIDTH / Math.max(1, shown.length);
  // No more bars than can be told apart: of those that share a place, the deepest.
  const bars = new Map<number, number>();
  shown.forEach((db, n) => {
    const x = Math.floor(n * step);
    bars.set(x, Math.max(bars.get(x) ?? 0, db));
  });
  const working = shown.filter((db) => db >= WORKS_DB).length / Math.max(1, shown.length);
  const height = name ? HEIGHT / 2 : HEIGHT;
  return (
    <figure className="w-full">
      <svg
        role="img"
        aria-label={`${name ? `Gain reduction of ${name}` : "Gain reduction"}, ${how}, up to ${most.toFixed(1)} dB`}
        viewBox={`0 0 ${WIDTH} ${height}`}
        preserveAspectRatio="none"
        className={`w-full ${name ? "h-8" : "h-16"}`}
      >
        {[...bars].map(([x, db]) => (
          <rect key={x} x={x} y={0} width={Math.max(1, step)} height={(height * db) / scale} fill="var(--peak)" />
        ))}
      </svg>
      <figcaption className="figure flex flex-wrap justify-between gap-x-3 text-label text-soft">
        <span>
          {name && `${name}: `}taken off in view, {how}
        </span>
        <span>
          {most < WORKS_DB
            ? how === "measured"
              ? "nothing"
              : "measured once the chain stands still"
            : `up to ${formatDb(-most)} dB, at ${formatTime((at + first) * hopSeconds, 1)} · at work ${percent(working)} of it`}
        </span>
      </figcaption>
    </figure>
  );
}

const percent = (share: number): string => (share < 0.01 ? "under 1 %" : `${Math.round(100 * share)} %`);

function deepestOf(row: Float32Array): [number, number] {
  let [most, at] = [0, 0];
  row.forEach((db, i) => {
    if (db > most) [most, at] = [db, i];
  });
  return [most, at];
}
