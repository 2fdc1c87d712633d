/** Which items, repairs and recordings are picked, to be worked on together. */
import { useMemo, type KeyboardEvent } from "react";
import { create } from "zustand";

export const PICKABLE = ["items", "repairs", "recordings"] as const;
export type Pickable = (typeof PICKABLE)[number];

export interface Picked {
  ids: readonly string[];
  /** The one that a stretch is counted from. */
  anchor: string | null;
}

const NOTHING: Picked = { ids: [], anchor: null };

export const usePicked = create<Record<Pickable, Picked>>(() => ({
  items: NOTHING,
  repairs: NOTHING,
  recordings: NOTHING,
}));

/** Ctrl, or the command key, adds one or takes it out; Shift picks all from the last one to it. */
export interface PickKeys {
  ctrlKey: boolean;
  metaKey: boolean;
  shiftKey: boolean;
}

/** What is picked after one was clicked. @param order of all that can be picked, as it is shown */
export function pickedAfter(now: Picked, id: string, order: readonly string[], keys: PickKeys): Picked {
  if (keys.shiftKey) {
    const from = order.indexOf(now.anchor ?? id);
    const to = order.indexOf(id);
    if (from < 0 || to < 0) return { ids: [id], anchor: id };
    return { ids: order.slice(Math.min(from, to), Math.max(from, to) + 1), anchor: order[from]! };
  }
  if (keys.ctrlKey || keys.metaKey) {
    const others = now.ids.filter((one) => one !== id);
    // The first click with a key means the one in hand as well.
    const before = now.ids.length === 0 && now.anchor !== null && now.anchor !== id ? [now.anchor] : others;
    const ids = now.ids.includes(id) ? others : [...before, id];
    return { ids: order.filter((one) => ids.includes(one)), anchor: id };
  }
  return { ids: [], anchor: id };
}

/** Whether a click was meant to pick. */
export const isPick = ({ ctrlKey, metaKey, shiftKey }: PickKeys): boolean => ctrlKey || metaKey || shiftKey;

export const pick = (kind: Pickable, id: string, order: readonly string[], keys: PickKeys): void =>
  usePicked.setState((now) => ({ [kind]: pickedAfter(now[kind], id, order, keys) }));

/** Ctrl or Shift with Enter picks as a click does; other keys are left. */
export const pickByEnter =
  (kind: Pickable, id: string, order: readonly string[]) =>
  (event: KeyboardEvent): boolean => {
    if (event.key !== "Enter" || !isPick(event)) return false;
    event.preventDefault();
    pick(kind, id, order, event);
    return true;
  };

export const pickAll = (kind: Pickable, order: readonly string[]): void =>
  usePicked.setState({ [kind]: { ids: order, anchor: order[0] ?? null } });

export const pickNothing = (kind: Pickable): void =>
  usePicked.setState((now) => ({ [kind]: { ids: [], anchor: now[kind].anchor } }));

const NONE: readonly string[] = [];

/** Those that are picked and still there, in their order; nothing where there are fewer than two. */
export function usePickedOf(kind: Pickable, order: readonly string[]): readonly string[] {
  const ids = usePicked((now) => now[kind].ids);
  return useMemo(() => {
    if (ids.length < 2) return NONE;
    const there = order.filter((id) => ids.includes(id));
    return there.length > 1 ? there : NONE;
  }, [ids, order]);
}
