/** Where a step applies: the whole, ranges in time, or boxes in time and frequency, all channels or one. */
import * as z from "zod";
import { sinCosTurns } from "../math/deterministic-math";
import type { Frames, Hertz, Planar, Seconds } from "../audio/units";
import type { BlockContext } from "../audio/block-context";
import { frameLengthNear, forChannelPairs, Stft } from "../dsp/stft";

export const regionSchema = z
  .strictObject({
    /** Frames of the recording; `end` is one past the last. */
    start: z.number().int().nonnegative(),
    end: z.number().int().positive(),
    /** The band, for a box; absent for all frequencies. */
    lowHz: z.number().nonnegative().optional(),
    highHz: z.number().positive().optional(),
    /** Corners of a shape drawn by hand, within the rest. */
    outline: z
      .array(z.strictObject({ frame: z.number().int(), hertz: z.number().nonnegative() }))
      .min(3)
      .max(400)
      .optional(),
    /** One channel, from 0; absent for all. */
    channel: z.number().int().min(0).max(23).optional(),
  })
  .refine(({ start, end }) => end > start, "the range ends before it begins")
  .refine(({ lowHz = 0, highHz = Infinity }) => highHz > lowHz, "the band ends below where it begins");
export type Region = z.infer<typeof regionSchema>;

/** What a step changes comes and goes over this long, within the region. */
export const DEFAULT_FADE: Seconds = 0.005;
/** Frames in which bands are told apart: 21 ms, a compromise between edges in time and in frequency. */
const BAND_FRAME: Seconds = 0.0213;

const hasBand = ({ lowHz, highHz }: Region): boolean => lowHz !== undefined || highHz !== undefined;

/** How far beyond what is asked for changes must be known, so that they can be confined to bands. */
export const regionReach = (where: readonly Region[], sampleRate: Hertz): Frames =>
  where.some(hasBand) ? frameLengthNear(BAND_FRAME, sampleRate) : 0;

/** Frames of the recording between which a step changes anything, within `start`…`end`; `null` if nowhere. */
export function hullOf(where: readonly Region[], start: Frames, end: Frames): { start: Frames; end: Frames } | null {
  if (where.length === 0) return { start, end };
  const inside = where.filter((region) => region.start < end && region.end > start);
  if (inside.length === 0) return null;
  return {
    start: Math.max(start, Math.min(...inside.map((region) => region.start))),
    end: Math.min(end, Math.max(...inside.map((region) => region.end))),
  };
}

/** How much of a change takes effect at `frame`: 1 inside, 0 outside, a raised cosine at the edges. */
function weightAt(region: Region, frame: Frames, fade: Frames): number {
  const depth = Math.min(frame - region.start + 1, region.end - frame);
  if (depth <= 0) return 0;
  const width = Math.min(fade, (region.end - region.start) / 2);
  return depth >= width ? 1 : 0.5 - 0.5 * sinCosTurns(depth / (2 * width)).cos;
}

/**
 * Confines the change from `before` to `after` to the regions, without those that are left alone: `after` becomes `before` elsewhere, to the bit. Both
 * cover the same frames; the change must be known as far around `place` as `regionReach` tells.
 */
export function blendIntoRegion(
  before: Planar,
  after: Planar,
  { where, except, fade: seconds }: { where: readonly Region[]; except: readonly Region[]; fade: Seconds },
  place: BlockContext,
  sampleRate: Hertz,
  reach: Frames,
): void {
  const fade = Math.max(1, Math.round(seconds * sampleRate));
  const [low, high] = [Math.max(0, place.from - reach), Math.min(before[0]!.length, place.to + reach)];
  const sums = before.map((x) => new Float32Array(x.length));
  const whole: Region = { start: place.first + low - fade, end: place.first + high + fade };
  for (const region of where.length > 0 ? where : [whole]) {
    const from = Math.max(low, region.start - place.first);
    const to = Math.min(high, region.end - place.first);
    if (to <= from) continue;
    const change = before.map((x, c) => {
      const d = new Float32Array(x.length);
      if (region.channel !== undefined && region.channel !== c) return d;
      for (let i = from; i < to; i++) d[i] = (after[c]![i]! - x[i]!) * weightAt(region, place.first + i, fade);
      return d;
    });
    if (hasBand(region)) keepBand(change, region, place, sampleRate);
    sums.forEach((sum, c) => {
      // Where regions overlap, the larger change holds: nothing is done twice.
      for (let i = place.from; i < place.to; i++)
        if (Math.abs(change[c]![i]!) > Math.abs(sum[i]!)) sum[i] = change[c]![i]!;
    });
  }
  const beside = Math.max(1, Math.round(DEFAULT_FADE * sampleRate));
  for (const region of except) {
    const from = Math.max(place.from, region.start - beside - place.first);
    const to = Math.min(place.to, region.end + beside - place.first);
    const around = { start: region.start - beside, end: region.end + beside };
    sums.forEach((sum, c) => {
      if (region.channel !== undefined && region.channel !== c) return;
      for (let i = from; i < to; i++) sum[i] = sum[i]! * (1 - weightAt(around, place.first + i, beside));
    });
  }
  before.forEach((x, c) => {
    for (let i = place.from; i < place.to; i++) after[c]![i] = sums[c]![i] === 0 ? x[i]! : x[i]! + sums[c]![i]!;
  });
}

/** How much of a bin of `width` around a frequency lies in a region at a frame: 0…1. */
export function shareInside(region: Region, frame: Frames, hertz: Hertz, width: Hertz): number {
  const { lowHz = 0, highHz = Infinity, outline } = region;
  const covered = (low: Hertz, high: Hertz) =>
    Math.max(0, Math.min(hertz + width / 2, high) - Math.max(hertz - width / 2, low)) / width;
  if (!outline) return Math.min(1, covered(lowHz <= 0 ? -width : lowHz, highHz));
  const crossings: Hertz[] = [];
  outline.forEach((a, i) => {
    const b = outline[(i + 1) % outline.length]!;
    if (a.frame <= frame === b.frame <= frame) return;
    crossings.push(a.hertz + ((frame - a.frame) / (b.frame - a.frame)) * (b.hertz - a.hertz));
  });
  crossings.sort((a, b) => a - b);
  let share = 0;
  for (let i = 0; i + 1 < crossings.length; i += 2) share += covered(crossings[i]!, crossings[i + 1]!);
  return Math.min(1, share);
}

function keepBand(change: Planar, region: Region, place: BlockContext, sampleRate: Hertz): void {
  const frames = new Stft(frameLengthNear(BAND_FRAME, sampleRate));
  const width = sampleRate / frames.size;
  const highest = { ...region, highHz: (region.highHz ?? Infinity) >= sampleRate / 2 ? Infinity : region.highHz };
  const gainsAt = (frame: Frames) =>
    Float32Array.from({ length: frames.bins }, (_, k) => shareInside(highest, frame, k * width, width));
  const always = gainsAt(region.start);
  forChannelPairs(change, (a, b) => {
    frames.analyse(a, b, place.first);
    for (let t = 0; t < frames.count; t++) {
      const middle = (frames.firstFrame + t) * frames.hop + frames.size / 2;
      const gains = region.outline ? gainsAt(middle) : always;
      frames.apply(t, gains, gains);
    }
    frames.synthesise(a, b, place);
  });
}
