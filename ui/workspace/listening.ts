"use client";

import { useEffect, useMemo, useSyncExternalStore } from "react";
import { ListeningEngine, type EngineState } from "@audio/engine";
import { blobUrl } from "@ui/shared/api";
import { useDesk } from "./desk";
import { useInHand } from "./in-hand";

let shared: ListeningEngine | undefined;

/** The one listening engine of the page. */
export function engine(): ListeningEngine {
  shared ??= new ListeningEngine();
  return shared;
}

const NOTHING: EngineState = { status: "empty", playing: false, problem: null, changeMilliseconds: null };

export const useEngineState = (): EngineState =>
  useSyncExternalStore(
    (listener) => engine().subscribe(listener),
    () => engine().snapshot(),
    () => NOTHING,
  );

/** How much louder "now" is than the original, dB; what level-matching takes off. */
export function useMatchOffset(): number {
  const { facts, now } = useInHand();
  const before = facts?.figures.integratedLufs ?? null;
  const after = now?.integratedLufs ?? null;
  return before === null || after === null ? 0 : after - before;
}

/** Keeps the engine on the item in hand, its chain, and what is to be heard. */
export function useListening(): void {
  const { facts, chain } = useInHand();
  const offset = useMatchOffset();
  const heard = useDesk((desk) => desk.heard);
  const matched = useDesk((desk) => desk.matched);
  const looping = useDesk((desk) => desk.looping);
  const selection = useDesk((desk) => desk.selection);
  const matchDb = matched ? -offset : 0;
  const url = facts?.source.pcm_hash ? blobUrl(facts.source.pcm_hash) : null;
  const rangeStart = facts?.range.start ?? 0;
  const rangeEnd = facts?.range.end ?? 0;
  const sampleRate = facts?.sampleRate ?? 0;
  const layout = facts?.source.layout ?? null;

  const loop = useMemo(() => {
    if (!looping || !selection || !sampleRate) return null;
    const frame = (seconds: number) => rangeStart + Math.round(seconds * sampleRate);
    return { start: frame(selection.start), end: Math.min(rangeEnd, frame(selection.end)) };
  }, [looping, selection, sampleRate, rangeStart, rangeEnd]);

  useEffect(() => {
    if (!url || !layout) return;
    const position = rangeStart + Math.round(useDesk.getState().cursor * sampleRate);
    engine().open(
      { url, sampleRate, layout, range: { start: rangeStart, end: rangeEnd } },
      { chain: [], heard: "now", matchDb: 0, loop: null },
      position,
    );
    return () => engine().close();
  }, [url, layout, sampleRate, rangeStart, rangeEnd]);

  useEffect(() => {
    if (url) engine().set({ chain, heard, matchDb, loop });
  }, [url, chain, heard, matchDb, loop]);

  useEffect(() => {
    // A loop that is switched on elsewhere is gone to.
    if (loop && (engine().position < loop.start || engine().position >= loop.end)) engine().seek(loop.start);
  }, [loop]);
}

/** Plays or pauses. */
export function togglePlay(): void {
  const listening = engine();
  if (listening.state.playing) listening.pause();
  else void listening.play();
}
