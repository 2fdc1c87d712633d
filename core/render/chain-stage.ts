import type { StreamFormat } from "../audio/stream-format";
import { createProcessor, processorNamed, type ChainEntry } from "../processors";
import { DelayLine } from "../dsp/delay-line";
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
  /** The key that it listens to, delayed as the processors before it delay the stream. */
  key: KeyInput | null;
  failure: Failure | null;
}

/** One of the keys that blocks carry, in time with the stream at the processor that listens to it. */
class KeyInput {
  readonly #from: number;
  readonly #delays: DelayLine[];

  constructor(index: number, channels: number, latency: Frames) {
    this.#from = channels * (1 + index);
    this.#delays = Array.from({ length: channels }, () => new DelayLine(latency));
  }

  of(carried: Planar): Planar {
    return this.#delays.map((delay, c) => {
      const x = carried[this.#from + c]!.slice();
      delay.process(x);
      return x;
    });
  }
}

/**
 * A chain at work: its processors in order, their latency taken back, so that a neutral chain gives the same bits.
 * A processor that fails is muted from that block on; `failures` names it.
 */
export class ChainStage implements Stage {
  readonly latency: Frames;
  readonly #links: Link[];
  readonly #channels: number;
  /** Channels of a block, with its keys. */
  readonly #carried: number;
  readonly #skip: Skip;

  /** @param start frame of the item that the first block begins with */
  constructor(chain: readonly ChainEntry[], format: StreamFormat, start: Frames = 0) {
    let latency = 0;
    this.#channels = format.layout.speakers.length;
    this.#carried = this.#channels * (1 + (format.keys?.length ?? 0));
    this.#links = chain
      .filter((entry) => !entry.bypass)
      .map((entry) => {
        const keyAt = entry.key === undefined ? -1 : (format.keys ?? []).indexOf(entry.key);
        const key = keyAt < 0 ? null : new KeyInput(keyAt, this.#channels, latency);
        const { keys: _, ...plain } = format;
        const processor = createProcessor(entry, key ? format : plain, start - latency);
        latency += processor.latency;
        return { entry, processor, key, failure: null };
      });
    this.latency = latency;
    this.#skip = new Skip(this.latency);
  }

  push(block: Planar): Planar {
    if (this.#links.length === 0) return block.slice(0, this.#channels);
    return this.#skip.next(this.#run(block));
  }

  finish(): Planar {
    if (this.latency === 0) return [];
    return this.#skip.next(this.#run(emptyPlanar(this.#carried, this.latency)));
  }

  #run(carried: Planar): Planar {
    const frames = framesOf(carried);
    const block = carried.slice(0, this.#channels).map((channel) => channel.slice());
    for (const link of this.#links) {
      if (!link.failure) {
        link.processor.process(block, frames, link.key?.of(carried));
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
