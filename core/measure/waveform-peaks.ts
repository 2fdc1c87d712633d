/**
 * The overview of a recording: smallest, largest and RMS sample of each channel in bins that grow eightfold from
 * level to level. Made in the same pass as the measurements; the finest level is drained while it grows, so that
 * memory holds only the coarser ones, a seventh of it.
 */
import type { Frames, Planar } from "../audio/units";

/** Frames in a bin of the finest level. */
export const BASE_BIN: Frames = 256;
/** Each level has bins this many times longer. */
export const LEVEL_FACTOR = 8;
/** Values a bin and channel: min, max, RMS. */
export const VALUES = 3;
/** Levels stop when they would have fewer bins than this. */
const SMALLEST_LEVEL = 64;

interface Bin {
  frames: number;
  min: Float32Array;
  max: Float32Array;
  square: Float64Array;
}

/** One level as it lies in the file: [bin][channel][min, max, rms], float32. */
class Level {
  #values: Float32Array;
  #length = 0;
  readonly #min: Float32Array;
  readonly #max: Float32Array;
  readonly #square: Float64Array;
  #parts = 0;
  #frames = 0;

  constructor(
    readonly channels: number,
    readonly partsPerBin: number,
  ) {
    this.#values = new Float32Array(channels * VALUES * 256);
    this.#min = new Float32Array(channels).fill(Infinity);
    this.#max = new Float32Array(channels).fill(-Infinity);
    this.#square = new Float64Array(channels);
  }

  /** Adds one part (a frame run, or a bin of the finer level) of one channel; `square` is a sum over frames. */
  add(channel: number, min: number, max: number, square: number): void {
    if (min < this.#min[channel]!) this.#min[channel] = min;
    if (max > this.#max[channel]!) this.#max[channel] = max;
    this.#square[channel]! += square;
  }

  /** Ends a part of `frames` frames of all channels; returns the bin if that completed one. */
  endPart(frames: number, force: boolean): Bin | undefined {
    this.#parts++;
    this.#frames += frames;
    if (this.#parts < this.partsPerBin && !force) return undefined;
    if (this.#length + this.channels * VALUES > this.#values.length) {
      const larger = new Float32Array(this.#values.length * 2);
      larger.set(this.#values);
      this.#values = larger;
    }
    for (let c = 0; c < this.channels; c++) {
      this.#values[this.#length++] = this.#min[c]!;
      this.#values[this.#length++] = this.#max[c]!;
      this.#values[this.#length++] = Math.sqrt(this.#square[c]! / this.#frames);
    }
    const bin = { frames: this.#frames, min: this.#min.slice(), max: this.#max.slice(), square: this.#square.slice() };
    this.#parts = 0;
    this.#frames = 0;
    this.#min.fill(Infinity);
    this.#max.fill(-Infinity);
    this.#square.fill(0);
    return bin;
  }

  get pending(): boolean {
    return this.#parts > 0;
  }

  take(): Float32Array {
    const taken = this.#values.slice(0, this.#length);
    this.#length = 0;
    return taken;
  }
}

/** Builds an overview from blocks of any size. */
export class WaveformPeaksBuilder {
  readonly #levels: Level[];
  #position: Frames = 0;

  constructor(
    readonly channels: number,
    readonly expectedFrames: Frames,
  ) {
    let bins = expectedFrames / BASE_BIN;
    this.#levels = [new Level(channels, 1)];
    while (bins / LEVEL_FACTOR >= SMALLEST_LEVEL) {
      bins /= LEVEL_FACTOR;
      this.#levels.push(new Level(channels, LEVEL_FACTOR));
    }
  }

  process(block: Planar, frames: Frames): void {
    let from = 0;
    while (from < frames) {
      const binEnd = (Math.floor(this.#position / BASE_BIN) + 1) * BASE_BIN;
      const to = Math.min(frames, from + binEnd - this.#position);
      for (let c = 0; c < this.channels; c++) {
        const x = block[c]!;
        let min = Infinity;
        let max = -Infinity;
        let square = 0;
        for (let i = from; i < to; i++) {
          const v = x[i]!;
          if (v < min) min = v;
          if (v > max) max = v;
          square += v * v;
        }
        this.#levels[0]!.add(c, min, max, square);
      }
      this.#position += to - from;
      from = to;
      if (this.#position === binEnd) this.#endBin(0, BASE_BIN);
    }
  }

  #endBin(level: number, frames: Frames, force = false): void {
    const bin = this.#levels[level]!.endPart(frames, force);
    const next = this.#levels[level + 1];
    if (!bin || !next) return;
    for (let c = 0; c < this.channels; c++) next.add(c, bin.min[c]!, bin.max[c]!, bin.square[c]!);
    this.#endBin(level + 1, bin.frames, force);
  }

  /** The finest level's bins since the last call, to be written out. */
  drain(): Float32Array {
    return this.#levels[0]!.take();
  }

  /** Ends the stream: completes the last, shorter bins. The finest level's rest is drained by the caller. */
  finish(): Float32Array[] {
    const rest = this.#position % BASE_BIN;
    if (rest > 0) this.#endBin(0, rest, true);
    this.#levels.forEach((level, index) => {
      if (level.pending) this.#endBin(index, 0, true);
    });
    return this.#levels.slice(1).map((level) => level.take());
  }
}
