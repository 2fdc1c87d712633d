/** Figures of a programme as a spec measures them that takes loudness from a fold-down. */
import type { Figures } from "../measure";
import type { LimitedFigures } from "./compliance";

/** What is measured on the fold-down; peaks and floor stay those of the programme. */
export const FOLDED_FIGURES = ["integratedLufs", "momentaryMaxLufs", "shortTermMaxLufs", "loudnessRangeLu"] as const;
export type FoldedFigures = Pick<Figures, (typeof FOLDED_FIGURES)[number]>;

/** How a recording's figures differ once it is folded down. */
export type FoldChange = Partial<Record<(typeof FOLDED_FIGURES)[number], number>>;

export function foldChange(programme: FoldedFigures, folded: FoldedFigures): FoldChange {
  const change: FoldChange = {};
  for (const figure of FOLDED_FIGURES) {
    const [before, after] = [programme[figure], folded[figure]];
    if (before !== null && after !== null) change[figure] = after - before;
  }
  return change;
}

/** Figures with the change that folding down makes: what processing does to all channels alike it does to their fold-down. */
export function onFoldDown<Given extends LimitedFigures>(figures: Given, change: FoldChange): Given {
  const folded = { ...figures };
  for (const figure of FOLDED_FIGURES) {
    const [value, by] = [figures[figure], change[figure]];
    if (typeof value === "number" && by !== undefined) folded[figure] = value + by;
  }
  return folded;
}
