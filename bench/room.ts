/** A made-up room around clean speech, and how much of it a repair takes away. */
import { newRepairStep, repairSettings } from "@core/repair";
import { roomResolutions, roomTail } from "@core/repair/reverberation";
import { meanPower, siSdr, steadyNoise } from "@core/testing/degraded";
import { RATE, type Clip } from "./clips";
import { print, repaired, type Row } from "./peers";

/** Gaussian tail of a room: direct sound, first reflections after 4 ms. */
function roomed(x: Float32Array, tailSeconds: number) {
  const length = Math.round(1.2 * tailSeconds * RATE);
  const response = steadyNoise("hiss", length, RATE, 9).map((v, i) =>
    i < 0.004 * RATE ? 0 : 0.03 * v * Math.exp((-6.9078 * i) / (tailSeconds * RATE)),
  );
  response[0] = 1;
  const early = Math.round(0.05 * RATE);
  const [near, far] = [x.map(() => 0), x.map(() => 0)];
  // Sparse enough to be summed directly: every third tap of the tail.
  for (let tap = 0; tap < length; tap += tap === 0 ? 1 : 3) {
    const size = tap === 0 ? 1 : response[tap]! * Math.sqrt(3);
    const to = tap < early ? near : far;
    for (let i = tap; i < x.length; i++) to[i] = to[i]! + size * x[i - tap]!;
  }
  return { near, far };
}

/**
 * What is left of the direct sound and of the tail, each by itself, by the gains that the whole was given: by so much
 * the direct sound stands further above the tail, dB.
 */
function nearer(spoilt: Float32Array, near: Float32Array, far: Float32Array, tailSeconds: number): number {
  const settings = repairSettings({ ...newRepairStep("reverberation", ""), tailSeconds });
  const tail = roomTail(settings as Parameters<typeof roomTail>[0], RATE);
  const edge = RATE / 2;
  const padded = (x: Float32Array) => {
    const out = new Float32Array(x.length + 2 * edge);
    out.set(x, edge);
    return out;
  };
  const place = { first: 0, from: 0, to: spoilt.length + 2 * edge, heldFrom: 0, heldTo: spoilt.length + 2 * edge };
  const left = [near, far].map((part) => {
    const sum = new Float32Array(place.to);
    for (const resolution of roomResolutions(RATE)) {
      const gains = resolution.gains(padded(spoilt), undefined, 0, place, tail);
      const alone = padded(part);
      resolution.frames.analyse(alone, undefined, 0);
      resolution.apply(gains, alone, undefined, place);
      alone.forEach((v, i) => (sum[i] = sum[i]! + v));
    }
    return meanPower(sum);
  });
  return 10 * Math.log10(left[0]! / left[1]! / (meanPower(near) / meanPower(far)));
}

export async function room(all: Clip[]): Promise<void> {
  const rows: Row[] = [];
  for (const tailSeconds of [0.4, 0.8]) {
    const row: Row = { what: `RT60 ${tailSeconds} s`, ours: [], peers: {} };
    const ratio: Row = { what: "  direct to reverberant", ours: [], peers: {} };
    for (const { clean } of all.filter(({ kind }) => kind === "speech").slice(0, 3)) {
      const { near, far } = roomed(clean.subarray(0, 6 * RATE), tailSeconds);
      const spoilt = near.map((v, i) => v + far[i]!);
      const made = await repaired(spoilt, "reverberation", { tailSeconds });
      row.ours.push(siSdr(made, near) - siSdr(spoilt, near));
      ratio.ours.push(nearer(spoilt, near, far, tailSeconds));
    }
    rows.push(row, ratio);
  }
  print(
    "Room: gain in SI-SDR to the direct sound and its first 50 ms, dB (wanted 1.0), and in direct to reverberant (6.0)",
    rows,
  );
}
