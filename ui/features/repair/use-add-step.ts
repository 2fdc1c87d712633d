"use client";

import { newRepairStep, type RepairStep } from "@core/repair";
import type { Region } from "@core/repair/time-frequency-region";
import { useWorkspace } from "@ui/state/workspace-store";
import { useCurrentItem } from "@ui/state/current-item";
import { newId } from "@ui/api/use-project";

/** Gives the function that adds a step to the item and takes it in hand. */
export function useAddStep(): (type: string, where: Region[], settings?: Partial<RepairStep>) => void {
  const { item, edit } = useCurrentItem();
  return (type, regions, settings = {}) => {
    if (!item) return;
    const id = newId();
    void edit({ type: "addRepairs", item: item.id, steps: [{ ...newRepairStep(type, id), ...settings, regions }] });
    useWorkspace.setState({ step: id });
  };
}
