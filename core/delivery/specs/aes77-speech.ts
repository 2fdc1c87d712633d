import { targetSpec } from "../spec";

export const aes77Speech = targetSpec(
  {
    id: "aes77-speech",
    name: "AES77 speech",
    help: "Spoken programmes for streaming",
    source: "AES77 / TD1008",
    edition: "2023",
  },
  -18,
  0.5,
  -1,
);
