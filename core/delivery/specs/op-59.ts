import { targetSpec } from "../spec";

export const op59 = targetSpec(
  {
    id: "op-59",
    name: "OP-59",
    help: "Free television in Australia",
    source: "OP-59",
    edition: "2016",
  },
  -24,
  1,
  -2,
);
