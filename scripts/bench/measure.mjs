// `npm run bench -- measure`: everything that is measured, against four figures by ffmpeg; and starting, against Node.
import { recording } from "./recordings.mjs";
import { median, ratios } from "../../bench/results.mjs";
import { timed } from "./timing.mjs";

const RUNS = 5;
const CLI = "bin/resonum";
const RECORDINGS = [
  ["stereo-600.wav", 600, 2],
  ["wide-180.wav", 180, 12],
  ["mono-7200.wav", 7200, 1],
];

const ebur128 = (path) => ["-nostats", "-hide_banner", "-i", path, "-af", "ebur128=peak=true", "-f", "null", "-"];

/** Whole processes, ours and theirs alternating; the first of each warms up. */
async function alternating(ways) {
  const runs = [];
  for (let run = 0; run <= RUNS; run++) {
    const one = {};
    for (const [name, [command, ...args]] of Object.entries(ways)) one[name] = await timed(command, args);
    if (run > 0) runs.push(one);
  }
  return runs;
}

export async function measure() {
  const starts = await alternating({ ours: [CLI, "specs"], node: [process.execPath, "-e", "0"] });
  ratios(
    "start: resonum specs",
    "node -e 0",
    starts.map(({ ours, node }) => ours.seconds / node.seconds),
    2,
  );
  for (const [name, seconds, channels] of RECORDINGS) {
    const path = recording(name, seconds, channels);
    const runs = await alternating({
      one: [CLI, "measure", path, "--json", "--threads", "1"],
      theirs: ["ffmpeg", ...ebur128(path)],
      all: [CLI, "measure", path, "--json"],
    });
    const [one, all] = channels === 12 ? [0.15, 0.12] : channels === 1 ? [0.35, 0.2] : [0.35, 0.25];
    const over = (which) => runs.map((run) => run[which].seconds / run.theirs.seconds);
    ratios(`measure ${name}, one thread`, "ffmpeg ebur128", over("one"), one);
    ratios(`measure ${name}, all threads`, "ffmpeg ebur128", over("all"), all);
    const middle = (of) => median(runs.map(of));
    console.log(
      `  ${middle((run) => run.one.seconds).toFixed(1)} s, ${middle((run) => run.all.seconds).toFixed(1)} s, ` +
        `ffmpeg ${middle((run) => run.theirs.seconds).toFixed(1)} s; ${middle((run) => run.one.megabytes)} MB`,
    );
  }
}
