import { formatDb } from "../audio/format";
import type { Finder } from "./finding";

const SURE = 0.4;

/** What the spectrum tells of where a recording comes from. */
export const origins: readonly Finder[] = [
  {
    kind: "hum",
    find({ humHz, humAboveFloorDb, humHarmonics }) {
      if (humHz === null) return [];
      return [
        {
          about: null,
          severity: "doubt",
          title: `Mains hum at ${formatDb(humHz)} Hz`,
          facts: `${humHarmonics.length} harmonics stand ${formatDb(humAboveFloorDb)} dB above the floor on average.`,
          advice: "Remove the hum before any compression: gain lifts it.",
          places: [],
        },
      ];
    },
  },
  {
    kind: "bandwidth",
    find({ bandwidthHz, bandwidthConfidence, sampleRate }) {
      if (bandwidthHz === null || bandwidthConfidence < SURE) return [];
      return [
        {
          about: null,
          severity: "doubt",
          title: `Nothing above ${formatDb(bandwidthHz / 1000)} kHz`,
          facts: `The spectrum ends in a cliff, ${Math.round(bandwidthConfidence * 100)} % sure, where ${formatDb(sampleRate / 2000)} kHz would fit.`,
          advice: "It was lossy, or at a lower rate, before: ask for the original.",
          places: [],
        },
      ];
    },
  },
];
