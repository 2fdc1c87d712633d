/** What another program makes of a spoilt clip with its best setting for it, and lines of results side by side. */
import { newRepairStep, type RepairStep } from "@core/repair";
import { repairedSource } from "@core/repair/repaired-source";
import { memoryFrames } from "@core/testing/signals";
import { mean, RATE, through } from "./clips";

export const db = (value: number): string => (Number.isFinite(value) ? value.toFixed(1) : "–").padStart(6);

/** A clip after one repair with its defaults, changed by `settings`. */
export async function repaired(
  x: Float32Array,
  type: string,
  settings: Partial<RepairStep> = {},
): Promise<Float32Array> {
  const step = { ...newRepairStep(type, "bench"), ...settings };
  return (await repairedSource(memoryFrames([x], RATE), [step], { content: "" }).read(0, x.length))[0]!;
}

/** Commands of a peer, by their settings. */
export type Ways = Record<string, (input: string, output: string) => string[]>;

/** What the best of a peer's settings makes of a clip; `undefined` where the program is missing. */
export async function bestMade(
  ways: Ways,
  x: Float32Array,
  clean: Float32Array,
  score: (made: Float32Array) => number,
  lead = 0,
): Promise<Float32Array | undefined> {
  let best: { made: Float32Array; score: number } | undefined;
  for (const way of Object.values(ways)) {
    const made = await through(x, way, clean, lead);
    if (!made) continue;
    const one = { made, score: score(made.subarray(lead)) };
    if (!best || one.score > best.score) best = one;
  }
  return best?.made;
}

/** The best that a peer's settings reach on a clip; NaN where the program is missing. */
export async function bestOf(ways: Ways, x: Float32Array, clean: Float32Array, score: (made: Float32Array) => number) {
  const made = await bestMade(ways, x, clean, score);
  return made ? score(made) : NaN;
}

/** A filter of ffmpeg, from and to float samples. */
export const ffmpeg = (filter: string) => (input: string, output: string) => [
  "ffmpeg",
  "-v",
  "error",
  "-y",
  "-i",
  input,
  "-af",
  filter,
  "-c:a",
  "pcm_f32le",
  output,
];
export const settings = (name: string, list: string[]): Ways =>
  Object.fromEntries(list.map((one) => [one, ffmpeg(`${name}=${one}`)]));

/** A line of the results: a score for each clip, of ours and of each peer's best setting. */
export interface Row {
  what: string;
  ours: number[];
  peers: Record<string, number[]>;
}

export function print(title: string, rows: Row[], better: "more" | "less" = "more"): void {
  console.log(`\n${title}`);
  for (const { what, ours, peers } of rows) {
    const others = Object.entries(peers).map(([name, list]) => {
      const won = list.filter((score, i) => (better === "more" ? ours[i]! > score : ours[i]! < score)).length;
      return `${name} ${db(mean(list))} (better on ${won} of ${list.filter(Number.isFinite).length})`;
    });
    console.log(
      `  ${what.padEnd(34)} ours ${db(mean(ours))}, worst ${db(better === "more" ? Math.min(...ours) : Math.max(...ours))}   ${others.join("   ")}`,
    );
  }
}
