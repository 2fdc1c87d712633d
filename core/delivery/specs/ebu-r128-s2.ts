import { loudnessBetween, SPEC_DEFAULTS, truePeakAtMost, type DeliverySpec } from "../spec";

export const ebuR128S2: DeliverySpec = {
  id: "ebu-r128-s2",
  name: "EBU R 128 s2",
  help: "Streaming of broadcast programmes without loudness metadata",
  source: "EBU R 128 s2",
  edition: "version 1, 2021",
  ...SPEC_DEFAULTS,
  target: -18,
  keepWithinRange: true,
  normalise: "gain and limiter",
  ceilingDbtp: -1,
  limits: [
    loudnessBetween(-20, -16, "EBU R 128 s2, distribution loudness"),
    truePeakAtMost(-1, "EBU R 128 s2, maximum true peak"),
  ],
};
