import { gainToDb } from "../signal/decibel";
import { GrowingSeries } from "./loudness-series";
import type { Curve } from "./loudness";
import type { MeasurementDefinition } from "./measurement";

const POINTS_PER_SECOND = 10;

/** Largest |sample| of any channel in each 100 ms: from it limiting is predicted before anything is rendered. */
export const peakCurve: MeasurementDefinition<{ samplePeakCurve: Curve }> = {
  id: "peak-curve",
  help: "Sample peak over time, for predictions",
  source: "Resonum",
  create({ sampleRate }) {
    const points = new GrowingSeries();
    let position = 0;
    let peak = 0;
    let end = Math.round(sampleRate / POINTS_PER_SECOND);
    const values = () => (peak > 0 ? [...points.values(), peak] : points.values());
    return {
      process(block, frames) {
        let from = 0;
        while (from < frames) {
          const to = Math.min(frames, from + end - position);
          for (const x of block) {
            for (let i = from; i < to; i++) {
              const magnitude = Math.abs(x[i]!);
              if (magnitude > peak) peak = magnitude;
            }
          }
          position += to - from;
          from = to;
          if (position === end) {
            points.push(peak);
            peak = 0;
            end = Math.round(((points.values().length + 1) * sampleRate) / POINTS_PER_SECOND);
          }
        }
      },
      result: () => ({
        samplePeakCurve: { hopSeconds: 1 / POINTS_PER_SECOND, values: Float32Array.from(values(), gainToDb) },
      }),
    };
  },
};
