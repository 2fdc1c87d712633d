"use client";

import { useEffect, useState } from "react";
import type { SelectionRegion } from "@ui/state/selection-region";
import { useWorkspace } from "./workspace-store";

const SETTLED_MS = 250;

/** The selection once it has not moved for a moment: what is worth measuring. */
export function useSettledSelection(): SelectionRegion | null {
  const selection = useWorkspace((workspace) => workspace.selection);
  const [settled, setSettled] = useState(selection);
  useEffect(() => {
    const timer = setTimeout(() => setSettled(selection), selection ? SETTLED_MS : 0);
    return () => clearTimeout(timer);
  }, [selection]);
  return selection && settled;
}
