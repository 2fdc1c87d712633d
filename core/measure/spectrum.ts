import { exp10, log10, square } from "../math/deterministic-math";
import { finiteOrNull, powerToDb } from "../audio/decibel";
import type { Hertz } from "../audio/units";
import type { TimeSeries, MeasurementDefinition } from "./measurement";

export interface SpectrumFigures {
  /** Mean over channels and time in the third-octave bands 20 Hz … 20 kHz; `null` above half the rate and in silence. */
  thirdOctaveDbfs: (number | null)[];
  /** Slope of these levels between 100 Hz and 10 kHz. */
  spectralTiltDbPerOctave: number | null;
}

const FIRST_THIRD = -17; // 20 Hz
const LAST_THIRD = 13; // 20 kHz
/** Bands of 1/24 octave in a third. */
export const FINE_PER_THIRD = 8;
const THIRDS = LAST_THIRD - FIRST_THIRD + 1;
export const FINE_BANDS = THIRDS * FINE_PER_THIRD;
const TILT_FROM: Hertz = 100;
const TILT_TO: Hertz = 10_000;
const OCTAVES_PER_DECADE = 3.321928094887362;

/** Exact mid-band frequency of a third-octave band, base 10 (IEC 61260-1, 5.2.1); band 0 is 1 kHz. */
const midBand = (third: number): Hertz => 1000 * exp10(third / 10);

/** Exact mid-band frequencies of the bands of `thirdOctaveDbfs`. */
export const THIRD_OCTAVES: readonly Hertz[] = Array.from({ length: THIRDS }, (_, i) => midBand(FIRST_THIRD + i));

/** Lower edge of fine band `band`; that of `FINE_BANDS` is the upper edge of the last one. */
export const fineEdge = (band: number): Hertz => midBand(FIRST_THIRD - 0.5 + band / FINE_PER_THIRD);

/** Mean squares in the fine bands: each bin is spread evenly over its width. NaN where the spectrum ends before. */
function fineBands(spectrum: Float64Array, binWidth: Hertz): Float64Array {
  const end = (spectrum.length - 1) * binWidth;
  return Float64Array.from({ length: FINE_BANDS }, (_, band) => {
    const [low, high] = [fineEdge(band), fineEdge(band + 1)];
    if (high > end) return NaN;
    let sum = 0;
    for (let k = Math.floor(low / binWidth + 0.5); (k - 0.5) * binWidth < high; k++) {
      const overlap = Math.min(high, (k + 0.5) * binWidth) - Math.max(low, (k - 0.5) * binWidth);
      sum += (spectrum[k]! * overlap) / binWidth;
    }
    return sum;
  });
}

/** Levels in bands of 1/(3·parts⁻¹)… of an octave: `fine` levels are joined by `join`, a divisor of 8. */
export function joinedBands(fine: ArrayLike<number>, join: 1 | 2 | 4 | 8): { hertz: Hertz; dbfs: number }[] {
  return Array.from({ length: FINE_BANDS / join }, (_, i) => {
    let sum = 0;
    for (let band = i * join; band < (i + 1) * join; band++) sum += exp10(fine[band]! / 10);
    return { hertz: Math.sqrt(fineEdge(i * join) * fineEdge((i + 1) * join)), dbfs: powerToDb(sum) };
  });
}

function tiltOf(levels: (number | null)[]): number | null {
  const points = THIRD_OCTAVES.flatMap((hertz, i) => {
    const level = levels[i] ?? null;
    return level !== null && hertz > TILT_FROM * 0.9 && hertz < TILT_TO * 1.1
      ? [{ octave: log10(hertz) * OCTAVES_PER_DECADE, level }]
      : [];
  });
  if (points.length < 10) return null;
  const mean = (of: (point: (typeof points)[number]) => number) =>
    points.reduce((sum, point) => sum + of(point), 0) / points.length;
  const [octave, level] = [mean((point) => point.octave), mean((point) => point.level)];
  return (
    mean((point) => (point.octave - octave) * (point.level - level)) / mean((point) => square(point.octave - octave))
  );
}

/**
 * Long-term spectrum. The curve has a row each for average, peak and floor of all channels, then the average of each
 * channel, in bands of 1/24 octave, dBFS; NaN above half the rate.
 */
export const spectrum: MeasurementDefinition<SpectrumFigures, { spectraDbfs: TimeSeries }> = {
  id: "spectrum",
  help: "Long-term spectrum in third octaves, its tilt, and in 1/24 octaves average, peak and floor",
  source: "IEC 61260-1, base-10 bands; Hann windows of about 170 ms each 200 ms",
  create({ sampleRate, layout }) {
    return {
      result(spectra) {
        const rows = spectra.known
          ? [
              ...(["average", "peak", "floor"] as const).map((of) =>
                of === "floor" && spectra.seconds === 0 ? null : spectra.mean(of),
              ),
              ...layout.speakers.map((_, c) => spectra.average(c)),
            ].map((row) => row && fineBands(row, spectra.binWidth(sampleRate)))
          : [];
        const values = new Float32Array(rows.length * FINE_BANDS);
        rows.forEach((row, i) =>
          values.set(row ? Float32Array.from(row, powerToDb) : new Float32Array(FINE_BANDS).fill(NaN), i * FINE_BANDS),
        );
        const average = rows[0];
        const thirdOctaveDbfs = THIRD_OCTAVES.map((_, third) => {
          if (!average) return null;
          let sum = 0;
          for (let band = 0; band < FINE_PER_THIRD; band++) sum += average[third * FINE_PER_THIRD + band]!;
          return finiteOrNull(powerToDb(sum));
        });
        return {
          figures: { thirdOctaveDbfs, spectralTiltDbPerOctave: tiltOf(thirdOctaveDbfs) },
          // Rows are not times.
          curves: { spectraDbfs: { hopSeconds: 0, columns: FINE_BANDS, values } },
        };
      },
    };
  },
};
