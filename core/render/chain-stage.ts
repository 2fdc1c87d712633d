import type { StreamFormat } from "../audio/stream-format";
import { createProcessor, processorNamed, type ChainEntry } from "../processors";
import type { Processor } from "../processors/processor";
import { emptyPlanar, framesOf, type Decibels, type Frames, type Planar } from "../audio/units";
import { Skip, type Stage } from "../audio/stage";

/** Samples above this are no sound any more: +80 dB over full scale. */
const RUN_AWAY = 1e4;

/** A processor that gave numbers that are none, or ran away. */
export interface Failure {
  /** Which: the entry's id, or its type. */
  entry: string;
  why: string;
}

/** By entry id: of each band of the processor, or of the whole. */
export type Reductions = Readonly<Record<string, readonly Decibels[]>>;

interface Link {
  entry: ChainEntry;
  processor: Processor;
  failure: Failure | null;
}

/**
 * A chain at work: its processors in order, their latency taken back, so that a neutral chain gives the same bits.
 * A processor that fails is muted from that block on; `failures` names it.
 */
export class ChainStage implements Stage {
  readonly latency: Frames;
  readonly #links: Link[];
  readonly #channels: number;
  readonly #skip: Skip;

  /** @param start frame of the item that the first block begins with */
  constructor(chain: readonly ChainEntry[], format: StreamFormat, start: Frames = 0) {
    let latency = 0;
    this.#links = chain
      .filter((entry) => !entry.bypass)
      .map((entry) => {
        const processor = createProcessor(entry, format, start - latency);
        latency += processor.latency;
        return { entry, processor, failure: null };
      });
    this.latency = latency;
    this.#channels = format.layout.speakers.length;
    this.#skip = new Skip(this.latency);
  }

  push(block: Planar): Planar {
    if (this.#links.length === 0) return block;
    return this.#skip.next(this.#run(block.map((channel) => channel.slice())));
  }

  finish(): Planar {
    if (this.latency === 0) return [];
    return this.#skip.next(this.#run(emptyPlanar(this.#channels, this.latency)));
  }

  #run(block: Planar): Planar {
    const frames = framesOf(block);
    for (const link of this.#links) {
      if (!link.failure) {
        link.processor.process(block, frames);
        link.failure = failureIn(block, link.entry);
      }
      if (link.failure) for (const x of block) x.fill(0);
    }
    return block;
  }

  /** Processors that had to be muted. */
  get failures(): Failure[] {
    return this.#links.flatMap(({ failure }) => failure ?? []);
  }

  /** The most gain reductions of each processor that tells any, since the last call; in dB, by entry id. */
  takeGainReduction(): Reductions {
    const reductions: Record<string, readonly Decibels[]> = {};
    for (const { entry, processor } of this.#links) {
      if (entry.id && processor.takeGainReduction) reductions[entry.id] = processor.takeGainReduction();
    }
    return reductions;
  }
}

/** How much of the past matters to what a chain gives now: a start in the middle runs up by this. */
export const chainMemorySeconds = (chain: readonly ChainEntry[]): number =>
  chain.reduce((sum, entry) => (entry.bypass ? sum : sum + processorNamed(entry.type).memory), 0);

/** Hot: two operations a sample, in four sums that do not wait for one another. */
function sizeOf(x: Float32Array): number {
  let [a, b, c, d] = [0, 0, 0, 0];
  const even = x.length & ~3;
  for (let i = 0; i < even; i += 4) {
    a += Math.abs(x[i]!);
    b += Math.abs(x[i + 1]!);
    c += Math.abs(x[i + 2]!);
    d += Math.abs(x[i + 3]!);
  }
  for (let i = even; i < x.length; i++) a += Math.abs(x[i]!);
  return a + b + (c + d);
}

function failureIn(block: Planar, { id, type }: ChainEntry): Failure | null {
  for (const x of block) {
    const sum = sizeOf(x);
    if (sum < RUN_AWAY) continue;
    const { name } = processorNamed(type);
    if (!Number.isFinite(sum)) return { entry: id ?? type, why: `${name} gave numbers that are none.` };
    if (x.some((v) => Math.abs(v) > RUN_AWAY)) return { entry: id ?? type, why: `${name} ran away.` };
  }
  return null;
}
