import type { StreamFormat } from "../measure/measurement";
import { processorNamed, settingsOf, type ChainEntry } from "../process";
import type { Processor } from "../process/processor";
import { emptyPlanar, framesOf, type Frames, type Planar } from "../signal/units";
import { Skip, type Stage } from "./stage";

/** A chain at work: its processors in order, their latency taken back, so that a neutral chain gives the same bits. */
export class ChainStage implements Stage {
  readonly latency: Frames;
  readonly #processors: { id: string | undefined; processor: Processor }[];
  readonly #channels: number;
  readonly #skip: Skip;

  constructor(chain: readonly ChainEntry[], format: StreamFormat) {
    this.#processors = chain
      .filter((entry) => !entry.bypass)
      .map((entry) => ({ id: entry.id, processor: processorNamed(entry.type).create(settingsOf(entry), format) }));
    this.latency = this.#processors.reduce((sum, { processor }) => sum + processor.latency, 0);
    this.#channels = format.layout.speakers.length;
    this.#skip = new Skip(this.latency);
  }

  push(block: Planar): Planar {
    if (this.#processors.length === 0) return block;
    return this.#skip.next(this.#run(block.map((channel) => channel.slice())));
  }

  finish(): Planar {
    if (this.latency === 0) return [];
    return this.#skip.next(this.#run(emptyPlanar(this.#channels, this.latency)));
  }

  #run(block: Planar): Planar {
    const frames = framesOf(block);
    for (const { processor } of this.#processors) processor.process(block, frames);
    return block;
  }

  /** The most gain reduction of each processor that tells one, since the last call; in dB, by entry id. */
  takeReductions(): Record<string, number> {
    const reductions: Record<string, number> = {};
    for (const { id, processor } of this.#processors) {
      if (id && processor.takeReduction) reductions[id] = processor.takeReduction();
    }
    return reductions;
  }
}

/** How much of the past matters to what a chain gives now: a start in the middle runs up by this. */
export const chainMemorySeconds = (chain: readonly ChainEntry[]): number =>
  chain.reduce((sum, entry) => (entry.bypass ? sum : sum + processorNamed(entry.type).memory), 0);
