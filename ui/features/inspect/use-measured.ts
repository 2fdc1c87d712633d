"use client";

import { useMemo } from "react";
import type { Speaker } from "@core/audio/layout";
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

/** The whole item with the LFE counted as any other channel, for its pairs; `null` while it is not wanted, or measured. */
export function useMeasuredWithLfe(facts: ItemFacts, speakers: Speaker[], wanted: boolean): MeasuredRange | null {
  const { source } = useCurrentItem();
  const range = useMemo(() => ({ start: 0, end: facts.editList.frames }), [facts.editList]);
  const full = useMemo(
    () => source && { ...source, layout: { name: `${source.layout?.name ?? ""}, LFE counted`, title: "", speakers } },
    [source, speakers],
  );
  const measured = useRangeFigures(full, range, facts.item, {}, wanted);
  return useMemo(() => measured && { ...measured, offset: 0, words: "whole item" }, [measured]);
}

/** The same of some channels alone; `null` while it is measured, and where no channels are picked. */
export function useMeasuredChannels(facts: ItemFacts, channels: readonly number[] | null): MeasuredRange | null {
  const { source } = useCurrentItem();
  const selection = useSettledSelection();
  const range = useMemo(
    () =>
      channels &&
      (selection
        ? { start: itemFrame(facts, selection.start), end: itemFrame(facts, selection.end) }
        : { start: 0, end: facts.editList.frames }),
    [channels, selection, facts],
  );
  const part = useMemo(() => ({ channels: channels ?? undefined }), [channels]);
  const measured = useRangeFigures(source, range, facts.item, part);
  return useMemo(
    () => measured && { ...measured, offset: selection?.start ?? 0, words: selection ? "selection" : "whole item" },
    [measured, selection],
  );
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
