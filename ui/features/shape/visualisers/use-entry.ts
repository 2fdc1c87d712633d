"use client";

import { create } from "zustand";
import { chainOf } from "@core/project/chain-owners";
import { settingsOf, type ChainEntry } from "@core/processors";
import type { Setting } from "@core/parameters/parameter";
import { useWorkspace } from "@ui/state/workspace-store";
import { useCurrentItem } from "@ui/state/current-item";

type Settings = Record<string, Setting>;

/** A processor's settings and the lines of those that move over time. */
interface OwnState {
  settings: Settings;
  automation: NonNullable<ChainEntry["automation"]>;
}

/** States of processors that can be gone back to, each for itself: apart from the history of the project. */
interface OwnHistory {
  back: OwnState[];
  forth: OwnState[];
}

const useHistories = create<{ of: Record<string, OwnHistory> }>(() => ({ of: {} }));
const NOTHING: OwnHistory = { back: [], forth: [] };
/** Further back than this nobody goes. */
const MOST_STATES = 100;

const keep = (id: string, history: OwnHistory) => useHistories.setState(({ of }) => ({ of: { ...of, [id]: history } }));

/** Settings of a processor in hand, and all the ways to change them. */
export interface EntryEditing {
  entry: ChainEntry;
  /** Whose chain it is in: see `chainOf`. */
  owner: string;
  /** With the one that is being moved. */
  settings: Settings;
  /** Heard and predicted, not kept yet. */
  setPending: (parameter: string, setting: Setting) => void;
  commit: (parameter: string, setting: Setting) => Promise<void>;
  commitAll: (settings: Settings, what: string) => Promise<void>;
  /** The line of a setting that moves over time; empty for none. */
  commitLine: (parameter: string, line: [number, number][]) => Promise<void>;
  undo: (() => void) | null;
  redo: (() => void) | null;
}

export function useEntry(entry: ChainEntry, owner: string): EntryEditing {
  const { edit, view } = useCurrentItem();
  const id = entry.id ?? "";
  const history = useHistories(({ of }) => of[id]) ?? NOTHING;
  const stored = chainOf(view.document, owner)?.find((one) => one.id === id);
  const of = stored ?? entry;
  const kept: OwnState = { settings: settingsOf(of), automation: of.automation ?? {} };
  const remember = () => keep(id, { back: [...history.back, kept].slice(-MOST_STATES), forth: [] });
  const fields = { item: owner, entry: id };

  const commitAll = async (settings: Settings, what: string) => {
    remember();
    const done = edit({ type: "setSettings", ...fields, settings, what });
    useWorkspace.setState({ pendingParameter: null });
    await done;
  };
  const commit = async (parameter: string, setting: Setting) => {
    const same = JSON.stringify(kept.settings[parameter]) === JSON.stringify(setting);
    if (!same) remember();
    const done = same ? Promise.resolve() : edit({ type: "setParameter", ...fields, parameter, setting });
    useWorkspace.setState({ pendingParameter: null });
    await done;
  };
  const commitLine = (parameter: string, line: [number, number][]) => {
    remember();
    return edit({ type: "setLine", ...fields, parameter, line });
  };
  const goTo = (state: OwnState, next: OwnHistory, what: string) => () => {
    keep(id, next);
    const moves = JSON.stringify(state.automation) !== JSON.stringify(kept.automation);
    const automation = moves ? { automation: state.automation } : {};
    void edit({ type: "setSettings", ...fields, settings: state.settings, ...automation, what });
  };
  const [before, after] = [history.back.at(-1), history.forth.at(-1)];
  return {
    entry,
    owner,
    settings: settingsOf(entry),
    setPending: (parameter, setting) => useWorkspace.setState({ pendingParameter: { entry: id, parameter, setting } }),
    commit,
    commitAll,
    commitLine,
    undo: before
      ? goTo(before, { back: history.back.slice(0, -1), forth: [...history.forth, kept] }, "settings of before")
      : null,
    redo: after
      ? goTo(after, { back: [...history.back, kept], forth: history.forth.slice(0, -1) }, "settings once more")
      : null,
  };
}
