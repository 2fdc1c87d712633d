/**
 * Splits a signal into bands. Linkwitz-Riley of the fourth order: the bands add up to an all-pass filter, without
 * delay (Linkwitz 1976). Linear phase: the bands add up to the signal itself, delayed.
 */
import { kaiser, kaiserBeta, sinc } from "../math/kaiser";
import { butterworth } from "./butterworth";
import { type Biquad } from "../kernels/biquad-cascade";
import { slicePlanar, type Frames, type Hertz, type Planar, type Seconds } from "../audio/units";
import { DelayLine } from "./delay-line";
import { FirConvolver } from "./fir-convolver";
import type { Stateful } from "./state";
import { Scratch } from "./scratch";
import { BiquadCascade } from "./biquad-cascade";

export interface Crossover {
  readonly latency: Frames;
  /** All that it remembers; absent where it cannot go on from another one's. */
  readonly state?: readonly Stateful[];
  /** One block for each band, lowest first, which stay until the next call. `block` is left as it is. */
  split(block: Planar, frames: Frames): Planar[];
}

export type CrossoverKind = "no delay" | "linear phase";

/** A corner stays under half the rate by this. */
const HIGHEST_SHARE = 0.45;

const insideOf = (corners: readonly Hertz[], rate: Hertz): Hertz[] =>
  corners.map((corner) => Math.min(corner, HIGHEST_SHARE * rate));

/** @param corners frequencies between bands, rising */
export function crossover(kind: CrossoverKind, corners: readonly Hertz[], channels: number, rate: Hertz): Crossover {
  return kind === "linear phase"
    ? linearCrossover(insideOf(corners, rate), channels, rate)
    : riley(corners, channels, rate);
}

/** The all-pass filter that low and high of a corner add up to. */
function allPass(corner: Hertz, rate: Hertz): Biquad {
  const [, , , a1, a2] = butterworth("low", corner, 2, rate)[0]!;
  return [a2, a1, 1, a1, a2];
}

/**
 * For each corner the sections of what lies below and of what lies above. A band goes through the high-passes below
 * it, its own low-pass, and the all-pass filters of the corners above.
 */
export function linkwitzRileyBiquads(corners: readonly Hertz[], rate: Hertz): { low: Biquad[]; high: Biquad[] }[] {
  const twice = (kind: "low" | "high", corner: Hertz) => {
    const section = butterworth(kind, corner, 2, rate)[0]!;
    return [section, section];
  };
  return insideOf(corners, rate).map((corner, n, inside) => ({
    low: [...twice("low", corner), ...inside.slice(n + 1).map((at) => allPass(at, rate))],
    high: twice("high", corner),
  }));
}

function riley(corners: readonly Hertz[], channels: number, rate: Hertz): Crossover {
  const splitters = linkwitzRileyBiquads(corners, rate).map(({ low, high }) => ({
    low: BiquadCascade.of(low, channels),
    high: BiquadCascade.of(high, channels),
    below: new Scratch(),
  }));
  const above = new Scratch();
  return {
    latency: 0,
    state: splitters.flatMap(({ low, high }) => [low, high]),
    split(block, frames) {
      const rest = above.of(slicePlanar(block, 0, frames));
      const bands = splitters.map(({ low, high, below }) => {
        const band = below.of(rest);
        low.process(band, frames);
        high.process(rest, frames);
        return band;
      });
      return [...bands, rest];
    },
  };
}

/** Length of the filters: the lowest corner still has a slope of some octaves. */
const FILTER_SECONDS: Seconds = 0.08;
const STOP_BAND_DB = 90;

function linearCrossover(corners: readonly Hertz[], channels: number, rate: Hertz): Crossover {
  const half = Math.round((FILTER_SECONDS * rate) / 2);
  const filters = corners.map((corner) => lowPassTaps(corner / rate, half));
  const convolver = new FirConvolver(filters, channels);
  const delays = Array.from({ length: channels }, () => new DelayLine(convolver.latency + half));
  return {
    latency: convolver.latency + half,
    split(block, frames) {
      const whole = slicePlanar(block, 0, frames).map((x) => x.slice());
      const lows = convolver.process(whole, frames);
      whole.forEach((x, c) => delays[c]!.process(x));
      const above = [...lows.slice(1), whole];
      // Each band is what the next low-pass lets through and this one does not.
      return [lows[0]!, ...lows.map((low, n) => low.map((x, c) => above[n]![c]!.map((v, i) => v - x[i]!)))];
    },
  };
}

/** Windowed sinc, 2·half + 1 taps that sum to 1. */
function lowPassTaps(turns: number, half: Frames): Float64Array {
  const beta = kaiserBeta(STOP_BAND_DB);
  const taps = Float64Array.from(
    { length: 2 * half + 1 },
    (_, n) => 2 * turns * sinc(2 * turns * (n - half)) * kaiser((n - half) / (half + 1), beta),
  );
  const sum = taps.reduce((total, tap) => total + tap, 0);
  return taps.map((tap) => tap / sum);
}
