/**
 * The memory that the listening engine's threads share. Frames are counted on one endless "device" axis: what was
 * written ahead may be written anew (a change of a setting, a jump), as long as it has not been read.
 */

/** Frames kept: those still to be heard, and behind them those just heard, for the meters. */
export const RING_FRAMES = 32_768;
const MASK = RING_FRAMES - 1;

const CONTROL = { read: 0, write: 1, playing: 2, underruns: 3, quanta: 4 } as const;
const CONTROL_BYTES = 64;

export const MAX_CHANNELS = 24;
/** What the meters say, as of `frame`. All levels in dB; −Infinity is silence. */
const METER = {
  /** Frame of the source that is being heard. */
  position: 0,
  momentaryLufs: 1,
  shortTermLufs: 2,
  integratedLufs: 3,
  correlation: 4,
  reductionDb: 5,
  /** Device frame at which `position` holds. */
  deviceFrame: 6,
  /** Frames of the source that pass in one of the device. */
  speed: 7,
  rangeLu: 8,
  momentaryMaxLufs: 9,
  shortTermMaxLufs: 10,
  /** Frames of the source where these were reached. */
  momentaryMaxFrame: 11,
  shortTermMaxFrame: 12,
  truePeakFrame: 13,
  truePeakMax: 14,
  balanceDb: 15,
} as const;
export type MeterName = keyof typeof METER;
/** Tables of one value a channel: true peaks of the moment and held, RMS over 300 ms. */
const CHANNEL_TABLES = ["peaks", "heldPeaks", "rms"] as const;
const FIRST_TABLE = 16;
const PAIRS_AT = FIRST_TABLE + CHANNEL_TABLES.length * MAX_CHANNELS;
/** Gain reductions of the chain's processors and their bands. */
export const MAX_REDUCTIONS = 128;
const REDUCTIONS_AT = PAIRS_AT + (MAX_CHANNELS * (MAX_CHANNELS - 1)) / 2;
const METER_VALUES = REDUCTIONS_AT + MAX_REDUCTIONS;
const tableAt = (table: (typeof CHANNEL_TABLES)[number]): number =>
  FIRST_TABLE + CHANNEL_TABLES.indexOf(table) * MAX_CHANNELS;
/** Where a pair of channels is told, the lower one first. */
export const pairIndex = (a: number, b: number): number => (b * (b - 1)) / 2 + a;

/** Frames from `b` to `a`; the counters wrap at 2³². */
export const framesBetween = (a: number, b: number): number => (a - b) | 0;

export class Ring {
  readonly #control: Int32Array;
  readonly #meter: Float64Array;
  /** Left and right of what goes to the device, then the programme's own channels. */
  readonly planes: Float32Array[];

  constructor(
    readonly memory: SharedArrayBuffer,
    readonly channels: number,
  ) {
    this.#control = new Int32Array(memory, 0, CONTROL_BYTES / 4);
    this.#meter = new Float64Array(memory, CONTROL_BYTES, METER_VALUES);
    const first = CONTROL_BYTES + METER_VALUES * 8;
    this.planes = Array.from(
      { length: 2 + channels },
      (_, plane) => new Float32Array(memory, first + plane * RING_FRAMES * 4, RING_FRAMES),
    );
  }

  static create(channels: number): Ring {
    const bytes = CONTROL_BYTES + METER_VALUES * 8 + (2 + channels) * RING_FRAMES * 4;
    const ring = new Ring(new SharedArrayBuffer(bytes), channels);
    ring.clearMeter();
    return ring;
  }

  get read(): number {
    return Atomics.load(this.#control, CONTROL.read);
  }
  get write(): number {
    return Atomics.load(this.#control, CONTROL.write);
  }
  set write(frame: number) {
    Atomics.store(this.#control, CONTROL.write, frame | 0);
  }
  get playing(): boolean {
    return Atomics.load(this.#control, CONTROL.playing) === 1;
  }
  set playing(on: boolean) {
    Atomics.store(this.#control, CONTROL.playing, on ? 1 : 0);
  }
  get underruns(): number {
    return Atomics.load(this.#control, CONTROL.underruns);
  }
  get quanta(): number {
    return Atomics.load(this.#control, CONTROL.quanta);
  }
  countUnderrun(): void {
    Atomics.add(this.#control, CONTROL.underruns, 1);
  }
  countQuantum(): void {
    Atomics.add(this.#control, CONTROL.quanta, 1);
  }
  advance(frames: number): void {
    Atomics.add(this.#control, CONTROL.read, frames);
  }

  /** Frames written and not yet read. */
  get ahead(): number {
    return framesBetween(this.write, this.read);
  }

  /** Puts `samples` into a plane from device frame `frame` on. */
  put(plane: number, frame: number, samples: Float32Array): void {
    const target = this.planes[plane]!;
    const at = frame & MASK;
    const first = Math.min(samples.length, RING_FRAMES - at);
    target.set(samples.subarray(0, first), at);
    if (first < samples.length) target.set(samples.subarray(first), 0);
  }

  /** Copies from a plane, from device frame `frame` on, into `out`. */
  take(plane: number, frame: number, out: Float32Array): void {
    const source = this.planes[plane]!;
    const at = frame & MASK;
    const first = Math.min(out.length, RING_FRAMES - at);
    out.set(source.subarray(at, at + first));
    if (first < out.length) out.set(source.subarray(0, out.length - first), first);
  }

  meter(name: MeterName): number {
    return this.#meter[METER[name]]!;
  }
  setMeter(name: MeterName, level: number): void {
    this.#meter[METER[name]] = level;
  }
  /** Levels of one channel: true peaks in dBTP of the last moment and since the meters began, RMS in dBFS. */
  channel(channel: number): { nowDb: number; heldDb: number; rmsDb: number } {
    return {
      nowDb: this.#meter[tableAt("peaks") + channel]!,
      heldDb: this.#meter[tableAt("heldPeaks") + channel]!,
      rmsDb: this.#meter[tableAt("rms") + channel]!,
    };
  }
  setChannel(channel: number, nowDb: number, heldDb: number, rmsDb: number): void {
    this.#meter[tableAt("peaks") + channel] = nowDb;
    this.#meter[tableAt("heldPeaks") + channel] = heldDb;
    this.#meter[tableAt("rms") + channel] = rmsDb;
  }
  /** Correlation of two channels over 400 ms; NaN where one is silent. */
  pair(a: number, b: number): number {
    return this.#meter[PAIRS_AT + pairIndex(Math.min(a, b), Math.max(a, b))]!;
  }
  setPair(a: number, b: number, correlation: number): void {
    this.#meter[PAIRS_AT + pairIndex(a, b)] = correlation;
  }
  /** Gain reduction in dB ≥ 0 of one processor or one of its bands, at its place among them. */
  reduction(place: number): number {
    return this.#meter[REDUCTIONS_AT + place]!;
  }
  setReduction(place: number, db: number): void {
    this.#meter[REDUCTIONS_AT + place] = db;
  }
  clearReductions(): void {
    this.#meter.fill(0, REDUCTIONS_AT);
  }
  /** All figures begin anew; where the programme is stays. */
  clearMeter(): void {
    const kept = (["position", "deviceFrame", "speed"] as const).map((name) => [name, this.meter(name)] as const);
    this.#meter.fill(-Infinity);
    this.#meter.fill(NaN, PAIRS_AT, REDUCTIONS_AT);
    this.clearReductions();
    this.setMeter("correlation", NaN);
    this.setMeter("balanceDb", NaN);
    this.setMeter("reductionDb", 0);
    for (const [name, value] of kept) this.setMeter(name, Number.isFinite(value) ? value : 0);
  }
}
