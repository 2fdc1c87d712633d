"use client";

import { useMemo } from "react";
import type { Curves, Figures } from "@core/measure";
import { useCurrentItem, type ItemFacts } from "@ui/state/current-item";
import { itemFrame } from "@ui/state/item-time";
import { useSettledSelection } from "@ui/state/use-settled-selection";
import { useRangeFigures } from "@ui/state/use-range-figures";

/** What Inspect shows the figures of: the selection where there is one, else the whole item. */
export interface MeasuredRange {
  figures: Figures;
  curves: Curves;
  /** Where it begins, in seconds of the item. */
  offset: number;
  /** What it is, in words. */
  words: string;
}

export function useMeasured(facts: ItemFacts): MeasuredRange {
  const { source } = useCurrentItem();
  const selection = useSettledSelection();
  const range = useMemo(
    () =>
      selection && {
        start: itemFrame(facts, selection.start),
        end: itemFrame(facts, selection.end),
      },
    [selection, facts],
  );
  const ofSelection = useRangeFigures(source, range, facts.item);
  return useMemo(() => {
    const { figures, curves } = facts;
    if (selection && ofSelection) {
      const length = (selection.end - selection.start).toFixed(2);
      return { ...ofSelection, offset: selection.start, words: `selection, ${length} s, as it came` };
    }
    if (selection) return { figures, curves, offset: 0, words: "measuring the selection …" };
    return {
      figures,
      curves,
      offset: 0,
      words: facts.estimated ? "whole item, being measured" : "whole item, as it came",
    };
  }, [facts, selection, ofSelection]);
}
