import { correlationOf } from "@core/measure/correlation";
import { integratedLoudness, loudnessRange, lufsOf } from "@core/measure/gating";
import type { StreamFormat } from "@core/audio/stream-format";
import { RunningLoudness } from "@core/measure/running-loudness";
import { TruePeakChannel } from "@core/measure/true-peak";
import { gainToDb, powerToDb } from "@core/audio/decibel";
import { emptyPlanar, slicePlanar, type Planar } from "@core/audio/units";
import { framesBetween, type Ring } from "./ring";

const CORRELATION_SECONDS = 0.4;
const RMS_SECONDS = 0.3;
const SPAN = 4096;
/** Quieter sides are silent: −80 dBFS. */
const LEAST_MEAN_SQUARE = 1e-8;
/** The range is told once a second: it sorts all of the past. */
const POINTS_PER_RANGE = 10;
/** The peak of the moment falls by this from one call to the next without a new one. */
const FALL_DB = 1;

/** Means that forget, over a time. */
class Fading {
  readonly means: Float64Array;
  #weight = 0;

  constructor(
    count: number,
    readonly frames: number,
  ) {
    this.means = new Float64Array(count);
  }

  /** Makes room for a block: what came before weighs less. */
  forget(frames: number): void {
    const keep = Math.exp(-frames / this.frames);
    this.#weight = (1 - keep) / frames;
    for (let i = 0; i < this.means.length; i++) this.means[i]! *= keep;
  }

  /** Adds the sum over the block that room was made for. */
  add(index: number, sum: number): void {
    this.means[index]! += this.#weight * sum;
  }
}

function product(a: Float32Array, b: Float32Array): number {
  let sum = 0;
  for (let i = 0; i < a.length; i++) sum += a[i]! * b[i]!;
  return sum;
}

/** The meters, on what was heard: reads behind the audio thread and writes what it finds into the shared memory. */
export class LiveMeter {
  readonly #block: Planar;
  readonly #sideBlock = emptyPlanar(2, SPAN);
  #loudness!: RunningLoudness;
  #peaks!: TruePeakChannel[];
  #held!: Float64Array;
  /** l², r², lr of the two sides. */
  #sides!: Fading;
  #squares!: Fading;
  /** x·y of the pairs of channels, the lower one first. */
  #products!: Fading;
  #highest = { momentary: -Infinity, shortTerm: -Infinity, peak: 0 };
  #metered: number;
  #points = 0;

  constructor(
    readonly ring: Ring,
    readonly format: StreamFormat,
  ) {
    this.#block = emptyPlanar(ring.channels, SPAN);
    this.#metered = ring.read;
    this.#begin();
  }

  #begin(): void {
    const { sampleRate, layout } = this.format;
    const channels = layout.speakers.length;
    this.#loudness = new RunningLoudness(this.format);
    this.#peaks = layout.speakers.map(() => new TruePeakChannel());
    this.#held = new Float64Array(channels);
    this.#sides = new Fading(3, CORRELATION_SECONDS * sampleRate);
    this.#squares = new Fading(channels, RMS_SECONDS * sampleRate);
    this.#products = new Fading(channels * channels, CORRELATION_SECONDS * sampleRate);
    this.#highest = { momentary: -Infinity, shortTerm: -Infinity, peak: 0 };
    this.#points = 0;
  }

  /** Starts all figures afresh. */
  reset(): void {
    this.#begin();
    this.ring.clearMeter();
  }

  /** Takes in what was heard since the last call. */
  update(): void {
    const { ring } = this;
    const read = ring.read;
    let left = framesBetween(read, this.#metered);
    if (left <= 0) return;
    while (left > 0) {
      const count = Math.min(left, SPAN);
      for (let c = 0; c < ring.channels; c++) ring.take(2 + c, this.#metered, this.#block[c]!.subarray(0, count));
      const block = slicePlanar(this.#block, 0, count);
      this.#loudness.process(block, count);
      block.forEach((channel, c) => this.#peaks[c]!.process(channel, count));
      this.#addChannels(block, count);
      this.#addSides(count);
      this.#metered = (this.#metered + count) | 0;
      left -= count;
    }
    this.#tellLoudness();
    this.#tellChannels();
  }

  #addChannels(block: Planar, count: number): void {
    this.#squares.forget(count);
    this.#products.forget(count);
    const channels = block.length;
    for (let a = 0; a < channels; a++) {
      this.#squares.add(a, product(block[a]!, block[a]!));
      for (let b = a; b < channels; b++) this.#products.add(a * channels + b, product(block[a]!, block[b]!));
    }
  }

  #addSides(count: number): void {
    const [l, r] = this.#sideBlock.map((side, index) => {
      const part = side.subarray(0, count);
      this.ring.take(index, this.#metered, part);
      return part;
    }) as [Float32Array, Float32Array];
    this.#sides.forget(count);
    this.#sides.add(0, product(l, l));
    this.#sides.add(1, product(r, r));
    this.#sides.add(2, product(l, r));
  }

  #tellLoudness(): void {
    const { ring } = this;
    const { windows } = this.#loudness;
    const { momentary, shortTerm } = windows.now();
    const frame = ring.meter("position");
    const highest = this.#highest;
    for (const [name, power, most, where] of [
      ["momentary", momentary, "momentaryMaxLufs", "momentaryMaxFrame"],
      ["shortTerm", shortTerm, "shortTermMaxLufs", "shortTermMaxFrame"],
    ] as const) {
      const level = lufsOf(power);
      ring.setMeter(`${name}Lufs`, level);
      if (level <= highest[name]) continue;
      highest[name] = level;
      ring.setMeter(most, level);
      ring.setMeter(where, frame);
    }
    const points = windows.momentary();
    if (points.length === this.#points) return;
    this.#points = points.length;
    ring.setMeter("integratedLufs", integratedLoudness(points));
    if (points.length % POINTS_PER_RANGE === 0) ring.setMeter("rangeLu", loudnessRange(windows.shortTerm()) ?? NaN);
  }

  #tellChannels(): void {
    const { ring } = this;
    const channels = ring.channels;
    const { means } = this.#products;
    this.#peaks.forEach((channel, c) => {
      const now = channel.take();
      if (now > this.#held[c]!) this.#held[c] = now;
      if (now > this.#highest.peak) {
        this.#highest.peak = now;
        ring.setMeter("truePeakMax", gainToDb(now));
        ring.setMeter("truePeakFrame", ring.meter("position"));
      }
      // Between two scans of the channel there is no new peak: the last one stands, and falls.
      const shown = now > 0 ? gainToDb(now) : ring.channel(c).nowDb - FALL_DB;
      ring.setChannel(c, shown, gainToDb(this.#held[c]!), powerToDb(this.#squares.means[c]!));
      for (let a = 0; a < c; a++) {
        const energy = (channel: number) => means[channel * channels + channel]!;
        ring.setPair(a, c, correlationOf(means[a * channels + c]!, energy(a), energy(c)) ?? NaN);
      }
    });
    const [left, right, cross] = this.#sides.means as unknown as [number, number, number];
    // What is left of a sound that has ended says nothing.
    const sounds = Math.min(left, right) > LEAST_MEAN_SQUARE;
    ring.setMeter("correlation", (sounds ? correlationOf(cross, left, right) : null) ?? NaN);
    ring.setMeter("balanceDb", sounds ? powerToDb(right) - powerToDb(left) : NaN);
  }
}
