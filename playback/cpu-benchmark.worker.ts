/** What the processors of a chain cost: how much of a core each takes on noise at a usual level, and how much it delays. */
import { createProcessor, type ChainEntry } from "@core/processors";
import { Random } from "@core/math/random";
import type { Layout } from "@core/audio/layout";
import type { Planar } from "@core/audio/units";

export interface BenchmarkRequest {
  chain: ChainEntry[];
  sampleRate: number;
  layout: Layout;
}

export interface ProcessorCost {
  /** Of a core, 1 is real time. */
  share: number;
  latencySeconds: number;
}

export type BenchmarkAnswer =
  | { type: "done"; costs: ProcessorCost[] }
  | { type: "progress" }
  | { type: "failed"; message: string };

const scope = self as unknown as DedicatedWorkerGlobalScope;
const BLOCK = 2048;
/** The first ones let the engine compile it; the quickest counts, for other work on the machine only adds. */
const RUNS = 5;
const SECONDS = 0.5;
const LEVEL = 0.2;

function costOf(entry: ChainEntry, sampleRate: number, layout: Layout): ProcessorCost {
  const processor = createProcessor(entry, { sampleRate, layout }, 0);
  const random = new Random(1);
  const noise: Planar = layout.speakers.map(() =>
    Float32Array.from({ length: BLOCK }, () => random.between(-LEVEL, LEVEL)),
  );
  const blocks = Math.ceil((SECONDS * sampleRate) / BLOCK);
  let seconds = Infinity;
  for (let run = 0; run < RUNS; run++) {
    const began = performance.now();
    for (let n = 0; n < blocks; n++)
      processor.process(
        noise.map((x) => x.slice()),
        BLOCK,
      );
    seconds = Math.min(seconds, (performance.now() - began) / 1000);
  }
  return { share: (seconds * sampleRate) / (blocks * BLOCK), latencySeconds: processor.latency / sampleRate };
}

scope.onmessage = ({ data }: MessageEvent<BenchmarkRequest>) => {
  try {
    const { chain, sampleRate, layout } = data;
    const costs = chain.map((entry) => costOf(entry, sampleRate, layout));
    scope.postMessage({ type: "done", costs } satisfies BenchmarkAnswer);
  } catch (error) {
    scope.postMessage({
      type: "failed",
      message: error instanceof Error ? error.message : String(error),
    } satisfies BenchmarkAnswer);
  }
};
