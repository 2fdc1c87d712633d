import { gainToDb } from "../audio/decibel";
import type { Curve, MeasurementDefinition } from "./measurement";
import { GrowingTable } from "./decimating-series";
import { TICKS_PER_SECOND } from "./analysis-block";

/** Largest |sample| of any channel in each 100 ms: from it limiting is predicted before anything is rendered. */
export const peakCurve: MeasurementDefinition<object, { samplePeakDbfs: Curve }> = {
  id: "peak-curve",
  help: "Sample peak over time, for predictions",
  source: "Resonum",
  create() {
    const points = new GrowingTable();
    return {
      tick({ largest, smallest }) {
        let peak = 0;
        for (let c = 0; c < largest.length; c++) peak = Math.max(peak, largest[c]!, -smallest[c]!);
        points.push(gainToDb(peak));
      },
      result: () => ({
        figures: {},
        curves: { samplePeakDbfs: { hopSeconds: 1 / TICKS_PER_SECOND, columns: 1, values: points.values() } },
      }),
    };
  },
};
