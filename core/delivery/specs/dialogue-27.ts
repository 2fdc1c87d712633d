import { SPEC_DEFAULTS, truePeakAtMost, type DeliverySpec } from "../spec";

/** Films and series by their speech: the loudness of the dialogue, and not of the programme. */
export const dialogue27: DeliverySpec = {
  ...SPEC_DEFAULTS,
  id: "dialogue-27",
  name: "Dialogue −27",
  help: "Films and series by the loudness of their speech, in stereo and 5.1",
  source: "practice",
  edition: "2026",
  anchor: "dialogue",
  target: -27,
  normalise: "gain and limiter",
  ceilingDbtp: -2,
  limits: [
    {
      figure: "dialogueLufs",
      min: -29,
      max: -25,
      required: true,
      marginalWithin: 0.2,
      clause: "practice, dialogue-gated loudness −27 ±2",
    },
    truePeakAtMost(-2, "practice, maximum true peak"),
  ],
};
