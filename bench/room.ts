/** A made-up room around clean speech, and how much of it a repair takes away. */
import { siSdr } from "@core/testing/degraded";
import { nearer, roomed } from "@core/testing/room";
import { RATE, type Clip } from "./clips";
import { print, repaired, type Row } from "./peers";

export async function room(all: Clip[]): Promise<void> {
  const rows: Row[] = [];
  for (const tailSeconds of [0.4, 0.8]) {
    const row: Row = { what: `RT60 ${tailSeconds} s`, ours: [], peers: {} };
    const ratio: Row = { what: "  direct to reverberant", ours: [], peers: {} };
    for (const { clean } of all.filter(({ kind }) => kind === "speech").slice(0, 3)) {
      const { near, far } = roomed(clean.subarray(0, 6 * RATE), RATE, tailSeconds);
      const spoilt = near.map((v, i) => v + far[i]!);
      const made = await repaired(spoilt, "reverberation", { tailSeconds });
      row.ours.push(siSdr(made, near) - siSdr(spoilt, near));
      ratio.ours.push(nearer({ near, far }, RATE, tailSeconds));
    }
    rows.push(row, ratio);
  }
  print(
    "Room: gain in SI-SDR to the direct sound and its first 50 ms, dB (wanted 1.0), and in direct to reverberant (6.0)",
    rows,
  );
}
