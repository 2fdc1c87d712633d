import type { Seconds } from "../audio/units";
import type { MeasurementDefinition } from "./measurement";

export interface NonFiniteFigures {
  nonFiniteSamples: number;
  /** Where the first ones are. */
  nonFinitePlaces: { channel: string; seconds: Seconds }[];
}

const PLACES = 20;

/** Samples that are no numbers: they are measured as silence. */
export const nonFinite: MeasurementDefinition<NonFiniteFigures> = {
  id: "non-finite",
  help: "Samples that are NaN or infinite, and where the first ones are",
  source: "IEEE 754: not finite",
  create({ sampleRate, layout }) {
    let count = 0;
    const places: NonFiniteFigures["nonFinitePlaces"] = [];
    return {
      block(tick) {
        count += tick.nonFinite.count;
        for (const { channel, frame } of tick.nonFinite.first) {
          if (places.length >= PLACES) return;
          places.push({ channel: layout.speakers[channel]!.label, seconds: frame / sampleRate });
        }
      },
      result: () => ({ figures: { nonFiniteSamples: count, nonFinitePlaces: [...places] } }),
    };
  },
};
