/**
 * A recording after its repairs, from any place: each step is made in segments that lie at fixed places, with
 * surroundings, so that any segment can be made by anyone in any order, kept by what it was made from, and is the same.
 */
import type { FrameSource } from "../audio/frame-source";
import { finiteSource } from "../audio/non-finite";
import { emptyPlanar, framesOf, slicePlanar, type Frames, type Hertz, type Planar, type Seconds } from "../audio/units";
import { isActive, repairNamed, repairSettings, regionsOf, type RepairStep } from ".";
import type { RepairWork } from "./repair";
import { repairsKey } from "./repairs-key";
import { blendIntoRegion, hullOf, DEFAULT_FADE, regionReach } from "./time-frequency-region";

const SEGMENT: Seconds = 8;
/** Segments that each step keeps at hand. */
const AT_HAND = 3;

export const segmentFrames = (sampleRate: Hertz): Frames => Math.round(SEGMENT * sampleRate);

/** Where segments are kept by what they were made from; shared between threads or not. */
export interface SegmentStore {
  get(key: string): Promise<Planar | undefined>;
  put(key: string, block: Planar): void;
}

export interface RepairedOptions {
  /** What the recording's content is known by: part of each key. */
  content: string;
  store?: SegmentStore | undefined;
}

export const segmentKey = (stepsKey: string, segment: number): string => `${stepsKey}/${segment}`;

/** The recording, its samples all finite, through those of the steps that do something; itself if nothing is to be done. */
export function repairedSource(
  source: FrameSource,
  steps: readonly RepairStep[],
  options: RepairedOptions,
): FrameSource {
  const atWork = steps.filter(isActive);
  return atWork.reduce(
    (input: FrameSource, step, i) =>
      stepSource(input, step, { ...options, key: repairsKey(options.content, atWork.slice(0, i + 1)) }),
    finiteSource(source),
  );
}

function stepSource(
  input: FrameSource,
  step: RepairStep,
  { store, key }: RepairedOptions & { key: string },
): FrameSource {
  const { sampleRate, channels, frames } = input;
  const definition = repairNamed(step.type);
  const settings = repairSettings(step);
  const where = regionsOf(step, sampleRate);
  let work: Promise<RepairWork> | undefined;
  const prepared = async (): Promise<RepairWork> => {
    await definition.prepare?.();
    return definition.create(settings, step.learned, { sampleRate, channels, regions: where });
  };
  const fade = definition.edges?.(settings).seconds ?? DEFAULT_FADE;
  const reach = regionReach(where, sampleRate);
  const surroundings = Math.ceil(definition.contextSeconds(settings, step.learned) * sampleRate) + reach;
  const length = segmentFrames(sampleRate);
  const atHand = new Map<number, Promise<Planar>>();

  const make = async (segment: number): Promise<Planar> => {
    const start = segment * length;
    const end = Math.min(frames, start + length);
    const hull = hullOf(where, start, end);
    if (!hull) return owned(await input.read(start, end - start));
    const first = hull.start - surroundings;
    const held = await readAround(input, first, hull.end + surroundings);
    const place = {
      first,
      from: surroundings,
      to: hull.end - first,
      heldFrom: Math.max(0, -first),
      heldTo: Math.min(framesOf(held), frames - first),
    };
    const block = owned(held);
    work ??= prepared();
    const run = await work;
    run(block, { ...place, from: place.from - reach, to: place.to + reach });
    if (where.length + step.excludedRegions.length > 0)
      blendIntoRegion(held, block, { where, except: step.excludedRegions, fade }, place, sampleRate, reach);
    if (hull.start === start && hull.end === end) return owned(slicePlanar(block, place.from, place.to));
    const out = owned(await input.read(start, end - start));
    out.forEach((x, c) => x.set(block[c]!.subarray(place.from, place.to), hull.start - start));
    return out;
  };

  const segmentAt = (segment: number): Promise<Planar> => {
    const kept = atHand.get(segment);
    if (kept) {
      atHand.delete(segment);
      atHand.set(segment, kept);
      return kept;
    }
    const made = (async () => {
      const known = await store?.get(segmentKey(key, segment));
      if (known) return known;
      const block = await make(segment);
      store?.put(segmentKey(key, segment), block);
      return block;
    })();
    atHand.set(segment, made);
    made.catch(() => atHand.delete(segment));
    for (const oldest of atHand.keys()) {
      if (atHand.size <= AT_HAND) break;
      atHand.delete(oldest);
    }
    return made;
  };

  return {
    sampleRate,
    channels,
    frames,
    read: (start, count) => readSegments(start, count, { frames, channels, length, segmentAt }),
  };
}

interface Segmented {
  frames: Frames;
  channels: number;
  length: Frames;
  segmentAt(segment: number): Promise<Planar>;
}

/** Frames out of segments: views where one segment holds them all. */
async function readSegments(
  start: Frames,
  count: Frames,
  { frames, channels, length, segmentAt }: Segmented,
): Promise<Planar> {
  const end = Math.min(frames, start + count);
  if (end <= start) return emptyPlanar(channels, 0);
  const firstSegment = Math.floor(start / length);
  if (Math.floor((end - 1) / length) === firstSegment)
    return slicePlanar(await segmentAt(firstSegment), start - firstSegment * length, end - firstSegment * length);
  const out = emptyPlanar(channels, end - start);
  for (let segment = firstSegment; segment * length < end; segment++) {
    const block = await segmentAt(segment);
    const from = Math.max(start, segment * length);
    const to = Math.min(end, segment * length + framesOf(block));
    out.forEach((x, c) => x.set(block[c]!.subarray(from - segment * length, to - segment * length), from - start));
  }
  return out;
}

const owned = (block: Planar): Planar => block.map((x) => x.slice());

/** Frames `start`…`end` of a recording, silence where it has none. */
export async function readAround(input: FrameSource, start: Frames, end: Frames): Promise<Planar> {
  const out = emptyPlanar(input.channels, end - start);
  const from = Math.max(0, start);
  const block = await input.read(from, Math.max(0, Math.min(end, input.frames) - from));
  out.forEach((x, c) => x.set(block[c]!, from - start));
  return out;
}
