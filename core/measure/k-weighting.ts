import { cos, exp, exp10, log, sin, square, tan } from "../math/deterministic-math";
import { solve } from "../math/linear-system";
import type { Hertz } from "../audio/units";

/** Coefficients of one second-order section, normalised to a0 = 1. */
export interface WeightingStage {
  b0: number;
  b1: number;
  b2: number;
  a1: number;
  a2: number;
}

const SHELF = { f0: 1681.974450955533, gainDb: 3.999843853973347, q: 0.7071752369554196 };
const HIGH_PASS = { f0: 38.13547087602444, q: 0.5003270373238773 };
/** Exponent of the shelf's band gain that makes 48 kHz come out as the standard's table. */
const BAND_EXPONENT = 0.4996667741545416;

const STANDARD_RATE: Hertz = 48_000;
/** Below this the bilinear transform bends the shelf by more than 0.01 dB. */
const LOWEST_BILINEAR_RATE: Hertz = 44_100;
const PI = 3.141592653589793;

const highPassNorm = (sampleRate: Hertz): number => {
  const k = tan((PI * HIGH_PASS.f0) / sampleRate);
  return 1 + k / HIGH_PASS.q + k * k;
};

function shelfByBilinearTransform(sampleRate: Hertz): WeightingStage {
  const k = tan((PI * SHELF.f0) / sampleRate);
  const vh = exp10(SHELF.gainDb / 20);
  const vb = exp(log(vh) * BAND_EXPONENT);
  const a0 = 1 + k / SHELF.q + k * k;
  return {
    b0: (vh + (vb * k) / SHELF.q + k * k) / a0,
    b1: (2 * (k * k - vh)) / a0,
    b2: (vh - (vb * k) / SHELF.q + k * k) / a0,
    a1: (2 * (k * k - 1)) / a0,
    a2: (1 - k / SHELF.q + k * k) / a0,
  };
}

/** |H|² of a section at `hertz`. */
export function powerResponse({ b0, b1, b2, a1, a2 }: WeightingStage, hertz: Hertz, sampleRate: Hertz): number {
  const w = (2 * PI * hertz) / sampleRate;
  const [c1, s1, c2, s2] = [cos(w), sin(w), cos(2 * w), sin(2 * w)];
  const numerator = square(b0 + b1 * c1 + b2 * c2) + square(b1 * s1 + b2 * s2);
  return numerator / (square(1 + a1 * c1 + a2 * c2) + square(a1 * s1 + a2 * s2));
}

const FIT_POINTS = 96;
const FIT_ROUNDS = 6;

/** Coefficients of a polynomial of second order whose |·|² is q0 + q1·φ + q2·φ², φ = sin²(ω/2). */
function spectralFactor(q0: number, q1: number, q2: number): [number, number, number] {
  const atZero = Math.sqrt(q0);
  const atHalf = Math.sqrt(q0 + q1 + q2);
  const outer = (atZero + atHalf) / 2;
  const first = (outer + Math.sqrt(outer * outer - q2 / 4)) / 2;
  return [first, (atZero - atHalf) / 2, outer - first];
}

/**
 * A section for a low rate whose magnitude is that of the 48 kHz one at every frequency that the rate holds: the
 * bilinear transform would bend the shelf there. |H|² of any section is a ratio of two parabolas in φ = sin²(ω/2),
 * which is fitted by least squares (Sanathanan & Koerner 1963).
 */
function shelfByMagnitude(sampleRate: Hertz): WeightingStage {
  const wanted = shelfByBilinearTransform(STANDARD_RATE);
  const points = Array.from({ length: FIT_POINTS }, (_, i) => {
    const hertz = (sampleRate / 2) * ((i + 0.5) / FIT_POINTS);
    return { phi: square(sin((PI * hertz) / sampleRate)), power: powerResponse(wanted, hertz, STANDARD_RATE) };
  });
  let fit = [1, 0, 0, 0, 0];
  for (let round = 0; round < FIT_ROUNDS; round++) {
    const rows = points.map(({ phi, power }) => {
      const weight = 1 / (power * (1 + fit[3]! * phi + fit[4]! * phi * phi));
      return [1, phi, phi * phi, -power * phi, -power * phi * phi, power].map((term) => term * weight);
    });
    const product = (i: number, j: number) => rows.reduce((sum, row) => sum + row[i]! * row[j]!, 0);
    const normal = [0, 1, 2, 3, 4].map((i) => [0, 1, 2, 3, 4].map((j) => product(i, j)));
    fit = solve(
      normal,
      [0, 1, 2, 3, 4].map((i) => product(i, 5)),
    );
  }
  const [b0, b1, b2] = spectralFactor(fit[0]!, fit[1]!, fit[2]!);
  const [a0, a1, a2] = spectralFactor(1, fit[3]!, fit[4]!);
  return { b0: b0 / a0, b1: b1 / a0, b2: b2 / a0, a1: a1 / a0, a2: a2 / a0 };
}

/**
 * The two sections of K-weighting (ITU-R BS.1770-5 Annex 1) at any rate, derived from their analogue prototypes so
 * that 48 kHz gives the standard's coefficients: by the bilinear transform, below 44.1 kHz by the magnitude. The
 * high-pass numerator keeps the prototype's gain: the standard's 1, −2, 1 belongs to 48 kHz.
 */
export function kWeighting(sampleRate: Hertz): { shelf: WeightingStage; highPass: WeightingStage } {
  const shelf = sampleRate < LOWEST_BILINEAR_RATE ? shelfByMagnitude(sampleRate) : shelfByBilinearTransform(sampleRate);
  const kh = tan((PI * HIGH_PASS.f0) / sampleRate);
  const norm = highPassNorm(sampleRate);
  const gain = highPassNorm(STANDARD_RATE) / norm;
  const highPass = {
    b0: gain,
    b1: -2 * gain,
    b2: gain,
    a1: (2 * (kh * kh - 1)) / norm,
    a2: (1 - kh / HIGH_PASS.q + kh * kh) / norm,
  };
  return { shelf, highPass };
}

/** Both sections in state-space form, as the kernels take them: b0, b1 − a1·b0, b2 − a2·b0, −a1, −a2 of each. */
export function stateSpaceWeighting(sampleRate: Hertz): Float64Array {
  const { shelf, highPass } = kWeighting(sampleRate);
  return Float64Array.from(
    [shelf, highPass].flatMap(({ b0, b1, b2, a1, a2 }) => [b0, b1 - a1 * b0, b2 - a2 * b0, -a1, -a2]),
  );
}
