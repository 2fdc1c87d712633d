"use client";

import { useMemo } from "react";
import type { MasterFormat } from "@core/delivery/recipe";
import type { Item } from "@core/project/document";
import { itemSound } from "@core/project/item-render-inputs";
import { itemInMix } from "@core/project/mixes";
import { knownRecordings, type ProjectView } from "@core/project/views";
import { encodingKey, hasOvershoot, type MeasuredOvershoot } from "@core/project/wanted-overshoots";

/** What encoding as a format adds to an item's peaks; `null` where nothing is lost, or nothing known. */
export type OvershootOf = (item: Item, format: MasterFormat, mix?: string) => MeasuredOvershoot | null;

/** What the server measured of the project's items, as they are stored. */
export function useOvershoots({ document, sources, overshoots }: ProjectView): OvershootOf {
  return useMemo(() => {
    const known = knownRecordings(sources);
    const measured = new Map(overshoots.map((one) => [`${one.hash} ${one.encoding}`, one]));
    return (item, format, mix) => {
      if (measured.size === 0 || !hasOvershoot(format)) return null;
      const sound = itemSound(document, itemInMix(item, mix, known), known);
      return (sound && measured.get(`${sound.hash} ${encodingKey(format)}`)) ?? null;
    };
  }, [document, sources, overshoots]);
}
