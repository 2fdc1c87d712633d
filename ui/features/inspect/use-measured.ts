"use client";

import { useMemo } from "react";
import type { Curves, Figures } from "@core/measure";
import { useInHand, type ItemFacts } from "@ui/state/current-item";
import { itemFrame } from "@ui/state/item-time";
import { useSettledSelection } from "@ui/state/use-settled-selection";
import { useStretchFigures } from "@ui/state/use-range-figures";

/** What Inspect shows the figures of: the selection where there is one, else the whole item. */
export interface MeasuredStretch {
  figures: Figures;
  curves: Curves;
  /** Where it begins, in seconds of the item. */
  offset: number;
  /** What it is, in words. */
  words: string;
}

export function useMeasured(facts: ItemFacts): MeasuredStretch {
  const { source } = useInHand();
  const selection = useSettledSelection();
  const range = useMemo(
    () =>
      selection && {
        start: itemFrame(facts, selection.start),
        end: itemFrame(facts, selection.end),
      },
    [selection, facts],
  );
  const ofSelection = useStretchFigures(source, range, facts.item);
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
