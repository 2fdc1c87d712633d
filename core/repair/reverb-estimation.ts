import { exp, log, power } from "../math/deterministic-math";
import { butterworth, BiquadFilter } from "../dsp/butterworth";
import { dbToPower } from "../audio/decibel";
import type { Decibels, Hertz, Planar, Seconds } from "../audio/units";
import type { NoiseProfileQuality } from "./noise-profile-quality";
import { tailModel } from "./reverberation";

const STEP: Seconds = 0.004;
/** The tail is looked for this long after a sound … */
const LATER: Seconds = 0.05;
/** … where it stands so far above the least level there is, and no further below the loudest. */
const ABOVE_LEAST_DB = 3;
const BELOW_LOUDEST_DB = 30;
/** No more than this share of the levels lies below the tail … */
const BELOW_TAIL = 0.03;
/** … and these are taken for nothing but the tail. */
const NEAR_DB = 2;
const LEVELS_DB = { least: -20, most: 10, step: 0.5 };
/** Times that are tried, each longer than the one before by this factor. */
const TIMES: { least: Seconds; most: Seconds; ratio: number } = { least: 0.12, most: 4, ratio: 1.12 };
/** Times that explain at least this share of what the best explains count. */
const AS_GOOD = 0.85;
/** A tail that is next to nothing has to explain so many times more than one that is heard. */
const MUCH_MORE = 1.2;
/** The least that is needed to hear a tail, and what is plenty. */
const LEAST_SECONDS: Seconds = 3;
const PLENTY_SECONDS: Seconds = 8;

/** A room's tail, as the repair takes it. */
export interface TailEstimate {
  /** Time for 60 dB. */
  rt60Seconds: Seconds;
  /** All of the tail against the direct sound, −20 to 10 dB. */
  reverberantToDirectDb: Decibels;
}

export interface ReverbEstimate {
  /** `null` where it cannot be told. */
  tail: TailEstimate | null;
  quality: NoiseProfileQuality;
}

/** A tail against the levels that were heard. */
interface Fit extends TailEstimate {
  /** Share of the levels that are next to nothing but the tail. */
  near: number;
}

/**
 * How long a room takes to fall by 60 dB, and how loud it is: of all tails that next to no level between 500 Hz and
 * 4 kHz lies below, the one that most of them lie at, for wherever nothing is said it is all there is. Shape of
 * `block`: [channel][frame]. Within a third for ten seconds of speech, and its level within some 4 dB, where it is not
 * above that of the direct sound.
 */
export function estimateReverb(block: Planar, sampleRate: Hertz): ReverbEstimate {
  const heard = new HeardLevels(block, sampleRate);
  if (heard.seconds < LEAST_SECONDS)
    return refused(
      `${heard.seconds.toFixed(1)} s of it are loud enough to hear a tail after, ${LEAST_SECONDS} s are needed`,
    );
  const fits: Fit[] = [];
  for (let time = TIMES.least; time <= TIMES.most; time *= TIMES.ratio) fits.push(heard.fit(time));
  const best = (of: readonly Fit[]) => Math.max(0, ...of.map(({ near }) => near));
  const heardFits = fits.filter(({ reverberantToDirectDb }) => reverberantToDirectDb > LEVELS_DB.least);
  const candidates = best(fits) > MUCH_MORE * best(heardFits) ? fits : heardFits;
  const most = best(candidates);
  let [sum, weights] = [0, 0];
  for (const { near, rt60Seconds } of candidates) {
    const weight = Math.max(0, near - AS_GOOD * most);
    sum += weight * log(rt60Seconds);
    weights += weight;
  }
  if (weights === 0 || fits[fits.length - 1]!.near === most) return refused("No room can be told from it");
  const { rt60Seconds, reverberantToDirectDb } = heard.fit(exp(sum / weights));
  const words: string[] = [];
  if (reverberantToDirectDb <= LEVELS_DB.least) words.push("Next to no room is heard in it.");
  if (reverberantToDirectDb >= LEVELS_DB.most) words.push("All of it rings on: is it music, or a sound that is held?");
  if (heard.seconds < PLENTY_SECONDS)
    words.push(`Only ${heard.seconds.toFixed(1)} s of it are loud enough to hear a tail after.`);
  return {
    tail: { rt60Seconds, reverberantToDirectDb },
    quality: { standing: words.length ? "doubt" : "fit", remarks: words },
  };
}

const refused = (what: string): ReverbEstimate => ({
  tail: null,
  quality: { standing: "error", remarks: [`${what}: select a longer stretch of speech with pauses.`] },
});

/** Levels of a stretch, and where a tail could be heard in them. */
class HeardLevels {
  readonly #powers: Float64Array;
  readonly #later = Math.round(LATER / STEP);
  readonly #lowest: number;

  constructor(block: Planar, sampleRate: Hertz) {
    this.#powers = powersOf(block, sampleRate);
    const sorted = this.#powers.slice().sort();
    const at = (share: number) => sorted[Math.floor(share * sorted.length)] ?? 0;
    this.#lowest = Math.max(at(0.01) * dbToPower(ABOVE_LEAST_DB), at(0.95) * dbToPower(-BELOW_LOUDEST_DB), 1e-15);
  }

  /** How much of it is above the lowest level at which a tail is heard. */
  get seconds(): Seconds {
    return STEP * this.#powers.reduce((count, power) => count + (power > this.#lowest ? 1 : 0), 0);
  }

  /** The loudest tail of a time that next to no level lies below. */
  fit(rt60Seconds: Seconds): Fit {
    const steps = (LEVELS_DB.most - LEVELS_DB.least) / LEVELS_DB.step;
    let [least, above] = [0, steps + 1];
    while (above - least > 1) {
      const middle = (least + above) >> 1;
      if (this.#shares(rt60Seconds, LEVELS_DB.least + middle * LEVELS_DB.step).below > BELOW_TAIL) above = middle;
      else least = middle;
    }
    const reverberantToDirectDb = LEVELS_DB.least + least * LEVELS_DB.step;
    return { rt60Seconds, reverberantToDirectDb, near: this.#shares(rt60Seconds, reverberantToDirectDb).near };
  }

  /** Shares of the levels that lie below a tail, and near it. */
  #shares(rt60Seconds: Seconds, reverberantToDirectDb: Decibels): { below: number; near: number } {
    const powers = this.#powers;
    const later = this.#later;
    const { decay, joins } = tailModel(rt60Seconds, dbToPower(reverberantToDirectDb), STEP);
    const fall = power(decay, later);
    const nearly = dbToPower(NEAR_DB);
    let [room, heard, below, near] = [0, 0, 0, 0];
    for (let n = 0; n + later < powers.length; n++) {
      room = decay * ((1 - joins) * room + joins * powers[n]!);
      const tail = fall * room;
      if (tail < this.#lowest) continue;
      const here = powers[n + later]!;
      heard++;
      if (here < tail) below++;
      if (here < tail * nearly && here * nearly > tail) near++;
    }
    return heard > 0 ? { below: below / heard, near: near / heard } : { below: 0, near: 0 };
  }
}

function powersOf(block: Planar, sampleRate: Hertz): Float64Array {
  const mono = block[0]!.slice();
  for (const x of block.slice(1)) for (let i = 0; i < mono.length; i++) mono[i]! += x[i]!;
  const high = Math.min(4000, 0.4 * sampleRate);
  new BiquadFilter([...butterworth("high", 500, 2, sampleRate), ...butterworth("low", high, 2, sampleRate)], 1).process(
    [mono],
  );
  const step = Math.round(STEP * sampleRate);
  const raw = Float64Array.from({ length: Math.floor(mono.length / step) }, (_, n) => {
    let sum = 0;
    for (let i = n * step; i < (n + 1) * step; i++) sum += mono[i]! * mono[i]!;
    return sum / step;
  });
  // Over some pitch periods, so that the level does not follow them.
  const reach = 3;
  return raw.map((_, n) => {
    const part = raw.subarray(Math.max(0, n - reach), n + reach + 1);
    return part.reduce((sum, v) => sum + v, 0) / part.length;
  });
}
