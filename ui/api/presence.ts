import { create } from "zustand";
import { withPresence, type Others, type Presence } from "@core/people/presence";

interface PresenceState {
  others: Others;
  /** The page whose view this one goes along with. */
  followed: string | null;
  /** How often somebody asked where this page is. */
  asked: number;
}

/** Who else is in the project that is open, as their pages tell. */
export const usePresence = create<PresenceState>(() => ({ others: {}, followed: null, asked: 0 }));

/** This page among those of the project. */
export const PAGE = typeof crypto === "undefined" ? "" : crypto.randomUUID();

/** Takes what a page has told of itself. */
export function receivePresence(presence: Presence): void {
  if (presence.page === PAGE) return;
  usePresence.setState(({ others, followed, asked }) => ({
    others: withPresence(others, presence, Date.now()),
    followed: presence.leaves && followed === presence.page ? null : followed,
    asked: presence.asks ? asked + 1 : asked,
  }));
}
