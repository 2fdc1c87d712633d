/** Analogue filters in second-order sections: the shapes that a digital filter is to have. */
import { exp10, sinCosTurns, square } from "../math/deterministic-math";
import type { Decibels, Hertz } from "../audio/units";

/** (b2·s² + b1·s + b0) / (a2·s² + a1·s + a0) with s in units of the section's own frequency. */
export interface AnalogueBiquad {
  hertz: Hertz;
  b: readonly [b0: number, b1: number, b2: number];
  a: readonly [a0: number, a1: number, a2: number];
}

/** |H|² at a frequency. */
export function powerAt({ hertz, b, a }: AnalogueBiquad, at: Hertz): number {
  const w = at / hertz;
  const magnitude = ([c0, c1, c2]: readonly [number, number, number]) => square(c0 - c2 * w * w) + square(c1 * w);
  return magnitude(b) / magnitude(a);
}

/** Peak or dip of `gainDb`; half of it, in dB, at the edges of the band of width hertz / q. */
export function bell(hertz: Hertz, gainDb: Decibels, q: number): AnalogueBiquad {
  const root = exp10(gainDb / 40);
  return { hertz, b: [1, root / q, 1], a: [1, 1 / (root * q), 1] };
}

/** Shelf of `gainDb`, half of it at `hertz`; q 0.71 is the steepest without a bump. */
export function shelf(side: "low" | "high", hertz: Hertz, gainDb: Decibels, q: number): AnalogueBiquad {
  const root = exp10(gainDb / 40);
  const middle = Math.sqrt(root) / q;
  return side === "low"
    ? { hertz, b: [root * root, root * middle, root], a: [1, middle, root] }
    : { hertz, b: [root, root * middle, root * root], a: [root, middle, 1] };
}

/** Turns the balance about `hertz`: −gainDb far below, +gainDb far above. */
export function tilt(hertz: Hertz, gainDb: Decibels): AnalogueBiquad {
  const gain = exp10(gainDb / 20);
  return { hertz, b: [1, gain, 0], a: [gain, 1, 0] };
}

export const notch = (hertz: Hertz, q: number): AnalogueBiquad => ({ hertz, b: [1, 0, 1], a: [1, 1 / q, 1] });

export const bandPassSection = (hertz: Hertz, q: number): AnalogueBiquad => ({
  hertz,
  b: [0, 1 / q, 0],
  a: [1, 1 / q, 1],
});

/** Butterworth high- or low-pass: −3 dB at `hertz`, 6 dB an octave and order (Butterworth 1930). */
export function cut(side: "high" | "low", hertz: Hertz, order: number): AnalogueBiquad[] {
  const sections: AnalogueBiquad[] = [];
  for (let pair = 0; pair < Math.floor(order / 2); pair++) {
    const damping = 2 * sinCosTurns((2 * pair + 1) / (4 * order)).sin;
    sections.push({ hertz, b: side === "high" ? [0, 0, 1] : [1, 0, 0], a: [1, damping, 1] });
  }
  if (order % 2 === 1) sections.push({ hertz, b: side === "high" ? [0, 1, 0] : [1, 0, 0], a: [1, 1, 0] });
  return sections;
}
