"use client";

import { createContext, useCallback, useContext, useEffect, useRef } from "react";
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
  /** Calls back when something was told to the engine: it may be heard, or shown, from then on. */
  onActivity: (listener: () => void) => () => void;
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
/** What is set or reset at rest has arrived in the ring after this. */
const ARRIVAL_MS = 400;

/** Figures change no more often than this: sooner, nobody could read them. */
export const FIGURES_EVERY_MS = 100;

/**
 * Draws by frames, outside of React: each frame while something is heard, and a moment when something was told to the
 * engine or the drawing is another one. At rest no frame is asked for.
 * @param everyMs at least so long passes between two drawings
 * @returns asks for a drawing
 */
export function useFrames(draw: () => void, everyMs = 0): () => void {
  const { ring, onActivity } = useMeterSource();
  const latest = useRef(draw);
  const wake = useRef(() => {});
  useEffect(() => {
    latest.current = draw;
    wake.current();
  }, [draw]);
  useEffect(() => {
    let frame = 0;
    let wokenAt = performance.now();
    let restsAt = wokenAt + SETTLE_MS;
    let drawnAt = -Infinity;
    const next = () => {
      const now = performance.now();
      if (ring()?.playing) restsAt = now + SETTLE_MS;
      if (now - drawnAt >= everyMs) {
        drawnAt = now;
        latest.current();
      }
      frame = now < restsAt || drawnAt < wokenAt ? requestAnimationFrame(next) : 0;
    };
    wake.current = () => {
      wokenAt = performance.now();
      restsAt = Math.max(restsAt, wokenAt + ARRIVAL_MS);
      if (frame === 0) frame = requestAnimationFrame(next);
    };
    next();
    const end = onActivity(() => wake.current());
    return () => {
      end();
      cancelAnimationFrame(frame);
      wake.current = () => {};
    };
  }, [ring, everyMs, onActivity]);
  return useCallback(() => wake.current(), []);
}

/** Texts for readers of the screen change no more often than this. */
export const SPOKEN_EVERY_MS = 1000;
