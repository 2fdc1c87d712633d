import type { FrameSource } from "../audio/frame-source";
import { type StreamRange } from "../audio/stage";
import { Cancelled, type Cancellation } from "../audio/cancellation";
import { downmixed, type DownmixMatrix } from "../audio/downmix";
import type { Layout } from "../audio/layout";
import { emptyPlanar, framesOf } from "../audio/units";
import { Measurer, type Measured } from ".";

const READ_SAMPLES = 131_072;

export interface MeasureOptions {
  /** The stretch that is measured; absent for all of it. Times in the figures are those of the stretch. */
  range?: StreamRange | undefined;
  /** Measures what the channels fold to; `layout` is then that of the fold. */
  fold?: DownmixMatrix | undefined;
  cancellation?: Cancellation | undefined;
  /** Told the fraction done, 0…1, with what was measured so far on demand. */
  onProgress?: ((fraction: number, soFar: () => Measured) => void) | undefined;
}

/** Measures a source, or a stretch of it, in one pass; reads ahead. @throws Cancelled */
export async function measureSource(
  source: FrameSource,
  layout: Layout,
  { range, fold, cancellation, onProgress }: MeasureOptions = {},
): Promise<Measured> {
  const { start, end } = range ?? { start: 0, end: source.frames };
  const { channels, sampleRate, pcm } = source;
  const measurer = new Measurer({ sampleRate, layout });
  const step = Math.ceil(READ_SAMPLES / channels);
  const turns = fold || !pcm ? [emptyPlanar(channels, step), emptyPlanar(channels, step)] : [];
  /** Reads on, and tells how what was read is measured. */
  const read = async (frame: number): Promise<() => number> => {
    const count = Math.min(step, end - frame);
    if (!fold && pcm && source.readEncoded) {
      const bytes = await source.readEncoded(frame, count);
      return () => {
        measurer.processEncoded(bytes, pcm);
        return Math.floor(bytes.length / (channels * pcm.bytes));
      };
    }
    const block = await source.read(frame, count, turns[((frame - start) / step) % 2]);
    const frames = framesOf(block);
    return () => {
      measurer.process(fold ? downmixed(block, fold, frames) : block, frames);
      return frames;
    };
  };
  let next = end > start ? read(start) : undefined;
  for (let frame = start; next; frame += step) {
    if (cancellation?.aborted) throw new Cancelled();
    const measure = await next;
    next = frame + step < end ? read(frame + step) : undefined;
    next?.catch(() => undefined); // told when it is awaited
    const frames = measure();
    if (frames === 0) break;
    onProgress?.(Math.min(1, (frame + frames - start) / (end - start)), () => measurer.soFar());
  }
  return measurer.result();
}
