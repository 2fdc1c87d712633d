"use client";

import { newRepairStep, type RepairStep } from "@core/repair";
import type { Region } from "@core/repair/time-frequency-region";
import { useDesk } from "@ui/state/workspace-store";
import { useInHand } from "@ui/state/current-item";
import { newId } from "@ui/api/use-project";

/** Gives the function that adds a step to the item and takes it in hand. */
export function useAddStep(): (type: string, where: Region[], settings?: Partial<RepairStep>) => void {
  const { item, edit } = useInHand();
  return (type, regions, settings = {}) => {
    if (!item) return;
    const id = newId();
    void edit({ type: "addRepairs", item: item.id, steps: [{ ...newRepairStep(type, id), ...settings, regions }] });
    useDesk.setState({ step: id });
  };
}
