import { SPEC_DEFAULTS, truePeakAtMost, type DeliverySpec } from "../spec";

/** What goes on to another studio: nothing is made louder. */
export const premaster9624: DeliverySpec = {
  ...SPEC_DEFAULTS,
  id: "premaster-96-24",
  name: "Premaster 96/24",
  help: "For another studio: 96 kHz, 24 bit or float, its level left alone",
  source: "practice",
  edition: "2026",
  target: null,
  normalise: "none",
  ceilingDbtp: -1,
  limits: [truePeakAtMost(-1, "practice, headroom for what follows")],
  fileRequirements: { sampleRates: [96000], depths: ["24", "32f"], clause: "practice, 96 kHz and 24 bit or float" },
};
