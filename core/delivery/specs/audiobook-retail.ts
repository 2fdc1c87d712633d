import { SPEC_DEFAULTS, type DeliverySpec } from "../spec";

const clause = (words: string) => `practice of audiobook shops, ${words}`;

/** Chapters for audiobook shops: a range of RMS rather than a loudness, and a floor that a room must keep. */
export const audiobookRetail: DeliverySpec = {
  ...SPEC_DEFAULTS,
  id: "audiobook-retail",
  name: "Audiobook retail",
  help: "Chapters of audiobooks: RMS −23 to −18 dBFS, peaks at most −3 dBFS, noise floor at most −60 dBFS",
  source: "practice",
  edition: "2026",
  anchor: "rms",
  target: -20.5,
  keepWithinRange: true,
  normalise: "gain and limiter",
  ceilingDbtp: -3,
  limits: [
    {
      figure: "rmsDbfs",
      min: -23,
      max: -18,
      required: true,
      marginalWithin: 0.3,
      clause: clause("RMS of the chapter"),
    },
    { figure: "samplePeakDbfs", max: -3, required: true, marginalWithin: 0.1, clause: clause("highest peak") },
    { figure: "noiseFloorDbfs", max: -60, required: true, marginalWithin: 2, clause: clause("noise floor") },
    // Where wanted sound begins and ends is an estimate: told, and no reason to fail.
    {
      figure: "headRoomToneSeconds",
      min: 0.5,
      max: 1,
      required: false,
      marginalWithin: 0.05,
      clause: clause("room tone at the head"),
    },
    {
      figure: "tailRoomToneSeconds",
      min: 1,
      max: 5,
      required: false,
      marginalWithin: 0.1,
      clause: clause("room tone at the tail"),
    },
    {
      figure: "headSilenceSeconds",
      max: 0.01,
      required: true,
      marginalWithin: 0,
      clause: clause("no digital silence"),
    },
    {
      figure: "tailSilenceSeconds",
      max: 0.01,
      required: true,
      marginalWithin: 0,
      clause: clause("no digital silence"),
    },
    { figure: "durationSeconds", max: 7200, required: true, marginalWithin: 60, clause: clause("length of a chapter") },
  ],
  fileRequirements: {
    sampleRates: [44100],
    minBitrateKbps: 192,
    constantBitrate: true,
    layouts: ["mono", "stereo"],
    sameChannels: true,
    clause: clause("files"),
  },
};
