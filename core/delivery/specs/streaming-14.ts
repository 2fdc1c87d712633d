import { targetSpec } from "../spec";

export const streaming14 = targetSpec(
  {
    id: "streaming-14",
    name: "Streaming −14",
    help: "Music services that play at −14 LUFS",
    source: "practice",
    edition: "2026",
  },
  -14,
  0.5,
  -1,
);
