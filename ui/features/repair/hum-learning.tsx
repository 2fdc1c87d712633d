"use client";

import { useMemo } from "react";
import type { RepairStep } from "@core/repair";
import { formatDb, formatHertz } from "@core/audio/format";
import { Button } from "@ui/design-system/button";
import { useCurrentItem, type ItemFacts } from "@ui/state/current-item";
import { itemFrame } from "@ui/state/item-time";
import { useSettledSelection } from "@ui/state/use-settled-selection";
import { useRangeFigures } from "@ui/state/use-range-figures";
import type { ChangeStep } from "./change-step";

/** Fewer harmonics than this are taken away only where the person says so. */
const LEAST_HARMONICS = 12;

/** The hum of the selection, measured as it was before this step: its fundamental and how far its harmonics reach. */
export function HumLearning({ step, facts, change }: { step: RepairStep; facts: ItemFacts; change: ChangeStep }) {
  const { item, source } = useCurrentItem();
  const selection = useSettledSelection();
  const range = useMemo(
    () => selection && { start: itemFrame(facts, selection.start), end: itemFrame(facts, selection.end) },
    [selection, facts],
  );
  const before = useMemo(
    () => ({
      repairs:
        item?.repairs.slice(
          0,
          item.repairs.findIndex(({ id }) => id === step.id),
        ) ?? [],
      clips: item?.clips ?? null,
    }),
    [item, step.id],
  );
  const figures = useRangeFigures(source, range, before)?.figures;
  const { humHz = null, humHarmonics = [], humAboveFloorDb = null } = figures ?? {};
  const learn = () => {
    const fundamentalHz = Number(humHz!.toFixed(2));
    const harmonics = Math.max(LEAST_HARMONICS, ...humHarmonics);
    change({ fundamentalHz, harmonics }, `learned, ${formatHertz(fundamentalHz)}`);
  };
  return (
    <div className="flex flex-wrap items-center gap-2 py-1">
      <Button disabled={humHz === null} onClick={learn} hint="Takes fundamental and harmonics from what is selected">
        Learn from the selection
      </Button>
      <span className="text-label text-soft" role="status">
        {!selection
          ? "Select a place where it hums and nothing else sounds, a second or more."
          : !figures
            ? "Listening to the selection …"
            : humHz === null
              ? "No mains hum stands out of the selection."
              : `${formatHertz(humHz)}, ${humHarmonics.length} harmonics ${formatDb(humAboveFloorDb)} dB above the floor.`}
      </span>
    </div>
  );
}
