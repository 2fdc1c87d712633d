/// <reference types="audioworklet" />
/** The audio thread: copies from the ring to the device, and counts. Fades over 5 ms when it starts and stops. */
import { Ring } from "./ring";

const FADE_SECONDS = 0.005;

interface Options {
  memory: SharedArrayBuffer;
  channels: number;
}

class Playback extends AudioWorkletProcessor {
  readonly #ring: Ring;
  readonly #fadeStep = 1 / (FADE_SECONDS * sampleRate);
  #gain = 0;

  constructor(options: AudioWorkletNodeOptions) {
    super();
    const { memory, channels } = options.processorOptions as Options;
    this.#ring = new Ring(memory, channels);
  }

  /** Hot: runs every 128 frames. */
  process(_inputs: Float32Array[][], outputs: Float32Array[][]): boolean {
    const [left, right] = outputs[0]!;
    if (!left || !right) return true;
    const ring = this.#ring;
    const target = ring.playing ? 1 : 0;
    if (target === 0 && this.#gain === 0) return true;
    ring.countQuantum();
    if (ring.ahead < left.length) {
      ring.countUnderrun();
      this.#gain = 0; // comes back with a fade
      return true;
    }
    const frame = ring.read;
    ring.take(0, frame, left);
    ring.take(1, frame, right);
    ring.advance(left.length);
    if (this.#gain !== target) {
      for (let i = 0; i < left.length; i++) {
        this.#gain =
          target > this.#gain ? Math.min(1, this.#gain + this.#fadeStep) : Math.max(0, this.#gain - this.#fadeStep);
        left[i]! *= this.#gain;
        right[i]! *= this.#gain;
      }
    }
    return true;
  }
}

registerProcessor("resonum-playback", Playback);
