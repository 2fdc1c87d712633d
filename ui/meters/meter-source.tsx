"use client";

import { createContext, useContext } from "react";
import { useFrames, type Heard } from "@ui/state/use-frames";
import type { Speaker } from "@core/audio/layout";
import type { DeliverySpec } from "@core/delivery/spec";
import type { LevelScheme } from "./arrangement";

/** Where meters read: the engine of this window, or of the one that opened it. */
export interface MeterSource extends Heard {
  speakers: readonly Speaker[];
  sampleRate: number;
  spec: DeliverySpec | null;
  scale: "LUFS" | "LU";
  scheme: LevelScheme | undefined;
  /** A frame of the item's source, as time in words. */
  words: (frame: number) => string;
  goTo: (frame: number) => void;
  reset: () => void;
}

const Context = createContext<MeterSource | null>(null);
export const MeterSourceProvider = Context.Provider;

export function useMeterSource(): MeterSource {
  const source = useContext(Context);
  if (!source) throw new Error("outside of a column of meters");
  return source;
}

/** Figures change no more often than this: sooner, nobody could read them. */
export const FIGURES_EVERY_MS = 100;

/** Draws by frames while something is heard, as `useFrames` does, by the source of the meters. */
export const useMeterFrames = (draw: () => void, everyMs = 0): (() => void) =>
  useFrames(useMeterSource(), draw, everyMs);

/** Texts for readers of the screen change no more often than this. */
export const SPOKEN_EVERY_MS = 1000;
