import { targetSpec } from "../spec";

export const aribTrB32 = targetSpec(
  {
    id: "arib-tr-b32",
    name: "ARIB TR-B32",
    help: "Digital television in Japan",
    source: "ARIB TR-B32",
    edition: "version 1.5",
  },
  -24,
  1,
  -1,
);
