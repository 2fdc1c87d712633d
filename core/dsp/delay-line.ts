import type { Frames } from "../audio/units";

/** Delays one channel by whole frames, in place. */
export class DelayLine {
  readonly #held: Float32Array;

  constructor(readonly frames: Frames) {
    this.#held = new Float32Array(frames);
  }

  copyFrom(other: DelayLine): void {
    if (other.#held.length === this.#held.length) this.#held.set(other.#held);
  }

  process(x: Float32Array): void {
    const held = this.#held;
    const delay = held.length;
    if (delay === 0) return;
    if (x.length >= delay) {
      const last = x.slice(x.length - delay);
      x.copyWithin(delay, 0, x.length - delay);
      x.set(held);
      held.set(last);
      return;
    }
    const out = held.slice(0, x.length);
    held.copyWithin(0, x.length);
    held.set(x, delay - x.length);
    x.set(out);
  }
}
