"use client";

import { useCallback, useEffect, useMemo } from "react";
import { PLAIN_SETTINGS } from "@playback/player";
import { predictNow } from "@core/delivery/predict-chain";
import { blobUrl } from "@ui/api/api";
import { useDesk } from "./workspace-store";
import { engine } from "./listening-engine";
import { useFrozenCount } from "./freezing";
import { programmeOf, type HearingModel, type Slot } from "./monitor-source";
import { itemFrame } from "./item-time";
import { useInHand } from "./current-item";
import { useRepairsHeard } from "./use-monitored-repairs";

/** The reference that was chosen, as something to be heard. */
function useReference(): Slot | null {
  const { view } = useInHand();
  const hash = useDesk((desk) => desk.reference);
  const source = view.sources.find((one) => one.hash === hash);
  return useMemo(() => {
    if (!source?.pcm_hash || !source.figures) return null;
    const { integratedLufs } = source.figures;
    return {
      words: source.name,
      url: blobUrl(source.pcm_hash),
      repairs: [],
      clips: null,
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
      return predictNow(facts.figures, facts.curves, part, facts.known).integratedLufs ?? null;
    },
    [facts, chain],
  );
  const originalLufs = facts?.originalLufs ?? null;
  const repairs = useRepairsHeard();
  const clips = facts?.item.clips ?? null;
  const frozen = useFrozenCount();
  return useMemo(() => {
    const swapped = blind?.swapped ?? false;
    const model: HearingModel = {
      heard,
      matched,
      repairs,
      clips,
      chain,
      frozen,
      step,
      originalLufs,
      lufsAfter,
      reference,
      slots,
      swapped,
    };
    return programmeOf(model);
  }, [heard, matched, repairs, clips, chain, frozen, step, originalLufs, lufsAfter, reference, slots, blind]);
}

/** The loop with its rolls, in frames of the item. */
function useLoop() {
  const { facts } = useInHand();
  const { looping, selection, rolls } = useDesk();
  return useMemo(() => {
    if (!looping || !selection || !facts) return null;
    return {
      start: itemFrame(facts, selection.start - rolls.before),
      end: itemFrame(facts, selection.end + rolls.after),
    };
  }, [looping, selection, rolls, facts]);
}

/** Keeps the engine on the item in hand, its chain, and what is to be heard. */
export function useListening(): void {
  const { facts } = useInHand();
  const programme = useProgramme();
  const loop = useLoop();
  const { monitor, speed } = useDesk();
  const band = useDesk((desk) => desk.soloBand ?? (desk.bandOnly ? (desk.selection?.band ?? null) : null));
  const url = facts?.source.pcm_hash ? blobUrl(facts.source.pcm_hash) : null;
  const frames = facts?.arrangement.frames ?? null;
  const item = facts?.item.id ?? null;
  const sampleRate = facts?.sampleRate ?? 0;
  const layout = facts?.source.layout ?? null;

  // Whatever opens the engine anew must tell it everything again.
  const track = url && layout ? [url, sampleRate, layout.name, item].join() : null;

  useEffect(() => {
    if (!url || !layout) return;
    const position = Math.round(useDesk.getState().cursor * sampleRate);
    engine().open({ url, sampleRate, layout }, PLAIN_SETTINGS, position);
    return () => engine().close();
    // Another item of the same recording is opened at its own place.
  }, [url, layout, sampleRate, item]);

  // One by one, so that a change of one does not send the others.
  useEffect(() => {
    if (track) engine().set({ programme, frames });
  }, [track, programme, frames]);
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
