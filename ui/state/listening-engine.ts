"use client";

import { useSyncExternalStore } from "react";
import { ListeningEngine, NOTHING_OPEN, type EngineState } from "@playback/engine";

let shared: ListeningEngine | undefined;

/** The one listening engine of the page. */
export function engine(): ListeningEngine {
  shared ??= new ListeningEngine();
  return shared;
}

export const useEngineState = (): EngineState =>
  useSyncExternalStore(
    (listener) => engine().subscribe(listener),
    () => engine().snapshot(),
    () => NOTHING_OPEN,
  );
