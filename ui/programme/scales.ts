/** Colour scales that are even to the eye and told apart by the colour-blind; the same on both sheets. */

type Rgb = readonly [number, number, number];

/** Cividis (Nuñez, Anderton & Renslow 2018), every eighth of it: dark for little, light for much. */
const CIVIDIS: readonly Rgb[] = [
  [0, 34, 78],
  [18, 53, 112],
  [59, 73, 108],
  [87, 93, 109],
  [112, 113, 115],
  [138, 134, 120],
  [165, 156, 116],
  [195, 179, 105],
  [225, 204, 85],
  [254, 232, 56],
];

/** Opposed – unrelated – together. */
const CORRELATION: readonly Rgb[] = [
  [192, 86, 28],
  [222, 160, 110],
  [239, 234, 222],
  [139, 164, 208],
  [42, 88, 170],
];

function mixed(scale: readonly Rgb[], share: number): Rgb {
  const at = Math.max(0, Math.min(1, share)) * (scale.length - 1);
  const low = scale[Math.floor(at)]!;
  const high = scale[Math.ceil(at)]!;
  const part = at - Math.floor(at);
  return [0, 1, 2].map((i) => Math.round(low[i]! + part * (high[i]! - low[i]!))) as unknown as Rgb;
}

const css = ([r, g, b]: Rgb): string => `rgb(${r} ${g} ${b})`;

/** Ink of an energy, 0…1. */
export const energyInk = (share: number): string => css(mixed(CIVIDIS, share));

/** Ink of a correlation, −1…1. */
export const correlationInk = (correlation: number): string => css(mixed(CORRELATION, (correlation + 1) / 2));

/** Whether words on a correlation's ink should be light. */
export const needsLightWords = (correlation: number): boolean => Math.abs(correlation) > 0.75;
