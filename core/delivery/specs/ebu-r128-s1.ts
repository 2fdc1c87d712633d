import { targetSpec } from "../spec";

export const ebuR128S1 = targetSpec(
  {
    id: "ebu-r128-s1",
    name: "EBU R 128 s1",
    help: "Short-form broadcast content: advertisements, trailers",
    source: "EBU R 128 s1",
    edition: "version 3, 2020",
  },
  -23,
  0.5,
  -1,
  [
    {
      figure: "shortTermMaxLufs",
      max: -18,
      required: true,
      marginalWithin: 0.2,
      clause: "EBU R 128 s1, maximum short-term loudness",
    },
    {
      figure: "durationSeconds",
      max: 120,
      required: false,
      marginalWithin: 5,
      clause: "EBU R 128 s1, short-form content",
    },
  ],
);
