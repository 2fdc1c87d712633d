"use client";

import { useMemo } from "react";
import type { RepairStep } from "@core/repair";
import { useDesk } from "./desk";
import { useInHand } from "./in-hand";

const NONE: RepairStep[] = [];

/** The item's repairs and those on trial, as they are heard. */
export function useRepairsHeard(): RepairStep[] {
  const { item } = useInHand();
  const trial = useDesk((desk) => desk.trial);
  const own = item?.repairs ?? NONE;
  return useMemo(() => (trial.length > 0 ? [...own, ...trial] : own), [own, trial]);
}
