"use client";

import { useMemo } from "react";
import type { Figures } from "@core/measure";
import { formatDb } from "@core/audio/format";
import type { ItemFacts } from "@ui/state/current-item";
import { useRangeFigures } from "@ui/state/use-range-figures";

/** Sides that differ by less are as good as each other. */
const LEAST_DB = 0.5;

/** How far the wanted sound stands above what lies under it. */
const aboveFloor = ({ rmsDbfs, noiseFloorDbfs }: Figures): number => (rmsDbfs ?? -120) - (noiseFloorDbfs ?? -120);

/** Which of two sides is better, measured: fewer clipped runs, or else the one that stands further above its floor. */
export function betterChannel(sides: readonly [Figures, Figures], labels: readonly string[]) {
  const clipped = sides.map(({ clippedRuns }) => clippedRuns.count) as [number, number];
  if (clipped[0] !== clipped[1]) {
    const channel = clipped[0] < clipped[1] ? 0 : 1;
    return {
      channel,
      words: `${labels[channel]} is the better side: ${clipped[channel]} clipped runs against ${clipped[1 - channel]}.`,
    };
  }
  const [left, right] = [aboveFloor(sides[0]), aboveFloor(sides[1])];
  if (Math.abs(left - right) < LEAST_DB) return null;
  const channel = left > right ? 0 : 1;
  return {
    channel,
    words: `${labels[channel]} is the better side: it stands ${formatDb(Math.abs(left - right))} dB further above its floor.`,
  };
}

/** The better of an item's two sides, once both are measured; `null` where neither is, or there are no two. */
export function useBetterChannel({ item, source, editList }: ItemFacts) {
  const labels = useMemo(() => source.layout?.speakers.map(({ label }) => label) ?? [], [source.layout]);
  const range = useMemo(() => (labels.length === 2 ? { start: 0, end: editList.frames } : null), [labels, editList]);
  const left = useRangeFigures(source, range, item, { channels: [0] });
  const right = useRangeFigures(source, range, item, { channels: [1] });
  return useMemo(
    () => (left && right ? betterChannel([left.figures, right.figures], labels) : null),
    [left, right, labels],
  );
}
