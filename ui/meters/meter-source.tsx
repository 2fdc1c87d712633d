"use client";

import { createContext, useContext, useEffect, useRef } from "react";
import type { Ring } from "@playback/ring";
import type { Speaker } from "@core/audio/layout";
import type { DeliverySpec } from "@core/delivery/spec";
import type { LevelScheme } from "./arrangement";

/** Where meters read: the engine of this window, or of the one that opened it. */
export interface MeterSource {
  ring: () => Ring | undefined;
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

/** Meters fall back and holds run out for so long after the sound has stopped. */
const SETTLE_MS = 3000;
/** At rest, so long passes between two drawings: what is set or reset then shows at once all the same. */
const REST_MS = 160;

/** Figures change no more often than this: sooner, nobody could read them. */
export const FIGURES_EVERY_MS = 100;

/**
 * Draws by frames, outside of React, while the page is seen: each frame while something is heard, seldom at rest.
 * @param everyMs at least so long passes between two drawings
 */
export function useFrames(draw: () => void, everyMs = 0): void {
  const { ring } = useMeterSource();
  const latest = useRef(draw);
  useEffect(() => {
    latest.current = draw;
  }, [draw]);
  useEffect(() => {
    let frame = 0;
    let heardAt = performance.now();
    let drawnAt = -Infinity;
    let pause: ReturnType<typeof setTimeout>;
    const next = () => {
      const now = performance.now();
      if (ring()?.playing) heardAt = now;
      if (now - drawnAt >= everyMs) {
        drawnAt = now;
        latest.current();
      }
      const nextFrame = () => (frame = requestAnimationFrame(next));
      if (now - heardAt < SETTLE_MS) nextFrame();
      else pause = setTimeout(nextFrame, REST_MS);
    };
    next();
    return () => {
      clearTimeout(pause);
      cancelAnimationFrame(frame);
    };
  }, [ring, everyMs]);
}

/** Texts for readers of the screen change no more often than this. */
export const SPOKEN_EVERY_MS = 1000;
