/** Units, as aliases: they document what a number is and cost nothing. */
export type Decibels = number;
export type Hertz = number;
export type Seconds = number;
/** A count of sample frames (one sample of every channel). */
export type Frames = number;
/** Loudness in LUFS; `null` where there is nothing to measure (silence). */
export type Lufs = number;

/** Planar audio: `[channel][frame]`, full scale ±1.0. */
export type Planar = Float32Array[];

export const emptyPlanar = (channels: number, frames: Frames): Planar =>
  Array.from({ length: channels }, () => new Float32Array(frames));

/** Views of `frames` frames from `start`: no copy. */
export const slicePlanar = (block: Planar, start: Frames, end: Frames): Planar =>
  block.map((channel) => channel.subarray(start, end));

export const framesOf = (block: Planar): Frames => block[0]?.length ?? 0;

/** Blocks of the same channels, one after the other. */
export function joinedPlanar(parts: readonly Planar[], channels: number): Planar {
  if (parts.length === 1) return parts[0]!;
  const all = emptyPlanar(
    channels,
    parts.reduce((sum, part) => sum + framesOf(part), 0),
  );
  let at = 0;
  for (const part of parts) {
    all.forEach((x, c) => x.set(part[c]!, at));
    at += framesOf(part);
  }
  return all;
}
