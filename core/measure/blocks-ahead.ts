import { downmixed, type DownmixMatrix } from "../audio/downmix";
import type { FrameSource, PcmEncoding } from "../audio/frame-source";
import type { StreamRange } from "../audio/stage";
import { emptyPlanar, framesOf, type Frames, type Planar } from "../audio/units";

const READ_SAMPLES = 131_072;

/** What takes samples, decoded or as they lie in a file. */
export interface BlockTaker {
  process(block: Planar, frames: Frames): void;
  processEncoded(bytes: Uint8Array, encoding: PcmEncoding): void;
}

/** Hands a block over, and tells its length. */
export type Feed = (taker: BlockTaker) => Frames;

/**
 * The blocks of a stretch of a source in their order, one read ahead of the one that is worked on; as they lie in the
 * file where the source can, folded with `fold`. Each must be fed before the next is asked for.
 */
export async function* blocksAhead(
  source: FrameSource,
  { start, end }: StreamRange,
  fold?: DownmixMatrix,
): AsyncGenerator<Feed, void, void> {
  const { channels, pcm } = source;
  const step = Math.ceil(READ_SAMPLES / channels);
  const turns = fold || !pcm ? [emptyPlanar(channels, step), emptyPlanar(channels, step)] : [];
  const read = async (frame: Frames): Promise<Feed> => {
    const count = Math.min(step, end - frame);
    if (!fold && pcm && source.readEncoded) {
      const bytes = await source.readEncoded(frame, count);
      return (taker) => {
        taker.processEncoded(bytes, pcm);
        return Math.floor(bytes.length / (channels * pcm.bytes));
      };
    }
    const block = await source.read(frame, count, turns[((frame - start) / step) % 2]);
    const frames = framesOf(block);
    return (taker) => {
      taker.process(fold ? downmixed(block, fold, frames) : block, frames);
      return frames;
    };
  };
  let next = end > start ? read(start) : undefined;
  for (let frame = start; next; frame += step) {
    const feed = await next;
    next = frame + step < end ? read(frame + step) : undefined;
    next?.catch(() => undefined); // told when it is awaited
    yield feed;
  }
}
