/**
 * Faster, slower or backwards at the pitch that it has: waveform-similarity overlap-add (Verhelst & Roelands 1993).
 * Grains follow each other at their own speed; each is moved a little so that it goes on from the one before it.
 */
import { sinCosTurns } from "../math/deterministic-math";
import { emptyPlanar, framesOf, type Frames, type Hertz, type Planar } from "../audio/units";

const GRAIN_SECONDS = 0.04;
const SEARCH_SECONDS = 0.008;
/** Samples of the grains that are compared, each this many. */
const COMPARE_EVERY = 4;

/** Frames `start` … `start + count` of what is played; silence outside of it. */
export type Played = (start: Frames, count: Frames) => Promise<Planar>;

export class Shuttle {
  readonly #half: Frames;
  readonly #search: Frames;
  readonly #rise: Float32Array;
  /** The second half of the last grain, still falling. */
  #tail: Planar | undefined;
  /** Where the last grain would go on. */
  #goesOn: Frames = 0;
  /** Where the next grain is due. */
  #due: number;

  constructor(
    readonly played: Played,
    start: Frames,
    readonly speed: number,
    sampleRate: Hertz,
  ) {
    this.#half = Math.round((GRAIN_SECONDS * sampleRate) / 2);
    this.#search = Math.round(SEARCH_SECONDS * sampleRate);
    this.#rise = Float32Array.from(
      { length: this.#half },
      (_, i) => 0.5 - 0.5 * sinCosTurns((i + 0.5) / this.#half / 2).cos,
    );
    this.#due = start;
  }

  /** Frames that each `next` gives; it moves on by this times the speed. */
  get step(): Frames {
    return this.#half;
  }

  /** Frame that the next step begins with. */
  get position(): Frames {
    return Math.round(this.#due);
  }

  async next(): Promise<Planar> {
    const half = this.#half;
    const due = Math.round(this.#due);
    this.#due += half * this.speed;
    const from = due - this.#search;
    const around = await this.played(from, 2 * half + 2 * this.#search);
    const shift = this.#tail ? await this.#bestShift(around) : this.#search;
    const out = emptyPlanar(around.length, half);
    const tail = emptyPlanar(around.length, half);
    around.forEach((x, c) => {
      for (let i = 0; i < half; i++) {
        const rise = this.#rise[i]!;
        out[c]![i] = this.#tail ? rise * x[shift + i]! + (1 - rise) * this.#tail[c]![i]! : x[shift + i]!;
        tail[c]![i] = x[shift + half + i]!;
      }
    });
    this.#tail = tail;
    this.#goesOn = from + shift + half;
    return out;
  }

  /** Where in `around` the waveform is most like what would have followed the last grain. */
  async #bestShift(around: Planar): Promise<Frames> {
    const wanted = await this.played(this.#goesOn, this.#half);
    let best = this.#search;
    let highest = -Infinity;
    const length = Math.min(framesOf(wanted), this.#half);
    for (let shift = 0; shift <= 2 * this.#search; shift += 2) {
      let product = 0;
      let energy = 1e-9;
      for (let c = 0; c < Math.min(2, around.length); c++) {
        const x = around[c]!;
        const y = wanted[c]!;
        for (let i = 0; i < length; i += COMPARE_EVERY) {
          product += x[shift + i]! * y[i]!;
          energy += x[shift + i]! * x[shift + i]!;
        }
      }
      const likeness = product / Math.sqrt(energy);
      if (likeness > highest) {
        highest = likeness;
        best = shift;
      }
    }
    return best;
  }
}
