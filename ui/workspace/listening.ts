"use client";

import { useCallback, useEffect, useMemo, useSyncExternalStore } from "react";
import { ListeningEngine, NOTHING_OPEN, type EngineState } from "@audio/engine";
import { PLAIN_SETTINGS } from "@audio/player";
import { predictNow } from "@core/render/predict";
import { blobUrl } from "@ui/shared/api";
import { useDesk } from "./desk";
import { programmeOf, type HearingModel, type Slot } from "./hearing";
import { useInHand } from "./in-hand";
import { useRepairsHeard } from "./use-repairs-heard";

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

/** The reference that was chosen, as something to be heard. */
function useReference(): Slot | null {
  const { view } = useInHand();
  const hash = useDesk((desk) => desk.reference);
  const source = view.sources.find((one) => one.hash === hash);
  return useMemo(() => {
    if (!source?.pcm_hash || !source.figures) return null;
    const { sampleRate, integratedLufs } = source.figures;
    return {
      words: source.name,
      url: blobUrl(source.pcm_hash),
      start: 0,
      sampleRate,
      repairs: [],
      chain: [],
      lufs: integratedLufs,
    };
  }, [source]);
}

/** What is heard, from all that the desk has chosen. */
export function useProgramme() {
  const { facts, chain } = useInHand();
  const { heard, matched, step, slots, blind } = useDesk();
  const reference = useReference();
  const lufsAfter = useCallback(
    (entries: number) => {
      if (!facts) return null;
      const part = chain.slice(0, entries);
      if (part.every(({ bypass }) => bypass)) return facts.figures.integratedLufs;
      return predictNow(facts.figures, facts.curves, part).integratedLufs ?? null;
    },
    [facts, chain],
  );
  const sampleRate = facts?.sampleRate ?? 0;
  const originalLufs = facts?.originalLufs ?? null;
  const repairs = useRepairsHeard();
  return useMemo(() => {
    const swapped = blind?.swapped ?? false;
    const model: HearingModel = {
      heard,
      matched,
      repairs,
      chain,
      step,
      originalLufs,
      lufsAfter,
      sampleRate,
      reference,
      slots,
      swapped,
    };
    return programmeOf(model);
  }, [heard, matched, repairs, chain, step, originalLufs, lufsAfter, sampleRate, reference, slots, blind]);
}

/** The loop with its rolls, in frames of the source. */
function useLoop() {
  const { facts } = useInHand();
  const { looping, selection, rolls } = useDesk();
  return useMemo(() => {
    if (!looping || !selection || !facts) return null;
    const { range, sampleRate } = facts;
    const frame = (seconds: number) => range.start + Math.round(seconds * sampleRate);
    return {
      start: Math.max(range.start, frame(selection.start - rolls.before)),
      end: Math.min(range.end, frame(selection.end + rolls.after)),
    };
  }, [looping, selection, rolls, facts]);
}

/** Keeps the engine on the item in hand, its chain, and what is to be heard. */
export function useListening(): void {
  const { facts } = useInHand();
  const programme = useProgramme();
  const loop = useLoop();
  const { monitor, speed } = useDesk();
  const band = useDesk((desk) => (desk.bandOnly ? (desk.selection?.band ?? null) : null));
  const url = facts?.source.pcm_hash ? blobUrl(facts.source.pcm_hash) : null;
  const rangeStart = facts?.range.start ?? 0;
  const rangeEnd = facts?.range.end ?? 0;
  const sampleRate = facts?.sampleRate ?? 0;
  const layout = facts?.source.layout ?? null;

  // Whatever opens the engine anew must tell it everything again.
  const track = url && layout ? [url, sampleRate, rangeStart, rangeEnd, layout.name].join() : null;

  useEffect(() => {
    if (!url || !layout) return;
    const position = rangeStart + Math.round(useDesk.getState().cursor * sampleRate);
    engine().open({ url, sampleRate, layout, range: { start: rangeStart, end: rangeEnd } }, PLAIN_SETTINGS, position);
    return () => engine().close();
  }, [url, layout, sampleRate, rangeStart, rangeEnd]);

  // One by one, so that a change of one does not send the others.
  useEffect(() => {
    if (track) engine().set({ programme });
  }, [track, programme]);
  useEffect(() => {
    if (track) engine().set({ loop });
  }, [track, loop]);
  useEffect(() => {
    if (track) engine().set({ monitor, speed, band });
  }, [track, monitor, speed, band]);

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
