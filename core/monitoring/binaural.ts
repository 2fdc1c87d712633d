/**
 * Speakers to two ears by a spherical head: the time between the ears after Woodworth & Schlosberg (1954), the shadow of
 * the head as one pole and one zero after Brown & Duda (1998). No measured head, no room, no pinna: directions are told
 * apart from left to right, front and back by little. For listening only.
 */
import { acos, cos } from "../math/deterministic-math";
import type { Layout, Speaker } from "../audio/layout";
import { framesOf, type Hertz, type Planar } from "../audio/units";

const HEAD_RADIUS = 0.0875; // metres
const SPEED_OF_SOUND = 343; // metres a second
const RADIANS = Math.PI / 180;
/** The shadow is deepest here, in degrees from the ear, and this deep at high frequencies. */
const DEEPEST_ANGLE = 150;
const DEEPEST_GAIN = 0.1;
const EARS = [90, -90] as const; // azimuths

/** Degrees between a speaker and an ear. */
function angleToEar({ azimuth, elevation }: Speaker, ear: number): number {
  const cosine = cos(elevation * RADIANS) * cos((azimuth - ear) * RADIANS);
  return acos(Math.max(-1, Math.min(1, cosine))) / RADIANS;
}

/** Seconds later than at the middle of the head; negative on the near side. */
function delayOf(degrees: number): number {
  const angle = degrees * RADIANS;
  const way = angle < Math.PI / 2 ? -cos(angle) : angle - Math.PI / 2;
  return (HEAD_RADIUS / SPEED_OF_SOUND) * way;
}

/** One speaker to one ear: a delay between samples (linear), then the shadow. */
class Path {
  readonly #line: Float32Array;
  readonly #whole: number;
  readonly #part: number;
  readonly #b0: number;
  readonly #b1: number;
  readonly #a1: number;
  #at = 0;
  #in = 0;
  #out = 0;

  constructor(degrees: number, sampleRate: Hertz) {
    // Both ears later by a head's radius, so that no delay is negative.
    const delay = (delayOf(degrees) + HEAD_RADIUS / SPEED_OF_SOUND) * sampleRate;
    this.#whole = Math.floor(delay);
    this.#part = delay - this.#whole;
    this.#line = new Float32Array(this.#whole + 2);
    const alpha = 1 + DEEPEST_GAIN / 2 + (1 - DEEPEST_GAIN / 2) * cos((degrees / DEEPEST_ANGLE) * Math.PI);
    const beta = (2 * SPEED_OF_SOUND) / HEAD_RADIUS;
    const k = 2 * sampleRate; // bilinear
    const a0 = beta + k;
    this.#b0 = (beta + alpha * k) / a0;
    this.#b1 = (beta - alpha * k) / a0;
    this.#a1 = (beta - k) / a0;
  }

  add(x: Float32Array, out: Float32Array): void {
    const line = this.#line;
    const size = line.length;
    for (let i = 0; i < x.length; i++) {
      line[this.#at] = x[i]!;
      const near = line[(this.#at - this.#whole + size) % size]!;
      const far = line[(this.#at - this.#whole - 1 + 2 * size) % size]!;
      const delayed = near + this.#part * (far - near);
      this.#out = this.#b0 * delayed + this.#b1 * this.#in - this.#a1 * this.#out;
      this.#in = delayed;
      out[i]! += this.#out;
      this.#at = (this.#at + 1) % size;
    }
  }
}

export class BinauralDownmix {
  readonly #paths: (Path[] | null)[];

  /** The LFE channel goes to both ears as it is; a single channel stands in front. */
  constructor(layout: Layout, sampleRate: Hertz) {
    this.#paths = layout.speakers.map((speaker) =>
      speaker.lfe ? null : EARS.map((ear) => new Path(angleToEar(speaker, ear), sampleRate)),
    );
  }

  process(block: Planar): [Float32Array, Float32Array] {
    const ears: [Float32Array, Float32Array] = [new Float32Array(framesOf(block)), new Float32Array(framesOf(block))];
    block.forEach((x, c) => {
      const paths = this.#paths[c];
      ears.forEach((out, ear) => {
        if (paths) return paths[ear]!.add(x, out);
        for (let i = 0; i < x.length; i++) out[i]! += Math.SQRT1_2 * x[i]!;
      });
    });
    return ears;
  }
}
