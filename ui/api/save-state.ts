"use client";

/** Whether what was done to projects is saved: how many edits are on their way, and why they are not taken yet. */
import { useEffect } from "react";
import { create } from "zustand";

interface Saving {
  /** Edits that the server has not answered, by project. */
  pending: Record<string, number>;
  /** Why the server did not take them yet; `null` where all goes well. */
  problem: string | null;
}

export const useSaveState = create<Saving>(() => ({ pending: {}, problem: null }));

const change = (project: string, by: number) =>
  useSaveState.setState(({ pending }) => ({ pending: { ...pending, [project]: (pending[project] ?? 0) + by } }));

/** Counts an edit as long as it is on its way. */
export async function whileSaving<Result>(project: string, work: () => Promise<Result>): Promise<Result> {
  change(project, 1);
  try {
    return await work();
  } finally {
    change(project, -1);
  }
}

export const setUnanswered = (problem: string | null): void => useSaveState.setState({ problem });

/** Asks before the page is left with edits that the server has not taken. */
export function useWarningBeforeLeaving(project: string): void {
  const unsaved = useSaveState(({ pending }) => (pending[project] ?? 0) > 0);
  useEffect(() => {
    if (!unsaved) return;
    const ask = (event: BeforeUnloadEvent) => event.preventDefault();
    addEventListener("beforeunload", ask);
    return () => removeEventListener("beforeunload", ask);
  }, [unsaved]);
}
