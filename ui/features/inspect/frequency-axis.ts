/** Frequencies that charts are marked at, and how they are written. */
export const TICKS = [31.5, 63, 125, 250, 500, 1000, 2000, 4000, 8000, 16_000];

export const hertzWords = (hertz: number): string =>
  hertz >= 1000 ? `${Number((hertz / 1000).toPrecision(3))}k` : String(Math.round(hertz * 10) / 10);
