import { Cancelled, type Cancellation } from "./cancellation";
import { framesOf, slicePlanar, type Frames, type Planar } from "./units";
import type { FrameSource } from "./frame-source";
import { withoutNonFinite } from "./non-finite";

/** A step of a render: takes blocks, gives blocks, in the same time: what it delays it takes back. */
export interface Stage {
  /** Frames that are ready after `block`; may be none. */
  push(block: Planar): Planar;
  /** The rest, once the stream has ended. */
  finish(): Planar;
}

/** Frames read and processed at a time. Results do not depend on it. */
export const BLOCK_FRAMES: Frames = 8192;

export interface StreamRange {
  start: Frames;
  /** One past the last frame. */
  end: Frames;
}

export interface StreamOptions {
  range?: StreamRange;
  cancellation?: Cancellation | undefined;
  /** Told the fraction done, 0…1. */
  onProgress?: ((fraction: number) => void) | undefined;
  blockFrames?: Frames;
}

/**
 * Reads a source through stages, block by block, into `take`. NaN and infinities become silence at the entrance, so
 * that no processor can be poisoned by them. @throws Cancelled
 */
export async function stream(
  source: FrameSource,
  stages: readonly Stage[],
  take: (block: Planar) => void | Promise<void>,
  options: StreamOptions = {},
): Promise<void> {
  const { start, end } = options.range ?? { start: 0, end: source.frames };
  const step = options.blockFrames ?? BLOCK_FRAMES;
  for (let frame = start; frame < end;) {
    if (options.cancellation?.aborted) throw new Cancelled();
    const block = await source.read(frame, Math.min(step, end - frame));
    const frames = framesOf(block);
    if (frames === 0) break;
    frame += frames;
    await pushThrough(stages, 0, withoutNonFinite(block, frames).clean, take);
    options.onProgress?.((frame - start) / (end - start));
  }
  for (let first = 0; first < stages.length; first++) {
    await pushThrough(stages, first + 1, stages[first]!.finish(), take);
  }
}

async function pushThrough(
  stages: readonly Stage[],
  first: number,
  block: Planar,
  take: (block: Planar) => void | Promise<void>,
): Promise<void> {
  let current = block;
  for (let i = first; i < stages.length && framesOf(current) > 0; i++) current = stages[i]!.push(current);
  if (framesOf(current) > 0) await take(current);
}

/** Drops the first `count` frames of what passes. */
export class Skip {
  #left: Frames;

  constructor(count: Frames) {
    this.#left = count;
  }

  next(block: Planar): Planar {
    const frames = framesOf(block);
    const drop = Math.min(this.#left, frames);
    this.#left -= drop;
    return drop === 0 ? block : slicePlanar(block, drop, frames);
  }
}
