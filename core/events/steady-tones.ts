/** Steady tones: mains hum, ringing of machines, whistles of monitors. What is said and played comes and goes. */
import { cos, exp2, log2, square } from "../math/deterministic-math";
import { Fft } from "../math/fft";
import { dbToPower, powerToDb } from "../audio/decibel";
import { framesOf, type Frames, type Hertz, type Planar, type Seconds } from "../audio/units";
import type { DetectedEvent } from "./event";

/** Size: dB above what lies beside it. */
export interface Tone extends DetectedEvent {
  hertz: Hertz;
}

/** Spectra are some so long, half over each other … */
const FRAME: Seconds = 0.35;
/** … and so many of them are looked at together: some 8 s. */
const TOGETHER = 46;
/** Fewer tell nothing: what is left at the end counts as long as there are so many. */
const ENOUGH = 16;
/** A tone is hardly less in all but this share of the frames than in half of them; notes that fade are not. */
const SELDOM = 0.15;
const FADED_DB = 3;
/** A tone stands this far above the bins from so near to so far on either side. */
const LEAST_DB = 14;
const NEAR_BINS = 4;
const FAR_BINS = 40;
const LOWEST: Hertz = 30;
/** A tone goes on where it is found again no further off than this. */
const DRIFT_BINS = 1.5;
/** More are a sound that is held. */
const MOST_TONES = 24;
/** Below everything that is recorded, so that digital silence holds no tones. */
const NOTHING = dbToPower(-150);

/** A tone in one stretch of spectra. */
interface Sighting {
  /** In bins. */
  at: number;
  sizeDb: number;
}

/** Takes a recording block by block; the first two channels of it. Memory does not grow with its length. */
export class ToneFinder {
  readonly #size: Frames;
  readonly #fft: Fft;
  readonly #window: Float64Array;
  readonly #pair: [Float32Array, Float32Array];
  readonly #re: Float64Array;
  readonly #im: Float64Array;
  #held = 0;
  /** Frame of the recording that the held begins with. */
  #at: Frames = 0;
  /** Powers, [frame][bin], and the first frame of the recording that they hold. */
  #rows: Float32Array[] = [];
  #since: Frames = 0;
  readonly #open = new Set<Tone>();
  readonly #found: Tone[] = [];

  constructor(readonly sampleRate: Hertz) {
    this.#size = exp2(Math.round(log2(FRAME * sampleRate)));
    this.#fft = new Fft(this.#size);
    this.#window = Float64Array.from({ length: this.#size }, (_, i) => 1 - cos((2 * Math.PI * (i + 0.5)) / this.#size));
    this.#re = new Float64Array(this.#size);
    this.#im = new Float64Array(this.#size);
    this.#pair = [new Float32Array(this.#size), new Float32Array(this.#size)];
  }

  process(block: Planar): void {
    const count = framesOf(block);
    const [a, b] = [block[0]!, block[1] ?? block[0]!];
    for (let from = 0; from < count;) {
      const taken = Math.min(count - from, this.#size - this.#held);
      this.#pair[0].set(a.subarray(from, from + taken), this.#held);
      this.#pair[1].set(b.subarray(from, from + taken), this.#held);
      this.#held += taken;
      from += taken;
      if (this.#held === this.#size) this.#frame();
    }
  }

  /** The strongest tones, in the order of their frequencies. */
  finish(): Tone[] {
    if (this.#rows.length >= ENOUGH) this.#look();
    const strongest = this.#found.sort((one, other) => other.sizeDb - one.sizeDb).slice(0, MOST_TONES);
    return strongest.sort((one, other) => one.hertz - other.hertz || one.start - other.start);
  }

  #frame(): void {
    const [re, im] = [this.#re, this.#im];
    for (let i = 0; i < re.length; i++) {
      re[i] = this.#pair[0][i]! * this.#window[i]!;
      im[i] = this.#pair[1][i]! * this.#window[i]!;
    }
    this.#fft.forward(re, im);
    const size = this.#size;
    const scale = 1 / square(size);
    // Of both channels together: what the one's spectrum and the other's hold, mirrored, adds up.
    const powers = new Float32Array(size / 2);
    for (let k = 1; k < size / 2; k++)
      powers[k] = scale * (square(re[k]!) + square(im[k]!) + square(re[size - k]!) + square(im[size - k]!));
    this.#rows.push(powers);
    const half = size / 2;
    for (const x of this.#pair) x.copyWithin(0, half);
    this.#held = half;
    this.#at += half;
    if (this.#rows.length === TOGETHER) this.#look();
  }

  /** Looks through the spectra that are held, and carries on the tones that were found before. */
  #look(): void {
    const { start, end } = { start: this.#since, end: this.#at + this.#size / 2 };
    const width = this.sampleRate / this.#size;
    const gone = new Set(this.#open);
    for (const { at, sizeDb } of sightings(this.#rows, LOWEST / width)) {
      const hertz = at * width;
      const known = [...this.#open].find((tone) => Math.abs(tone.hertz - hertz) < DRIFT_BINS * width);
      if (known) {
        known.end = end;
        known.sizeDb = Math.max(known.sizeDb, sizeDb);
        gone.delete(known);
      } else {
        const tone = { start, end, hertz, sizeDb };
        this.#open.add(tone);
        this.#found.push(tone);
      }
    }
    for (const tone of gone) this.#open.delete(tone);
    this.#rows = [];
    this.#since = this.#at;
  }
}

/** What each bin holds most of the time: the mean of 1/√power, turned back, in which the least count most. Hot. */
function usualPowers(rows: readonly Float32Array[]): Float32Array {
  const sums = new Float32Array(rows[0]!.length);
  for (const row of rows) for (let k = 0; k < sums.length; k++) sums[k]! += 1 / Math.sqrt(row[k]! + NOTHING);
  return sums.map((sum) => square(rows.length / sum));
}

/** Whether a bin holds nearly all of the time hardly less than half of the time. */
function isSteady(rows: readonly Float32Array[], k: number): boolean {
  const powers = rows.map((row) => row[k]!).sort((a, b) => a - b);
  return powers[powers.length >> 1]! <= dbToPower(FADED_DB) * powers[Math.floor(SELDOM * powers.length)]!;
}

/** Bins that stand out of those around them, by a parabola through their levels. */
function sightings(rows: readonly Float32Array[], lowest: number): Sighting[] {
  const all = usualPowers(rows);
  const found: Sighting[] = [];
  const least = dbToPower(LEAST_DB);
  for (let k = Math.max(2, Math.ceil(lowest)); k < all.length - 2; k++) {
    const here = all[k]!;
    if (here < 4 * NOTHING || here < all[k - 1]! || here <= all[k + 1]!) continue;
    if (!standsOut(all, k, here / least) || !isSteady(rows, k)) continue;
    const [before, peak, after] = [all[k - 1]!, here, all[k + 1]!].map((power) =>
      powerToDb(Math.max(NOTHING, power)),
    ) as [number, number, number];
    const bend = before - 2 * peak + after;
    found.push({
      at: k + (bend < 0 ? (0.5 * (before - after)) / bend : 0),
      sizeDb: peak - powerToDb(Math.max(NOTHING, sideMedian(all, k))),
    });
  }
  return found;
}

const SIDES = [
  [-FAR_BINS, -NEAR_BINS],
  [NEAR_BINS + 1, FAR_BINS + 1],
] as const;

/** Whether on each side of a bin more than half of the others hold less than a power. Hot. */
const standsOut = (powers: Float32Array, k: number, power: number): boolean =>
  SIDES.every(([from, to]) => {
    let [less, count] = [0, 0];
    for (let i = Math.max(1, k + from); i < Math.min(powers.length, k + to); i++, count++)
      if (powers[i]! < power) less++;
    return 2 * less >= count;
  });

/** Middle of the bins beside one; of the louder side, so that a step in the spectrum is no tone. */
const sideMedian = (powers: Float32Array, k: number): number =>
  Math.max(
    ...SIDES.map(([from, to]) => {
      const side = powers.slice(Math.max(1, k + from), Math.max(1, k + to)).sort();
      return side[side.length >> 1] ?? 0;
    }),
  );

const MAINS: readonly Hertz[] = [50, 60];
/** Hum reaches up to so many harmonics, and mains stray by so much. */
const MOST_HARMONICS = 12;
const MAINS_STRAY = 0.006;

/** The fundamental of the mains that a tone belongs to; `null` for tones of their own. */
export function mainsOf({ hertz }: Tone, all: readonly Tone[]): Hertz | null {
  for (const mains of MAINS) {
    const harmonic = Math.round(hertz / mains);
    if (harmonic < 1 || harmonic > MOST_HARMONICS) continue;
    const fundamental = hertz / harmonic;
    if (Math.abs(fundamental / mains - 1) > MAINS_STRAY) continue;
    // One alone may be a coincidence, unless it is one of the first two.
    const related = all.filter(
      (other) => Math.abs(other.hertz / fundamental - Math.round(other.hertz / fundamental)) < 0.03,
    );
    if (harmonic <= 2 || related.length > 2) return fundamental;
  }
  return null;
}
