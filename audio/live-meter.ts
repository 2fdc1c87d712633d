import { integratedLoudness, lufsOf } from "@core/measure/gating";
import { correlationOf } from "@core/measure/correlation";
import { RunningLoudness } from "@core/measure/running-loudness";
import type { StreamFormat } from "@core/measure/measurement";
import { TruePeakChannel } from "@core/measure/true-peak";
import { gainToDb } from "@core/signal/decibel";
import { emptyPlanar, slicePlanar } from "@core/signal/units";
import { framesBetween, type Ring } from "./ring";

const CORRELATION_SECONDS = 0.4;
const SPAN = 4096;

/** The meters, on what was heard: reads behind the audio thread and writes what it finds into the shared memory. */
export class LiveMeter {
  readonly #block;
  readonly #sides = [new Float32Array(SPAN), new Float32Array(SPAN)] as const;
  #loudness: RunningLoudness;
  #peaks: TruePeakChannel[];
  #held: number[];
  #sums = { cross: 0, left: 0, right: 0 };
  #metered: number;
  #points = 0;

  constructor(
    readonly ring: Ring,
    readonly format: StreamFormat,
  ) {
    this.#block = emptyPlanar(ring.channels, SPAN);
    this.#metered = ring.read;
    this.#loudness = new RunningLoudness(format);
    this.#peaks = format.layout.speakers.map(() => new TruePeakChannel());
    this.#held = format.layout.speakers.map(() => 0);
  }

  /** Starts all figures afresh. */
  reset(): void {
    this.#loudness = new RunningLoudness(this.format);
    this.#peaks = this.format.layout.speakers.map(() => new TruePeakChannel());
    this.#held.fill(0);
    this.#points = 0;
    this.#sums = { cross: 0, left: 0, right: 0 };
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
      this.#correlate(count);
      this.#metered = (this.#metered + count) | 0;
      left -= count;
    }
    this.#tell();
  }

  #correlate(count: number): void {
    const [l, r] = this.#sides;
    this.ring.take(0, this.#metered, l.subarray(0, count));
    this.ring.take(1, this.#metered, r.subarray(0, count));
    const sums = this.#sums;
    const keep = Math.exp(-count / (CORRELATION_SECONDS * this.format.sampleRate));
    sums.cross *= keep;
    sums.left *= keep;
    sums.right *= keep;
    for (let i = 0; i < count; i++) {
      sums.cross += l[i]! * r[i]!;
      sums.left += l[i]! * l[i]!;
      sums.right += r[i]! * r[i]!;
    }
  }

  #tell(): void {
    const { ring } = this;
    const { momentary, shortTerm } = this.#loudness.windows.now();
    ring.setMeter("momentaryLufs", lufsOf(momentary));
    ring.setMeter("shortTermLufs", lufsOf(shortTerm));
    const points = this.#loudness.windows.momentary();
    if (points.length !== this.#points) {
      this.#points = points.length;
      ring.setMeter("integratedLufs", integratedLoudness(points));
    }
    ring.setMeter("correlation", correlationOf(this.#sums.cross, this.#sums.left, this.#sums.right) ?? NaN);
    this.#peaks.forEach((channel, c) => {
      const now = channel.take();
      if (now > this.#held[c]!) this.#held[c] = now;
      // Between two scans of the channel there is no new peak: the last one stands.
      const shown = now > 0 ? gainToDb(now) : ring.peak(c).nowDb - 1;
      ring.setPeak(c, shown, gainToDb(this.#held[c]!));
    });
  }
}
