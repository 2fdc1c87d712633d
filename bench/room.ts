/** A made-up room around clean speech, and how much of it a repair takes away. */
import { estimateReverb, type TailEstimate } from "@core/repair/reverb-estimation";
import { meanPower, siSdr } from "@core/testing/degraded";
import { stoi } from "@core/testing/stoi";
import { nearer, roomed } from "@core/testing/room";
import { RATE, type Clip } from "./clips";
import { print, repaired, type Row } from "./peers";

/** All of the tail is as loud as the direct sound at the first level in 0.4 s, 9 dB below it at the second. */
const LEVELS = { "": 0.03, ", faint": 0.01 };

export async function room(all: Clip[]): Promise<void> {
  const rows: Row[] = [];
  const speech = all.filter(({ kind }) => kind === "speech");
  for (const [name, level] of Object.entries(LEVELS))
    for (const rt60Seconds of [0.4, 0.8]) {
      const rooms = speech.map(({ clean }) => roomed(clean.subarray(0, 8 * RATE), RATE, rt60Seconds, level));
      const row = async (what: string, tailOf: (spoilt: Float32Array) => Partial<TailEstimate>) => {
        const gain: Row = { what: `RT60 ${rt60Seconds} s${name}, ${what}`, ours: [], peers: {} };
        const understood: Row = { what: "  STOI, hundredths", ours: [], peers: {} };
        const ratio: Row = { what: "  pauses against speech", ours: [], peers: {} };
        const level: Row = { what: "  level against the direct sound", ours: [], peers: {} };
        for (const { near, far } of rooms) {
          const spoilt = near.map((v, i) => v + far[i]!);
          const tail = tailOf(spoilt);
          const made = await repaired(spoilt, "reverberation", { ...tail });
          gain.ours.push(siSdr(made, near) - siSdr(spoilt, near));
          understood.ours.push(100 * (stoi(near, made, RATE) - stoi(near, spoilt, RATE)));
          ratio.ours.push(nearer({ near, far }, made, RATE));
          level.ours.push(10 * Math.log10(meanPower(made) / meanPower(near)));
        }
        rows.push(gain, understood, ratio, level);
      };
      await row("time told", () => ({ rt60Seconds }));
      await row("learned", (spoilt) => estimateReverb([spoilt], RATE).tail ?? {});
    }
  print(
    "Room: gains in SI-SDR to the direct sound and its first 50 ms, dB, and in STOI (never below 0); by how much pauses fall against speech, dB (wanted 6); level kept, dB",
    rows,
  );
}
