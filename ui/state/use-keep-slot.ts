"use client";

import { useCallback } from "react";
import { toast } from "sonner";
import { blobUrl } from "@ui/api/api";
import { predictNow } from "@core/delivery/predict-chain";
import { useWorkspace } from "./workspace-store";
import type { CompareSlot } from "./monitor-source";
import { useCurrentItem } from "./current-item";

/** Gives the function that keeps what is heard of the item, original or now, in a slot. */
export function useKeepSlot(): (slot: 0 | 1) => void {
  const { facts, chain, view } = useCurrentItem();
  return useCallback(
    (slot) => {
      if (!facts?.source.pcm_hash) return;
      const { monitorSource, slots } = useWorkspace.getState();
      const kept = monitorSource === "original" ? [] : chain;
      const repairs = monitorSource === "original" ? [] : facts.item.repairs;
      const active = kept.filter(({ bypass }) => !bypass).length;
      const state: CompareSlot = {
        label: `${facts.item.name} · ${monitorSource === "original" ? "original" : `state ${view.states}, ${active} in the chain`}`,
        url: blobUrl(facts.source.pcm_hash),
        repairs,
        clips: facts.item.clips ?? null,
        chain: kept,
        lufs:
          active === 0
            ? monitorSource === "original"
              ? facts.originalLufs
              : facts.figures.integratedLufs
            : (predictNow(facts.figures, facts.curves, kept, facts.knownLevels).integratedLufs ?? null),
      };
      useWorkspace.setState({ slots: slot === 0 ? [state, slots[1]] : [slots[0], state], blind: null });
      toast(`Slot ${slot + 1}: ${state.label}`);
    },
    [facts, chain, view.states],
  );
}
