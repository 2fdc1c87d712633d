import { targetSpec } from "../spec";

export const aes77MusicTrack = targetSpec(
  {
    id: "aes77-music-track",
    name: "AES77 music, track",
    help: "Music for streaming, each title by itself",
    source: "AES77 / TD1008",
    edition: "2023",
  },
  -16,
  0.5,
  -1,
);
