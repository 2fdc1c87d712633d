import { SPEC_DEFAULTS, truePeakAtMost, type DeliverySpec } from "../spec";

/** The compact disc: its format; the level stays as it was made. */
export const cd4416: DeliverySpec = {
  ...SPEC_DEFAULTS,
  id: "cd-44-16",
  name: "Compact disc",
  help: "44.1 kHz and 16 bit, dithered; the level is kept, peaks are held below −0.3 dBTP",
  source: "IEC 60908",
  edition: "1999",
  target: null,
  normalise: "gain and limiter",
  ceilingDbtp: -0.3,
  limits: [
    truePeakAtMost(-0.3, "IEC 60908, full scale; practice, room for converters"),
    { figure: "durationSeconds", min: 4, required: true, marginalWithin: 0, clause: "IEC 60908, shortest track" },
    {
      figure: "durationSeconds",
      scope: "album",
      max: 4740,
      required: true,
      marginalWithin: 60,
      clause: "IEC 60908, 79 minutes",
    },
  ],
  fileRequirements: {
    sampleRates: [44100],
    depths: ["16"],
    containers: ["wav", "rf64", "aiff", "flac"],
    layouts: ["stereo"],
    clause: "IEC 60908, two channels of 16 bit at 44.1 kHz",
  },
};
