/** Bands of an equaliser whose sum follows a curve that was drawn by hand. */
import { exp2, log2 } from "../math/deterministic-math";
import { solve } from "../math/linear-system";
import { bell, powerAt } from "../dsp/analogue-filter";
import { powerToDb } from "../audio/decibel";
import type { Decibels, Hertz } from "../audio/units";
import type { EqualiserBand } from "./equaliser";
import { envelopeAt } from "../parameters/breakpoints";

/** A bell: log2 of its frequency, dB, and log2 of its q. */
type Bell = [octave: number, gainDb: Decibels, sharpness: number];

const LOWEST: Hertz = 20;
const PLACES_PER_OCTAVE = 12;
const PLACES = Array.from({ length: 10 * PLACES_PER_OCTAVE }, (_, n) => LOWEST * exp2(n / PLACES_PER_OCTAVE));
/** Nearer than this is near enough for a hand. */
const NEAR_ENOUGH: Decibels = 0.3;
const ROUNDS = 30;
const [MOST_GAIN, LEAST_Q, MOST_Q] = [24, 0.3, 8];
const inside = (value: number, low: number, high: number) => Math.max(low, Math.min(high, value));

const levelOf = ([octave, gainDb, sharpness]: Bell, hertz: Hertz): Decibels =>
  powerToDb(powerAt(bell(exp2(octave), gainDb, exp2(sharpness)), hertz));

const missing = (target: readonly Decibels[], bells: readonly Bell[]): Decibels[] =>
  target.map((db, n) => db - bells.reduce((sum, one) => sum + levelOf(one, PLACES[n]!), 0));

const errorOf = (rest: readonly Decibels[]): number => rest.reduce((sum, db) => sum + db * db, 0);

/** A first guess for one more bell: at the furthest place, as wide as the rest stays over half of it. */
function guess(rest: readonly Decibels[]): Bell {
  let peak = 0;
  rest.forEach((db, n) => {
    if (Math.abs(db) > Math.abs(rest[peak]!)) peak = n;
  });
  const half = (n: number) => (rest[n] ?? 0) / rest[peak]! > 0.5;
  let [low, high] = [peak, peak];
  while (low > 0 && half(low - 1)) low--;
  while (high < rest.length - 1 && half(high + 1)) high++;
  const octaves = (high - low + 1) / PLACES_PER_OCTAVE;
  const q = inside(1 / (exp2(octaves / 2) - exp2(-octaves / 2)), LEAST_Q, MOST_Q);
  return [log2(PLACES[peak]!), rest[peak]!, log2(q)];
}

const bounded = ([octave, gainDb, sharpness]: Bell): Bell => [
  inside(octave, log2(LOWEST), log2(20_000)),
  inside(gainDb, -MOST_GAIN, MOST_GAIN),
  inside(sharpness, log2(LEAST_Q), log2(MOST_Q)),
];

/** All bells moved together towards the least error (Levenberg 1944, Marquardt 1963). */
function refined(target: readonly Decibels[], first: readonly Bell[]): Bell[] {
  let bells = [...first];
  let rest = missing(target, bells);
  let damping = 1e-2;
  for (let round = 0; round < ROUNDS; round++) {
    const slopes = bells.flatMap((one) =>
      [0, 1, 2].map((which) => {
        const moved: Bell = [...one];
        moved[which]! += 1e-3;
        return PLACES.map((hertz) => (levelOf(moved, hertz) - levelOf(one, hertz)) / 1e-3);
      }),
    );
    const products = slopes.map((a, i) =>
      slopes.map((b, j) => {
        const product = a.reduce((sum, v, n) => sum + v * b[n]!, 0);
        return i === j ? product * (1 + damping) + 1e-9 : product;
      }),
    );
    const step = solve(
      products,
      slopes.map((slope) => slope.reduce((sum, v, n) => sum + v * rest[n]!, 0)),
    );
    const tried = bells.map((one, b) => bounded(one.map((value, i) => value + step[3 * b + i]!) as Bell));
    const restTried = missing(target, tried);
    if (errorOf(restTried) < errorOf(rest)) {
      [bells, rest] = [tried, restTried];
      damping /= 3;
    } else damping *= 5;
  }
  return bells;
}

/**
 * Bells whose sum follows `curve` within a few tenths of a decibel, where so many can.
 * @param curve [Hz, dB] in rising order; beyond its ends it goes on straight
 */
export function fittedBands(curve: readonly (readonly [Hertz, Decibels])[], most: number): EqualiserBand[] {
  const onOctaves = curve.map(([hertz, db]): [number, number] => [log2(hertz), db]);
  const target = PLACES.map((hertz) => envelopeAt(onOctaves, log2(hertz)));
  let bells: Bell[] = [];
  for (let count = 0; count < most; count++) {
    const rest = missing(target, bells);
    if (Math.max(...rest.map(Math.abs)) < NEAR_ENOUGH) break;
    bells = refined(target, [...bells, guess(rest)]);
  }
  return bells
    .filter(([, gainDb]) => Math.abs(gainDb) >= 0.05)
    .sort(([a], [b]) => a - b)
    .map(([octave, gainDb, sharpness]) => ({
      shape: "bell",
      hertz: Number(exp2(octave).toPrecision(4)),
      gainDb: Number(gainDb.toFixed(1)),
      q: Number(exp2(sharpness).toFixed(2)),
      slope: "12",
      on: true,
      sides: "all",
    }));
}
