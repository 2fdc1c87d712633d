import { SPEC_DEFAULTS, truePeakAtMost, type DeliverySpec } from "../spec";

/** Immersive music: never louder than this, by what its 5.1 fold-down measures. */
export const immersive18: DeliverySpec = {
  ...SPEC_DEFAULTS,
  id: "immersive-18",
  name: "Immersive −18",
  help: "Immersive programmes, at most −18 LUFS as measured on the 5.1 fold-down",
  source: "practice",
  edition: "2026",
  target: -18.1,
  keepWithinRange: true,
  normalise: "gain and limiter",
  ceilingDbtp: -1,
  measuredOn: "5.1",
  limits: [
    {
      figure: "integratedLufs",
      max: -18,
      required: true,
      marginalWithin: 0.2,
      clause: "practice, loudness of the 5.1 fold-down",
    },
    truePeakAtMost(-1, "practice, maximum true peak"),
    { ...truePeakAtMost(-1, "practice, maximum true peak of each channel"), scope: "channel" },
  ],
};
