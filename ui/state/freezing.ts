"use client";

import { PersistentWorker } from "@playback/persistent-worker";
import { workerFailure } from "@playback/worker-failure";
import { useQuery } from "@tanstack/react-query";
import { useEffect, useMemo, useState } from "react";
import { create } from "zustand";
import type { BenchmarkAnswer, BenchmarkRequest, ProcessorCost } from "@playback/cpu-benchmark.worker";
import type { FreezeAnswer, FreezeRequest } from "@playback/freeze.worker";
import type { ChainEntry } from "@core/processors";
import { isActive } from "@core/repair";
import { frozenFrames } from "@core/render/frozen-source";
import { askWorker } from "@ui/workers/ask-worker";
import { useWorkspace } from "./workspace-store";
import { engine } from "./listening-engine";
import { useCurrentItem } from "./current-item";
import { soundUrl } from "./use-range-figures";

/** Settings must have stood still for so long before their cost is looked at. */
const STILL_MS = 600;
/** Of a core: more than this is not left to be worked out while it is heard. */
const MOST_LIVE = 0.6;
/** What may stay live behind what is frozen. */
const LEFT_LIVE = 0.3;
/** Segments made ahead around the playhead; what lies further off is made when it is gone to. */
const SEGMENTS_AROUND = 90;

/** Of segments so near to the playhead listening is told at once, of others now and then. */
const HEARD_SOON = 2;
const TELL_MS = 1000;

/** What a chain costs on this machine. */
export interface ChainCosts {
  of: (entry: ChainEntry) => ProcessorCost | undefined;
  /** Of all that are not bypassed. */
  all: ProcessorCost;
}

function useStill<T>(value: T): T {
  const [still, setStill] = useState(value);
  useEffect(() => {
    const timer = setTimeout(() => setStill(value), STILL_MS);
    return () => clearTimeout(timer);
  }, [value]);
  return still;
}

/** What the chain in hand costs and how much it delays; `null` until it was tried. */
export function useChainCosts(): ChainCosts | null {
  const { chain, facts } = useCurrentItem();
  const layout = facts?.source.layout ?? null;
  const still = useStill(chain);
  const { data } = useQuery({
    queryKey: ["cost", still, layout?.name, facts?.sampleRate],
    enabled: layout !== null && still.length > 0,
    staleTime: Infinity,
    retry: false,
    queryFn: async ({ signal }) => {
      const { costs } = await askWorker<BenchmarkAnswer>(
        new PersistentWorker(
          () => new Worker(new URL("@playback/cpu-benchmark.worker.ts", import.meta.url), { type: "module" }),
        ),
        { chain: still, sampleRate: facts!.sampleRate, layout: layout! } satisfies BenchmarkRequest,
        { signal },
      );
      return { chain: still, costs };
    },
  });
  return useMemo(() => {
    if (!data) return null;
    const at = new Map(data.chain.map(({ id }, n) => [id, data.costs[n]]));
    const active = data.costs.filter((_, n) => !data.chain[n]!.bypass);
    return {
      of: ({ id }) => at.get(id),
      all: {
        share: active.reduce((sum, { share }) => sum + share, 0),
        latencySeconds: active.reduce((sum, { latencySeconds }) => sum + latencySeconds, 0),
      },
    };
  }, [data]);
}

/** How many of the first processors are frozen: those before the last ones that may stay live, where all are too much. */
export function frozenByCost(chain: readonly ChainEntry[], costs: ChainCosts | null): number {
  if (!costs || costs.all.share <= MOST_LIVE) return 0;
  let live = 0;
  for (let index = chain.length - 1; index >= 0; index--) {
    const entry = chain[index]!;
    if (entry.bypass) continue;
    live += costs.of(entry)?.share ?? 0;
    if (live > LEFT_LIVE) return index + 1;
  }
  return 0;
}

/** How far what is frozen is made. */
interface Freezing {
  /** The first so many processors are frozen. */
  entries: number;
  made: number;
  of: number;
  problem: string | null;
}

const NOTHING: Freezing = { entries: 0, made: 0, of: 0, problem: null };

export const useFreezing = create<Freezing>(() => NOTHING);

/** How many processors of the chain in hand are frozen: as chosen by hand, or by what they cost. */
export function useFrozenCount(): number {
  const { chain } = useCurrentItem();
  const freeze = useWorkspace((workspace) => workspace.freeze);
  const costs = useChainCosts();
  if (freeze === "none") return 0;
  return freeze === "auto" ? frozenByCost(chain, costs) : chain.findIndex(({ id }) => id === freeze.upTo) + 1;
}

/** Makes what is frozen in the background, what lies nearest to the playhead first. */
export function useFreezeProgress(): void {
  const { facts, chain } = useCurrentItem();
  const entries = useFrozenCount();
  const still = useStill(chain);
  const repairs = useMemo(() => facts?.item.repairs.filter(isActive) ?? [], [facts?.item.repairs]);
  const clips = facts?.item.clips ?? null;
  const pcm = facts?.source.pcm_hash ?? null;
  const layout = facts?.source.layout ?? null;
  const frames = facts?.editList.frames ?? 0;
  const sampleRate = facts?.sampleRate ?? 0;
  useEffect(() => {
    if (!pcm || !layout || entries === 0) {
      useFreezing.setState(NOTHING);
      return;
    }
    const worker = new PersistentWorker(
      () => new Worker(new URL("@playback/freeze.worker.ts", import.meta.url), { type: "module" }),
    );
    const ask = (request: FreezeRequest) => worker.postMessage(request);
    const length = frozenFrames(sampleRate);
    const left = new Set(Array.from({ length: Math.ceil(frames / length) }, (_, n) => n));
    const of = left.size;
    let waiting: ReturnType<typeof setTimeout> | undefined;
    let told = 0;
    const next = () => {
      const here = Math.floor(engine().position / length);
      let nearest: number | null = null;
      let least = SEGMENTS_AROUND;
      for (const segment of left) {
        // What lies ahead is heard sooner than what lies behind.
        const distance = segment < here ? 2 * (here - segment) : segment - here;
        if (distance < least) [nearest, least] = [segment, distance];
      }
      if (nearest !== null) ask({ segment: nearest });
      else if (left.size > 0) waiting = setTimeout(next, 500);
    };
    worker.onmessage = ({ data }: MessageEvent<FreezeAnswer>) => {
      left.delete(data.segment);
      if (data.problem) return useFreezing.setState({ problem: data.problem });
      useFreezing.setState({ made: of - left.size });
      const near = Math.abs(data.segment - Math.floor(engine().position / length)) <= HEARD_SOON;
      if (near || left.size === 0 || performance.now() - told > TELL_MS) {
        told = performance.now();
        engine().repaired();
      }
      next();
    };
    worker.onerror = (event) => useFreezing.setState({ problem: workerFailure(event) });
    useFreezing.setState({ entries, made: 0, of, problem: null });
    ask({ order: { url: soundUrl(pcm), layout, repairs, clips, chain: still.slice(0, entries) } });
    next();
    return () => {
      clearTimeout(waiting);
      worker.terminate();
    };
  }, [pcm, layout, repairs, clips, still, entries, frames, sampleRate]);
}
