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
  peaks: 8,
  heldPeaks: 8 + MAX_CHANNELS,
} as const;
const METER_VALUES = 8 + 2 * MAX_CHANNELS;

export type MeterName =
  "position" | "momentaryLufs" | "shortTermLufs" | "integratedLufs" | "correlation" | "reductionDb" | "deviceFrame";

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
  /** True peaks in dBTP of one channel: of the last moment, and the highest since the meters were reset. */
  peak(channel: number): { nowDb: number; heldDb: number } {
    return { nowDb: this.#meter[METER.peaks + channel]!, heldDb: this.#meter[METER.heldPeaks + channel]! };
  }
  setPeak(channel: number, nowDb: number, heldDb: number): void {
    this.#meter[METER.peaks + channel] = nowDb;
    this.#meter[METER.heldPeaks + channel] = heldDb;
  }
  clearMeter(): void {
    const { position, deviceFrame } = METER;
    const kept = [this.#meter[position]!, this.#meter[deviceFrame]!];
    this.#meter.fill(-Infinity);
    this.#meter[METER.correlation] = NaN;
    this.#meter[METER.reductionDb] = 0;
    this.#meter[position] = Number.isFinite(kept[0]) ? kept[0]! : 0;
    this.#meter[deviceFrame] = Number.isFinite(kept[1]) ? kept[1]! : 0;
  }
}
