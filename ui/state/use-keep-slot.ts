"use client";

import { useCallback } from "react";
import { toast } from "sonner";
import { blobUrl } from "@ui/api/api";
import { predictNow } from "@core/delivery/predict-chain";
import { useDesk } from "./workspace-store";
import type { Slot } from "./monitor-source";
import { useInHand } from "./current-item";

/** Gives the function that keeps what is heard of the item, original or now, in a slot. */
export function useKeepSlot(): (slot: 0 | 1) => void {
  const { facts, chain, view } = useInHand();
  return useCallback(
    (slot) => {
      if (!facts?.source.pcm_hash) return;
      const { heard, slots } = useDesk.getState();
      const kept = heard === "original" ? [] : chain;
      const repairs = heard === "original" ? [] : facts.item.repairs;
      const active = kept.filter(({ bypass }) => !bypass).length;
      const state: Slot = {
        words: `${facts.item.name} · ${heard === "original" ? "original" : `state ${view.states}, ${active} in the chain`}`,
        url: blobUrl(facts.source.pcm_hash),
        repairs,
        clips: facts.item.clips ?? null,
        chain: kept,
        lufs:
          active === 0
            ? heard === "original"
              ? facts.originalLufs
              : facts.figures.integratedLufs
            : (predictNow(facts.figures, facts.curves, kept, facts.known).integratedLufs ?? null),
      };
      useDesk.setState({ slots: slot === 0 ? [state, slots[1]] : [slots[0], state], blind: null });
      toast(`Slot ${slot + 1}: ${state.words}`);
    },
    [facts, chain, view.states],
  );
}
