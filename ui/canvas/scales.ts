/** Colour scales that are even to the eye and told apart by the colour-blind; the same on both sheets. */

type Rgb = readonly [number, number, number];

/** Cividis (Nuñez, Anderton & Renslow 2018), every ninth of it: dark for little, light for much. */
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

/** Scales for energy; each grows lighter, or darker, all the way. */
const PALETTES = {
  energy: CIVIDIS,
  grey: [
    [18, 18, 20],
    [250, 249, 245],
  ],
  paper: [
    [251, 250, 246],
    [23, 24, 28],
  ],
  ember: [
    [12, 10, 20],
    [70, 28, 62],
    [146, 48, 62],
    [214, 98, 44],
    [246, 178, 76],
    [253, 243, 201],
  ],
} as const satisfies Record<string, readonly Rgb[]>;
export type PaletteName = keyof typeof PALETTES;
export const PALETTE_NAMES = Object.keys(PALETTES) as PaletteName[];

/** Dull to bright, for the tone of a waveform: even steps of lightness, from violet over grey to straw. */
const TONE: readonly Rgb[] = [
  [74, 40, 92],
  [104, 78, 118],
  [128, 120, 122],
  [158, 150, 96],
  [186, 178, 60],
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
export const levelColour = (share: number): string => css(mixed(CIVIDIS, share));

/** Ink of a tone: 0 is dull, 1 is bright. */
export const balanceColour = (share: number): string => css(mixed(TONE, share));

/** Ink of a correlation, −1…1. */
export const correlationColour = (correlation: number): string => css(mixed(CORRELATION, (correlation + 1) / 2));

/** Whether words on a correlation's ink should be light. */
export const needsLightWords = (correlation: number): boolean => Math.abs(correlation) > 0.75;

/**
 * Pixels of the 256 levels of a picture, as they lie in memory (red in the lowest byte): the palette between two of
 * them, its ends beyond.
 */
export function pixelsOfLevels(palette: PaletteName, levelOf: (byte: number) => number, low: number, high: number) {
  return Uint32Array.from({ length: 256 }, (_, byte) => {
    const [r, g, b] = mixed(PALETTES[palette], (levelOf(byte) - low) / (high - low));
    return (0xff000000 | (b << 16) | (g << 8) | r) >>> 0;
  });
}
