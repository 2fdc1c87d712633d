"use client";

import { useCallback, useEffect, useRef } from "react";
import type { Ring } from "@playback/ring";

/** What is heard, and when something was told to it. */
export interface Heard {
  ring: () => Ring | undefined;
  /** Calls back when something was told to the engine: it may be heard, or shown, from then on. */
  onActivity: (listener: () => void) => () => void;
}

/** Meters fall back and holds run out for so long after the sound has stopped. */
const SETTLE_MS = 3000;
/** What is set or reset at rest has arrived in the ring after this. */
const ARRIVAL_MS = 400;

/**
 * Draws by frames, outside of React: each frame while something is heard, and a moment when something was told to the
 * engine or the drawing is another one. At rest no frame is asked for.
 * @param everyMs at least so long passes between two drawings
 * @returns asks for a drawing
 */
export function useFrames({ ring, onActivity }: Heard, draw: () => void, everyMs = 0): () => void {
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
