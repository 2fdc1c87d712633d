import { powerToDb } from "../audio/decibel";
import type { Decibels, Hertz } from "../audio/units";
import type { MeasurementDefinition } from "./measurement";

export interface HumFigures {
  /** Fundamental of a mains hum; `null` where there is none. */
  humHz: Hertz | null;
  /** How far its harmonics stand above the floor around them: mean of those that do. */
  humAboveFloorDb: Decibels | null;
  /** Which harmonics stand out. */
  humHarmonics: number[];
}

const MAINS: readonly Hertz[] = [50, 60];
/** How far a mains frequency may wander. */
const TOLERANCE: Hertz = 0.6;
const HARMONICS = 10;
const STANDS_OUT_DB: Decibels = 9;
const LEAST_HARMONICS = 3;
/** In less, a held note is as steady as hum. */
const LEAST_SECONDS = 5;
/** Bins on each side among which the floor's median is taken; those next to the harmonic are left out. */
const AROUND = 12;
const NEXT = 3;

interface Harmonic {
  number: number;
  hertz: Hertz;
  aboveDb: Decibels;
}

function medianAround(spectrum: Float64Array, bin: number): number {
  const near: number[] = [];
  for (let k = Math.max(1, bin - AROUND); k <= Math.min(spectrum.length - 1, bin + AROUND); k++)
    if (Math.abs(k - bin) > NEXT) near.push(spectrum[k]!);
  near.sort((a, b) => a - b);
  return near[near.length >> 1] ?? 0;
}

/** The harmonics of `mains` that stand out of a spectrum, with their frequencies between the bins. */
function harmonicsOf(spectrum: Float64Array, binWidth: Hertz, mains: Hertz): Harmonic[] {
  return Array.from({ length: HARMONICS }, (_, i) => i + 1).flatMap((number) => {
    const reach = Math.max(1, (number * TOLERANCE) / binWidth);
    const centre = (number * mains) / binWidth;
    let bin = Math.round(centre);
    for (let k = Math.ceil(centre - reach); k <= centre + reach; k++) if (spectrum[k]! > spectrum[bin]!) bin = k;
    const [before, here, after] = [spectrum[bin - 1] ?? 0, spectrum[bin] ?? 0, spectrum[bin + 1] ?? 0];
    // A harmonic is a crest; the slope of something larger is none.
    if (here <= before || here < after) return [];
    const aboveDb = powerToDb(here / medianAround(spectrum, bin));
    if (!(aboveDb >= STANDS_OUT_DB)) return [];
    const [a, b, c] = [powerToDb(before), powerToDb(here), powerToDb(after)];
    const hertz = (bin + (a - c) / (2 * (a - 2 * b + c))) * binWidth;
    return Math.abs(hertz - number * mains) > number * TOLERANCE + binWidth / 4 ? [] : [{ number, hertz, aboveDb }];
  });
}

/** Mains hum, looked for in noise floor. */
export const hum: MeasurementDefinition<HumFigures> = {
  id: "hum",
  help: "Mains hum at 50 or 60 Hz, and how far its harmonics stand above the floor",
  source: "Resonum: three or more harmonics 9 dB above the median around them, in the quietest second of each bin",
  create({ sampleRate }) {
    return {
      result(spectra) {
        const none = { figures: { humHz: null, humAboveFloorDb: null, humHarmonics: [] } };
        if (spectra.seconds < LEAST_SECONDS) return none;
        const floor = spectra.mean("floor");
        const found = MAINS.map((mains) => harmonicsOf(floor, spectra.binWidth(sampleRate), mains));
        const best = found.reduce((a, b) => (b.length > a.length ? b : a));
        if (best.length < LEAST_HARMONICS) return none;
        // Harmonics tell the fundamental the better the higher they are.
        const weight = best.reduce((sum, { number }) => sum + number * number, 0);
        return {
          figures: {
            humHz: best.reduce((sum, { number, hertz }) => sum + number * hertz, 0) / weight,
            humAboveFloorDb: best.reduce((sum, { aboveDb }) => sum + aboveDb, 0) / best.length,
            humHarmonics: best.map(({ number }) => number),
          },
        };
      },
    };
  },
};
