import type { FrameSource } from "../audio/frame-source";
import { type StreamRange } from "../audio/stage";
import { Cancelled, type Cancellation } from "../audio/cancellation";
import type { DownmixMatrix } from "../audio/downmix";
import type { Layout } from "../audio/layout";
import { Measurer, type Measured } from ".";
import { blocksAhead } from "./blocks-ahead";

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
  const measurer = new Measurer({ sampleRate: source.sampleRate, layout });
  let done = 0;
  for await (const feed of blocksAhead(source, { start, end }, fold)) {
    if (cancellation?.aborted) throw new Cancelled();
    const frames = feed(measurer);
    if (frames === 0) break;
    done += frames;
    onProgress?.(Math.min(1, done / (end - start)), () => measurer.soFar());
  }
  return measurer.result();
}
