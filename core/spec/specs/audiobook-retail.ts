import type { DeliverySpec } from "../spec";

const clause = (words: string) => `practice of audiobook shops, ${words}`;

/** Chapters for audiobook shops: a range of RMS rather than a loudness, and a floor that a room must keep. */
export const audiobookRetail: DeliverySpec = {
  id: "audiobook-retail",
  name: "Audiobook retail",
  help: "Chapters of audiobooks: RMS −23 to −18 dBFS, peaks at most −3 dBFS, noise floor at most −60 dBFS",
  source: "practice",
  edition: "2026",
  targetLufs: null,
  keepWithinRange: false,
  normalise: "none",
  ceilingDbtp: -3,
  limits: [
    { figure: "rmsDbfs", min: -23, max: -18, hard: true, close: 0.3, clause: clause("RMS of the chapter") },
    { figure: "samplePeakDbfs", max: -3, hard: true, close: 0.1, clause: clause("highest peak") },
    { figure: "noiseFloorDbfs", max: -60, hard: true, close: 2, clause: clause("noise floor") },
    { figure: "durationSeconds", max: 7200, hard: true, close: 60, clause: clause("length of a chapter") },
  ],
};
