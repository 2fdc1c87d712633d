"use client";

import { useEffect } from "react";
import { create } from "zustand";

type Sheet = "light" | "dark";
const KEY = "resonum.sheet";

/** The light sheet, or the dark one for dark rooms. Remembered by the browser. */
export const useSheet = create<{ sheet: Sheet; toggle: () => void; set: (sheet: Sheet) => void }>((set, get) => ({
  sheet: "light",
  set: (sheet) => {
    document.documentElement.dataset.sheet = sheet;
    localStorage.setItem(KEY, sheet);
    set({ sheet });
  },
  toggle: () => get().set(get().sheet === "light" ? "dark" : "light"),
}));

export function SheetChoice() {
  const set = useSheet((state) => state.set);
  useEffect(() => {
    const kept = localStorage.getItem(KEY);
    if (kept === "light" || kept === "dark") set(kept);
  }, [set]);
  return null;
}
