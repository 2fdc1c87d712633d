import { targetSpec } from "../spec";

export const streaming16 = targetSpec(
  {
    id: "streaming-16",
    name: "Streaming −16",
    help: "Music and podcasts in stereo at −16 LUFS",
    source: "practice",
    edition: "2026",
  },
  -16,
  0.5,
  -1,
);
