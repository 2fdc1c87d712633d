"use client";

import { useCallback, useEffect, useMemo } from "react";
import { DEFAULT_SETTINGS } from "@playback/player";
import { predictNow } from "@core/delivery/predict-chain";
import { blobUrl } from "@ui/api/api";
import { useWorkspace } from "./workspace-store";
import { engine } from "./listening-engine";
import { useFrozenCount } from "./freezing";
import { playbackPlanOf, type MonitorModel, type CompareSlot } from "./monitor-source";
import { itemFrame } from "./item-time";
import { useCurrentItem } from "./current-item";
import { useMonitoredRepairs } from "./use-monitored-repairs";

/** The reference that was chosen, as something to be heard. */
function useReference(): CompareSlot | null {
  const { view } = useCurrentItem();
  const hash = useWorkspace((workspace) => workspace.reference);
  const source = view.sources.find((one) => one.hash === hash);
  return useMemo(() => {
    if (!source?.pcm_hash || !source.figures) return null;
    const { integratedLufs } = source.figures;
    return {
      label: source.name,
      url: blobUrl(source.pcm_hash),
      repairs: [],
      clips: null,
      chain: [],
      lufs: integratedLufs,
    };
  }, [source]);
}

/** What is heard, from all that the workspace has chosen. */
export function usePlaybackPlan() {
  const { facts, chain } = useCurrentItem();
  const { monitorSource, levelMatched, step, slots, blind } = useWorkspace();
  const reference = useReference();
  const lufsAfter = useCallback(
    (entries: number) => {
      if (!facts) return null;
      const part = chain.slice(0, entries);
      if (part.every(({ bypass }) => bypass)) return facts.figures.integratedLufs;
      return predictNow(facts.figures, facts.curves, part, facts.knownLevels).integratedLufs ?? null;
    },
    [facts, chain],
  );
  const originalLufs = facts?.originalLufs ?? null;
  const repairs = useMonitoredRepairs();
  const clips = facts?.item.clips ?? null;
  const frozen = useFrozenCount();
  return useMemo(() => {
    const swapped = blind?.swapped ?? false;
    const model: MonitorModel = {
      source: monitorSource,
      levelMatched,
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
    return playbackPlanOf(model);
  }, [
    monitorSource,
    levelMatched,
    repairs,
    clips,
    chain,
    frozen,
    step,
    originalLufs,
    lufsAfter,
    reference,
    slots,
    blind,
  ]);
}

/** The loop with its rolls, in frames of the item. */
function useLoop() {
  const { facts } = useCurrentItem();
  const { looping, selection, rolls } = useWorkspace();
  return useMemo(() => {
    if (!looping || !selection || !facts) return null;
    return {
      start: itemFrame(facts, selection.start - rolls.before),
      end: itemFrame(facts, selection.end + rolls.after),
    };
  }, [looping, selection, rolls, facts]);
}

/** Keeps the engine on the item in hand, its chain, and what is to be heard, unless the programme is heard. */
export function useMonitoring(isHeard: boolean): void {
  const { facts } = useCurrentItem();
  const plan = usePlaybackPlan();
  const loop = useLoop();
  const { monitor, speed } = useWorkspace();
  const band = useWorkspace(
    (workspace) => workspace.soloBand ?? (workspace.soloSelectedBand ? (workspace.selection?.band ?? null) : null),
  );
  const url = isHeard && facts?.source.pcm_hash ? blobUrl(facts.source.pcm_hash) : null;
  const frames = facts?.editList.frames ?? null;
  const item = facts?.item.id ?? null;
  const sampleRate = facts?.sampleRate ?? 0;
  const layout = facts?.source.layout ?? null;

  // Whatever opens the engine anew must tell it everything again.
  const track = url && layout ? [url, sampleRate, layout.name, item].join() : null;

  useEffect(() => {
    if (!url || !layout) return;
    const position = Math.round(useWorkspace.getState().cursor * sampleRate);
    engine().open({ sound: url, sampleRate, layout }, DEFAULT_SETTINGS, position);
    return () => engine().close();
    // Another item of the same recording is opened at its own place.
  }, [url, layout, sampleRate, item]);

  // One by one, so that a change of one does not send the others.
  useEffect(() => {
    if (track) engine().set({ plan, frames });
  }, [track, plan, frames]);
  useEffect(() => {
    if (track) engine().set({ loop });
  }, [track, loop]);
  useEffect(() => {
    if (track) engine().set({ monitor, speed, band });
  }, [track, monitor, speed, band]);

  useEffect(() => {
    // A loop that is switched on elsewhere is gone to.
    if (track && loop && (engine().position < loop.start || engine().position >= loop.end)) engine().seek(loop.start);
  }, [track, loop]);
}

/** Plays or pauses. */
export function togglePlay(): void {
  const listening = engine();
  if (listening.state.playing) listening.pause();
  else void listening.play();
}
