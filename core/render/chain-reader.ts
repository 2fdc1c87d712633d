import type { FrameSource } from "../audio/frame-source";
import { withoutNonFinite } from "../audio/non-finite";
import type { StreamFormat } from "../audio/stream-format";
import type { ChainEntry } from "../processors";
import { emptyPlanar, framesOf, slicePlanar, type Frames, type Planar } from "../audio/units";
import { ChainStage, type Failure, type Reductions } from "./chain-stage";
import type { StreamRange } from "../audio/stage";

/** Read and processed at a time, frames × channels: little, so that a listener waits for little. */
const BLOCK_SAMPLES = 4096;

/**
 * A stretch of a source through a chain, from any place: what is heard. Started at the beginning, or with the chain's
 * whole memory as run-up, it gives the very samples that a render gives.
 */
export class ChainReader {
  readonly #stage: ChainStage;
  readonly #blockFrames: Frames;
  #fed: Frames;
  #drop: Frames;
  #ready: Planar;
  #ended = false;
  /** Frame of the source that the next `read` begins with. */
  position: Frames;

  constructor(
    readonly source: FrameSource,
    readonly range: StreamRange,
    readonly chain: readonly ChainEntry[],
    format: StreamFormat,
    start: Frames,
    runUp: Frames,
    blockFrames: Frames = Math.max(256, Math.floor(BLOCK_SAMPLES / source.channels)),
  ) {
    this.#blockFrames = blockFrames;
    this.position = Math.max(range.start, Math.min(start, range.end));
    this.#fed = Math.max(range.start, this.position - runUp);
    this.#drop = this.position - this.#fed;
    this.#stage = new ChainStage(chain, format, this.#fed);
    this.#ready = emptyPlanar(format.layout.speakers.length, 0);
  }

  /** The next `frames` frames, fewer only at the end of the stretch. */
  async read(frames: Frames): Promise<Planar> {
    while (framesOf(this.#ready) < frames && !this.#ended) await this.#feed();
    const count = Math.min(frames, framesOf(this.#ready));
    const block = slicePlanar(this.#ready, 0, count);
    this.#ready = slicePlanar(this.#ready, count, framesOf(this.#ready));
    this.position += count;
    return block;
  }

  async #feed(): Promise<void> {
    const wanted = Math.min(this.#blockFrames, this.range.end - this.#fed);
    const block = wanted > 0 ? await this.source.read(this.#fed, wanted) : [];
    const count = framesOf(block);
    if (count === 0) {
      this.#ended = true;
      return this.#append(this.#stage.finish());
    }
    this.#fed += count;
    this.#append(this.#stage.push(withoutNonFinite(block, count).clean));
  }

  #append(block: Planar): void {
    const frames = framesOf(block);
    const dropped = Math.min(this.#drop, frames);
    this.#drop -= dropped;
    if (frames === dropped) return;
    const held = framesOf(this.#ready);
    this.#ready = this.#ready.map((channel, c) => {
      const joined = new Float32Array(held + frames - dropped);
      joined.set(channel);
      joined.set(block[c]!.subarray(dropped), held);
      return joined;
    });
  }

  /** The most gain reductions of each processor since the last call. */
  takeGainReduction(): Reductions {
    return this.#stage.takeGainReduction();
  }

  /** Processors that had to be muted. */
  get failures(): Failure[] {
    return this.#stage.failures;
  }
}
