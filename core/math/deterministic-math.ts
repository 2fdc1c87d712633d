/**
 * Elementary functions from the four basic operations only, which IEEE 754 defines to the bit: engines may
 * choose the last bits of `Math.sin` or `Math.exp`, and then a master rendered in one would differ from the
 * same master rendered in another. Accurate to about 1e-15 relative over the ranges used in the core.
 */

const LN2_HIGH = 6.9314718036912381649e-1; // fdlibm e_exp.c: ln 2 split so that k·LN2_HIGH is exact
const LN2_LOW = 1.90821492927058770002e-10;
const INVERSE_LN2 = 1.442695040888963387;
const LN10 = 2.302585092994046;

/** 2^k for whole k in −1022…1023, exact. */
function powerOfTwo(k: number): number {
  let base = k < 0 ? 0.5 : 2;
  let result = 1;
  for (let n = Math.abs(k); n > 0; n = Math.floor(n / 2)) {
    if (n % 2 === 1) result *= base;
    base *= base;
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
  return sum * powerOfTwo(k);
}

/** Natural logarithm of x > 0; −Infinity at 0, NaN below. */
export function log(x: number): number {
  if (!(x > 0)) return x === 0 ? -Infinity : NaN;
  if (x === Infinity) return Infinity;
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
  return 2 * s * sum + exponent * LN2_LOW + exponent * LN2_HIGH;
}

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
