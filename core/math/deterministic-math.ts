/**
 * Elementary functions from the four basic operations only, which IEEE 754 defines to the bit: engines may
 * choose the last bits of `Math.sin` or `Math.exp`, and then a master rendered in one would differ from the
 * same master rendered in another. Accurate to about 1e-15 relative over the ranges used in the core.
 */

const LN2_HIGH = 6.9314718036912381649e-1; // fdlibm e_exp.c: ln 2 split so that k·LN2_HIGH is exact
const LN2_LOW = 1.90821492927058770002e-10;
const INVERSE_LN2 = 1.442695040888963387;
const LN10 = 2.302585092994046;

/** base^k for whole k, by repeated squaring: exact for powers of two within the range of doubles. */
function wholePower(base: number, k: number): number {
  let factor = k < 0 ? 1 / base : base;
  let result = 1;
  for (let n = Math.abs(k); n > 0; n = Math.floor(n / 2)) {
    if (n % 2 === 1) result *= factor;
    factor *= factor;
  }
  return result;
}

/** e^x. Underflows to 0 below −708, overflows to Infinity above 709. */
export function exp(x: number): number {
  if (!(x > -708)) return x !== x ? x : 0;
  if (x > 709) return Infinity;
  const k = Math.round(x * INVERSE_LN2);
  const r = x - k * LN2_HIGH - k * LN2_LOW; // |r| ≤ 0.35
  let sum = 1;
  for (let n = 17; n >= 1; n--) sum = 1 + (sum * r) / n;
  return sum * wholePower(2, k);
}

/** A finite x > 0 as 2^exponent · m, with m between √½ and √2, and ln m. */
function split(x: number): { exponent: number; logOfMantissa: number } {
  let exponent = 0;
  let m = x;
  while (m >= 4294967296) {
    m /= 4294967296;
    exponent += 32;
  }
  while (m < 2.3283064365386963e-10) {
    m *= 4294967296;
    exponent -= 32;
  }
  while (m > Math.SQRT2) {
    m /= 2;
    exponent += 1;
  }
  while (m < Math.SQRT1_2) {
    m *= 2;
    exponent -= 1;
  }
  const s = (m - 1) / (m + 1); // ln m = 2·artanh(s), |s| ≤ 0.172
  const s2 = s * s;
  let sum = 0;
  for (let n = 21; n >= 1; n -= 2) sum = sum * s2 + 1 / n;
  return { exponent, logOfMantissa: 2 * s * sum };
}

/** What logarithms are where they are no finite number; `undefined` elsewhere. */
const limitOfLog = (x: number): number | undefined =>
  x > 0 && x < Infinity ? undefined : x === 0 ? -Infinity : x === Infinity ? Infinity : NaN;

/** Natural logarithm of x > 0; −Infinity at 0, NaN below. */
export function log(x: number): number {
  const limit = limitOfLog(x);
  if (limit !== undefined) return limit;
  const { exponent, logOfMantissa } = split(x);
  return logOfMantissa + exponent * LN2_LOW + exponent * LN2_HIGH;
}

/** Binary logarithm of x > 0, exact for powers of two. */
export function log2(x: number): number {
  const limit = limitOfLog(x);
  if (limit !== undefined) return limit;
  const { exponent, logOfMantissa } = split(x);
  return exponent + logOfMantissa * INVERSE_LN2;
}

/** x². */
export const square = (x: number): number => x * x;

/** √(x² + y²), for magnitudes whose squares neither overflow nor vanish. */
export const hypot = (x: number, y: number): number => Math.sqrt(x * x + y * y);

/** base^exponent for base > 0, or any base and a whole exponent. */
export const power = (base: number, exponent: number): number =>
  Number.isInteger(exponent) ? wholePower(base, exponent) : exp(exponent * log(base));

/** 2^x, exact for whole x. */
export const exp2 = (x: number): number => power(2, x);

/** 10^x. */
export const exp10 = (x: number): number => (x === 0 ? 1 : exp(x * LN10));

/** Base-10 logarithm of x ≥ 0. */
export const log10 = (x: number): number => log(x) / LN10;

/** sin(2π·turns) and cos(2π·turns), reduced exactly, for any finite number of turns. */
export function sinCosTurns(turns: number): { sin: number; cos: number } {
  const fraction = turns - Math.floor(turns);
  const quadrant = Math.round(fraction * 4);
  const x = (fraction - quadrant / 4) * 6.283185307179586; // |x| ≤ π/4
  const x2 = x * x;
  let s = 1;
  for (let n = 18; n >= 2; n -= 2) s = 1 - (s * x2) / (n * (n + 1));
  s *= x;
  let c = 1;
  for (let n = 17; n >= 1; n -= 2) c = 1 - (c * x2) / (n * (n + 1));
  switch (quadrant % 4) {
    case 0:
      return { sin: s, cos: c };
    case 1:
      return { sin: c, cos: -s };
    case 2:
      return { sin: -s, cos: -c };
    default:
      return { sin: -c, cos: s };
  }
}

/** sin(x), x in radians. */
export const sin = (x: number): number => sinCosTurns(x / 6.283185307179586).sin;

/** cos(x), x in radians. */
export const cos = (x: number): number => sinCosTurns(x / 6.283185307179586).cos;

/** tan(x), x in radians. */
export function tan(x: number): number {
  const { sin: s, cos: c } = sinCosTurns(x / 6.283185307179586);
  return s / c;
}

/** arctan(x) for 0 ≤ x ≤ 1. */
function arctanOfShare(x: number): number {
  // arctan x = 2·arctan(x / (1 + √(1 + x²))), twice: then |t| ≤ 0.199, and the series has 1e-17 left after 12 terms.
  let t = x;
  for (let halving = 0; halving < 2; halving++) t /= 1 + Math.sqrt(1 + t * t);
  const t2 = t * t;
  let sum = 0;
  for (let n = 23; n >= 1; n -= 2) sum = 1 / n - sum * t2;
  return 4 * t * sum;
}

/** The angle of the point (x, y), −π to π. */
export function atan2(y: number, x: number): number {
  const [across, along] = [Math.abs(y), Math.abs(x)];
  if (across === 0 && along === 0) return 0;
  const angle = across <= along ? arctanOfShare(across / along) : 1.5707963267948966 - arctanOfShare(along / across);
  const upper = x < 0 ? 3.141592653589793 - angle : angle;
  return y < 0 ? -upper : upper;
}

/** arccos(x), −1 ≤ x ≤ 1. */
export const acos = (x: number): number => atan2(Math.sqrt((1 - x) * (1 + x)), x);
