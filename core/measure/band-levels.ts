import type { TimeSeries, MeasurementDefinition } from "./measurement";
import { DecimatingSeries } from "./decimating-series";
import { BAND_COUNT, SPECTRUM_BLOCKS, BLOCKS_PER_SECOND } from "./analysis-block";

/** 4 MB: ten hours in steps of 0.8 s. */
const MOST_VALUES = 1 << 20;

export interface BandCurves {
  /** Mean square in each band of half an octave over time, mean of the channels. */
  bandPowers: TimeSeries;
}

/** Energies in half octaves over time: what a picture of the whole is drawn of before, and where, no finer one is made. */
export const bandLevels: MeasurementDefinition<object, BandCurves> = {
  id: "band-levels",
  help: "Energy in half octaves over time",
  source: "Hann windows of about 170 ms each 200 ms, half octaves from 22 Hz to 22 kHz",
  create({ layout }) {
    const channels = layout.speakers.length;
    // One more column than bands: the count.
    const table = new DecimatingSeries(BAND_COUNT + 1, MOST_VALUES);
    return {
      block({ bands, hasBands }) {
        if (!hasBands) return;
        const row = table.next();
        row[BAND_COUNT]! += 1;
        for (let c = 0; c < channels; c++)
          for (let band = 0; band < BAND_COUNT; band++) row[band]! += bands[c * BAND_COUNT + band]! / channels;
      },
      result() {
        const values = table.values();
        const rows = values.length / (BAND_COUNT + 1);
        const powers = new Float32Array(rows * BAND_COUNT);
        for (let row = 0; row < rows; row++) {
          const at = row * (BAND_COUNT + 1);
          const spectra = values[at + BAND_COUNT]!;
          for (let band = 0; band < BAND_COUNT; band++) powers[row * BAND_COUNT + band] = values[at + band]! / spectra;
        }
        const hopSeconds = (SPECTRUM_BLOCKS * table.fold) / BLOCKS_PER_SECOND;
        return { figures: {}, curves: { bandPowers: { hopSeconds, columns: BAND_COUNT, values: powers } } };
      },
    };
  },
};
