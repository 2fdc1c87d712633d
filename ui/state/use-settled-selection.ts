"use client";

import { useEffect, useState } from "react";
import type { Region } from "@ui/state/selection-region";
import { useDesk } from "./workspace-store";

const SETTLED_MS = 250;

/** The selection once it has not moved for a moment: what is worth measuring. */
export function useSettledSelection(): Region | null {
  const selection = useDesk((desk) => desk.selection);
  const [settled, setSettled] = useState(selection);
  useEffect(() => {
    const timer = setTimeout(() => setSettled(selection), selection ? SETTLED_MS : 0);
    return () => clearTimeout(timer);
  }, [selection]);
  return selection && settled;
}
