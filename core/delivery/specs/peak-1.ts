import { SPEC_DEFAULTS, truePeakAtMost, type DeliverySpec } from "../spec";

/** Peak normalisation: the loudness falls where it falls. */
export const peak1: DeliverySpec = {
  ...SPEC_DEFAULTS,
  id: "peak-1",
  name: "Peak −1 dBTP",
  help: "Gain alone brings the highest true peak to −1 dBTP; the loudness falls where it falls",
  source: "practice",
  edition: "2026",
  anchor: "truePeak",
  target: -1,
  normalise: "gain",
  ceilingDbtp: -1,
  limits: [truePeakAtMost(-1, "practice, headroom for encoders")],
};
