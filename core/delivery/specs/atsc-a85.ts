import { targetSpec } from "../spec";

export const atscA85 = targetSpec(
  {
    id: "atsc-a85",
    name: "ATSC A/85",
    help: "Digital television in North America",
    source: "ATSC A/85",
    edition: "2013",
  },
  -24,
  2,
  -2,
  [
    {
      figure: "dialogueLufs",
      min: -26,
      max: -22,
      required: false,
      marginalWithin: 0.2,
      clause: "ATSC A/85, dialogue as anchor where there is speech",
    },
  ],
);
