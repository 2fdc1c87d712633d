import { targetSpec } from "../spec";

export const ebuR128 = targetSpec(
  {
    id: "ebu-r128",
    name: "EBU R 128",
    help: "Broadcast programmes in Europe and beyond",
    source: "EBU R 128",
    edition: "version 5, 2023",
  },
  -23,
  0.5,
  -1,
);
