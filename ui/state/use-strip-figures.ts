"use client";

import { useMemo } from "react";
import type { LimitedFigures } from "@core/delivery/compliance";
import { deliverableInForce } from "@core/project/document";
import { onFoldDown } from "@core/delivery/on-fold-down";
import { useCurrentItem } from "./current-item";
import { useFoldChanges } from "./use-fold-changes";

export interface StripFigures {
  /** Of the item after its chain, on what the spec in force measures; `null` while there are none. */
  figures: LimitedFigures | null;
  /** The fold-down that they are of, or that is being measured; `null` for the programme itself. */
  fold: { layout: string; isMeasured: boolean } | null;
}

/** The figures of the item in hand as the deliverable in force measures them: on a fold-down where its spec says so. */
export function useStripFigures(): StripFigures {
  const { view, chainFigures, source, spec } = useCurrentItem();
  const measuredOn = spec?.measuredOn ?? "programme";
  const isFolded = measuredOn !== "programme" && source !== null;
  const asked = useMemo(
    () =>
      isFolded
        ? {
            document: {
              ...view.document,
              deliverables: [deliverableInForce(view.document) ?? []].flat(),
            },
            sources: view.sources.filter(({ hash }) => hash === source.hash),
          }
        : { document: { ...view.document, deliverables: [] }, sources: [] },
    [isFolded, view, source],
  );
  const changeOf = useFoldChanges(asked, isFolded);
  const change = isFolded ? changeOf(source.hash, measuredOn) : null;
  return useMemo(() => {
    if (!isFolded || !chainFigures) return { figures: chainFigures, fold: null };
    // A recording that has no more channels than the fold is measured as it is.
    if (change && Object.keys(change).length === 0) return { figures: chainFigures, fold: null };
    return {
      figures: change ? onFoldDown(chainFigures, change) : chainFigures,
      fold: { layout: measuredOn, isMeasured: change !== null },
    };
  }, [isFolded, chainFigures, change, measuredOn]);
}
