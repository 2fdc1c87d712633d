/** What a recording of speech is like from moment to moment: levels in bands, whether a voice sounds, steady tones. */
import { square } from "../math/deterministic-math";
import type { FrameSource } from "../audio/frame-source";
import { Cancelled, type Cancellation } from "../audio/cancellation";
import { butterworth, BiquadFilter } from "../dsp/butterworth";
import { powerToDb } from "../audio/decibel";
import { withoutNonFinite } from "../audio/non-finite";
import { ToneFinder, type Tone } from "./steady-tones";
import { framesOf, type Decibels, type Frames, type Hertz, type Planar, type Seconds } from "../audio/units";

export const HOP: Seconds = 0.005;
/** A voice's pitch is looked for over this long. */
const PITCH_WINDOW: Seconds = 0.04;
const PITCH_RATE: Hertz = 4000;
const PITCH_LOW: Hertz = 70;
const PITCH_HIGH: Hertz = 400;
/** Pitch is looked for in every so many hops. */
const PITCH_EVERY = 3;
const READ: Frames = 65_536;
/** Below everything that is recorded. */
const SILENT_DB: Decibels = -120;

/** Each value covers one hop; levels are RMS in dBFS, of all channels together. */
export interface Features {
  hop: Frames;
  sampleRate: Hertz;
  frames: Frames;
  level: Float32Array;
  /** Below 150 Hz: rumble, and blows of air into the microphone. */
  low: Float32Array;
  /** 300 Hz to 3.4 kHz: where speech has its strength. */
  middle: Float32Array;
  /** Above 4 kHz: hiss and snap. */
  high: Float32Array;
  /** The highest sample in a hop, dBFS. */
  peak: Float32Array;
  /** 0 for noise, 1 for a steady tone or voice. */
  voiced: Float32Array;
  /** Tones that go on through words and pauses. */
  tones: Tone[];
  /** Typical level of the voice, and of what is there without it. */
  speechDb: Decibels;
  floorDb: Decibels;
}

const BANDS = [
  (rate: Hertz) => butterworth("low", 150, 4, rate),
  (rate: Hertz) => [...butterworth("high", 300, 4, rate), ...butterworth("low", Math.min(3400, 0.4 * rate), 4, rate)],
  (rate: Hertz) => butterworth("high", Math.min(4000, 0.35 * rate), 4, rate),
];

/** Reads a recording through once. @throws Cancelled */
export async function featuresOf(
  source: FrameSource,
  options: { cancellation?: Cancellation; onProgress?: (fraction: number) => void } = {},
): Promise<Features> {
  const { sampleRate, frames, channels } = source;
  const hop = Math.round(HOP * sampleRate);
  const count = Math.floor(frames / hop);
  const levels = Array.from({ length: 5 }, () => new Float32Array(count));
  const [level, low, middle, high, peak] = levels as [
    Float32Array,
    Float32Array,
    Float32Array,
    Float32Array,
    Float32Array,
  ];
  const filters = BANDS.map((sections) => new BiquadFilter(sections(sampleRate), channels));
  const pitch = new PitchFinder(sampleRate, hop, count);
  const tones = new ToneFinder(sampleRate);
  const step = Math.max(hop, READ - (READ % hop));
  for (let at = 0; at < count * hop; at += step) {
    if (options.cancellation?.aborted) throw new Cancelled();
    const read = await source.read(at, Math.min(step, count * hop - at));
    if (framesOf(read) === 0) break;
    const block = withoutNonFinite(read, framesOf(read)).clean;
    const first = at / hop;
    levelsOf(block, hop, first, level);
    peaksOf(block, hop, first, peak);
    pitch.process(block);
    tones.process(block);
    [low, middle, high].forEach((into, band) => {
      const part = block.map((x) => x.slice());
      filters[band]!.process(part);
      levelsOf(part, hop, first, into);
    });
    options.onProgress?.(Math.min(1, (at + step) / frames));
  }
  return {
    ...{ hop, sampleRate, frames, level, low, middle, high, peak },
    voiced: pitch.voiced,
    tones: tones.finish(),
    ...typical(middle, level),
  };
}

function levelsOf(block: Planar, hop: Frames, first: number, into: Float32Array): void {
  const hops = Math.floor(framesOf(block) / hop);
  for (let h = 0; h < hops; h++) {
    let sum = 0;
    for (const x of block) for (let i = h * hop; i < (h + 1) * hop; i++) sum += x[i]! * x[i]!;
    into[first + h] = Math.max(SILENT_DB, powerToDb(sum / hop / block.length));
  }
}

function peaksOf(block: Planar, hop: Frames, first: number, into: Float32Array): void {
  const hops = Math.floor(framesOf(block) / hop);
  for (let h = 0; h < hops; h++) {
    let most = 0;
    for (const x of block) for (let i = h * hop; i < (h + 1) * hop; i++) most = Math.max(most, Math.abs(x[i]!));
    into[first + h] = Math.max(SILENT_DB, 2 * powerToDb(most));
  }
}

/** The voice's level is exceeded in a tenth of the time; the floor in nine tenths of what is not digital silence. */
function typical(middle: Float32Array, level: Float32Array): { speechDb: Decibels; floorDb: Decibels } {
  const at = (values: Float32Array, share: number) => values[Math.floor(share * (values.length - 1))] ?? SILENT_DB;
  const sounding = level.filter((db) => db > SILENT_DB + 10).sort();
  return { speechDb: at(middle.slice().sort(), 0.9), floorDb: at(sounding, 0.08) };
}

/** How much a signal repeats itself within the pitches of voices: autocorrelation of what lies below 900 Hz. */
class PitchFinder {
  readonly voiced: Float32Array;
  readonly #filter: BiquadFilter;
  readonly #every: number;
  readonly #rate: Hertz;
  #held = new Float32Array(0);
  #phase = 0;
  /** Frame of the thinned signal that `#held` begins with. */
  #from = 0;
  #next = 0;

  constructor(
    sampleRate: Hertz,
    readonly hop: Frames,
    readonly count: number,
  ) {
    this.voiced = new Float32Array(count);
    this.#filter = new BiquadFilter(butterworth("low", 900, 4, sampleRate), 1);
    this.#every = Math.max(1, Math.round(sampleRate / PITCH_RATE));
    this.#rate = sampleRate / this.#every;
  }

  process(block: Planar): void {
    const mono = block[0]!.slice();
    for (const x of block.slice(1)) for (let i = 0; i < mono.length; i++) mono[i]! += x[i]!;
    this.#filter.process([mono]);
    const thinned: number[] = [];
    let i = this.#phase;
    for (; i < mono.length; i += this.#every) thinned.push(mono[i]!);
    this.#phase = i - mono.length;
    const joined = new Float32Array(this.#held.length + thinned.length);
    joined.set(this.#held);
    joined.set(thinned, this.#held.length);
    this.#held = joined;
    const window = Math.round(PITCH_WINDOW * this.#rate);
    for (; this.#next < this.count; this.#next += PITCH_EVERY) {
      const start = Math.round(((this.#next + 0.5) * this.hop) / this.#every - window / 2) - this.#from;
      if (start + window > this.#held.length) break;
      const value = start < 0 ? 0 : this.#repeats(start, window);
      this.voiced.fill(value, this.#next, this.#next + PITCH_EVERY);
    }
    const spare = Math.max(0, this.#held.length - 2 * window);
    this.#held = this.#held.slice(spare);
    this.#from += spare;
  }

  /** Hot: some 50 lags of 160 products. */
  #repeats(start: number, window: number): number {
    const x = this.#held;
    const [shortest, longest] = [Math.floor(this.#rate / PITCH_HIGH), Math.ceil(this.#rate / PITCH_LOW)];
    const end = start + window;
    let total = 1e-12;
    for (let i = start; i < end; i++) total += x[i]! * x[i]!;
    // Energies of the part without its last, and without its first, `lag` samples.
    let [head, tail] = [total, total];
    for (let lag = 0; lag < shortest; lag++) {
      head -= square(x[end - 1 - lag]!);
      tail -= square(x[start + lag]!);
    }
    let best = 0;
    for (let lag = shortest; lag <= longest; lag++) {
      let cross = 0;
      for (let i = start; i < end - lag; i++) cross += x[i]! * x[i + lag]!;
      best = Math.max(best, cross / Math.sqrt(Math.max(1e-12, head * tail)));
      head -= square(x[end - 1 - lag]!);
      tail -= square(x[start + lag]!);
    }
    return Math.min(1, best);
  }
}
