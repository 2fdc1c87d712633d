/** What is looked for after intake, on real recordings where there are any: how fast, and what is found in clean ones. */
import { searchEvents } from "@core/events/sought-events";
import { memoryFrames } from "@core/testing/signals";
import { clips, median, RATE } from "./clips";

console.log("events, one channel on one core");
for (const wanted of ["speech", "music"] as const) {
  const all = [...clips("reported"), ...clips("tuned")].filter(({ kind }) => kind === wanted);
  const speeds: number[] = [];
  const counts: Record<string, number> = {};
  for (const { clean } of all) {
    const began = performance.now();
    const found = await searchEvents(memoryFrames([clean], RATE), wanted === "speech");
    speeds.push(clean.length / RATE / ((performance.now() - began) / 1000));
    for (const { kind, count } of found) counts[kind] = (counts[kind] ?? 0) + count;
  }
  const told = Object.entries(counts).map(([kind, count]) => `${kind} ${count}`);
  console.log(
    `  ${wanted}: ${all.length} clips, median ${median(speeds).toFixed(0)} × real time; found ${told.join(", ") || "nothing"}`,
  );
}
