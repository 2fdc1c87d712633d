import { gainToDb } from "../audio/decibel";
import type { TimeSeries, MeasurementDefinition } from "./measurement";
import { GrowableTable } from "./decimating-series";
import { BLOCKS_PER_SECOND } from "./analysis-block";

/** Largest |sample| of any channel in each 100 ms: from it limiting is predicted before anything is rendered. */
export const peakCurve: MeasurementDefinition<object, { samplePeakDbfs: TimeSeries }> = {
  id: "peak-curve",
  help: "Sample peak over time, for predictions",
  source: "Resonum",
  create() {
    const points = new GrowableTable();
    return {
      block({ largest, smallest }) {
        let peak = 0;
        for (let c = 0; c < largest.length; c++) peak = Math.max(peak, largest[c]!, -smallest[c]!);
        points.push(gainToDb(peak));
      },
      result: () => ({
        figures: {},
        curves: { samplePeakDbfs: { hopSeconds: 1 / BLOCKS_PER_SECOND, columns: 1, values: points.values() } },
      }),
    };
  },
};
