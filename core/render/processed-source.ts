/**
 * An item after its repairs, its pieces and its chain: what all its masters are made from. Long items are worked on in
 * segments at fixed places, each with the chain's whole memory as run-up, so that several workers together give the
 * very bytes that one gives.
 */
import { editListSource } from "../edit-list/edit-list-source";
import type { Clip } from "../edit-list/clip";
import type { FrameSource } from "../audio/frame-source";
import type { ChainEntry } from "../processors";
import { isActive, type RepairStep } from "../repair";
import { repairedSource } from "../repair/repaired-source";
import type { Layout } from "../audio/layout";
import { framesOf, joinedPlanar, type Frames, type Planar, type Seconds } from "../audio/units";
import { ChainReader } from "./chain-reader";
import { chainMemorySeconds } from "./chain-stage";
import { BLOCK_FRAMES, type StreamRange } from "../audio/stage";

/** Long enough that the run-up is little, short enough that many can work. */
export const RENDER_SEGMENT: Seconds = 300;

export interface Processing {
  repairs: readonly RepairStep[];
  clips?: readonly Clip[] | null | undefined;
  chain: readonly ChainEntry[];
}

/** Whether the item is its recording, sample for sample. */
export const isUnprocessed = ({ repairs, clips, chain }: Processing): boolean =>
  !clips && chain.every((entry) => entry.bypass) && !repairs.some(isActive);

/** The stretches that are worked on by themselves. */
export function renderSegments(frames: Frames, sampleRate: number): StreamRange[] {
  const length = RENDER_SEGMENT * sampleRate;
  const count = Math.max(1, Math.ceil(frames / length));
  return Array.from({ length: count }, (_, i) => ({ start: i * length, end: Math.min(frames, (i + 1) * length) }));
}

/** The recording after repairs and pieces, before the chain. */
export const preparedSource = (source: FrameSource, { repairs, clips }: Processing): FrameSource =>
  editListSource(repairedSource(source, repairs, { content: "" }), clips);

/**
 * Reads in order, or from anywhere with the run-up that it takes.
 * @param keys names of the external keys that the source carries behind its own channels
 * @throws Error that names a processor that failed
 */
export function processedSource(
  source: FrameSource,
  work: Processing,
  layout: Layout,
  keys: readonly string[] = [],
): FrameSource {
  const prepared = preparedSource(source, work);
  if (work.chain.every((entry) => entry.bypass)) return prepared;
  const { sampleRate, frames } = prepared;
  const channels = layout.speakers.length;
  const format = { sampleRate, layout, keys };
  const segments = renderSegments(frames, sampleRate);
  const runUp = Math.ceil(chainMemorySeconds(work.chain) * sampleRate);
  const range = { start: 0, end: frames };
  let reader: ChainReader | null = null;
  let segment: StreamRange | undefined;

  const readerAt = (start: Frames): ChainReader => {
    const wanted = segments[Math.min(segments.length - 1, Math.floor(start / (RENDER_SEGMENT * sampleRate)))]!;
    if (reader && segment === wanted && reader.position === start) return reader;
    // In the middle of a segment, the samples are those of a read from its beginning: it starts there again.
    segment = wanted;
    reader = new ChainReader(prepared, range, work.chain, format, wanted.start, runUp, BLOCK_FRAMES);
    return reader;
  };
  return {
    sampleRate,
    frames,
    channels,
    async read(start, count) {
      const parts: Planar[] = [];
      let at = start;
      const end = Math.min(frames, start + count);
      while (at < end) {
        const here = readerAt(at);
        while (here.position < at) await here.read(Math.min(BLOCK_FRAMES, at - here.position));
        const part = await here.read(Math.min(end, segment!.end) - at);
        const [failure] = here.failures;
        if (failure) throw new Error(`${failure.why} Bypass it or change its settings, and render again.`);
        if (framesOf(part) === 0) break;
        parts.push(part);
        at += framesOf(part);
      }
      return joinedPlanar(parts, channels);
    },
  };
}
