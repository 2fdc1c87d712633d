import { targetSpec } from "../spec";

export const monoSpeech19 = targetSpec(
  {
    id: "mono-speech-19",
    name: "Mono speech −19",
    help: "Podcasts in mono: as loud as −16 in stereo",
    source: "practice",
    edition: "2026",
  },
  -19,
  0.5,
  -1,
);
