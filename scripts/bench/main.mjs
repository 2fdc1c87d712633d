// `npm run bench [-- PART] [--long] [--accept]`: speed as ratios and multiples of real time, memory as peaks, and how far
// figures are from another meter's. Parts: measure, studio, view, order, desk, review, seats [MINUTES], repair [PART], chain, events, programme, sound,
// deliver [specs | converter | lossy | album], reliability [kills N] [files N] [page N] [fuzz S] [soak S] [crowd N] [states N],
// deviation FOLDER. A ratio that is worse than its last one by more than 15 % fails, and is kept with --accept.
import { spawnSync } from "node:child_process";
import { buildBench, buildBundles, buildWeb } from "../build.mjs";
import { album } from "./album.mjs";
import { desk } from "./desk.mjs";
import { order } from "./order.mjs";
import { deviation } from "./deviation.mjs";
import { measure } from "./measure.mjs";
import { recording } from "./recordings.mjs";
import { keep } from "../../bench/results.mjs";
import { review } from "./review.mjs";
import { seats } from "./seats.mjs";
import { studio } from "./studio.mjs";
import { benchView } from "./view.mjs";

/** Runs a bench of the core in a process of its own. @returns its exit code */
async function ofCore(name, args) {
  const { status } = spawnSync(process.execPath, [await buildBench(name), ...args], { stdio: "inherit" });
  return status ?? 1;
}

export async function bench(args) {
  await buildBundles();
  const what = args.filter((arg) => !arg.startsWith("--"));
  const [first, ...rest] = what;
  const flags = args.filter((arg) => arg.startsWith("--"));
  const asked = (name) => first === undefined || first === name;
  if (first === "deviation") deviation(rest[0]);
  // By itself: it takes an hour, and kills what it starts.
  if (first === "reliability") {
    await buildWeb();
    return ofCore("reliability/main", rest);
  }
  const codes = [];
  if (asked("measure")) {
    await measure();
    codes.push(keep(flags.includes("--accept")));
  }
  if (asked("repair")) codes.push(await ofCore("repair", [...rest, ...flags]));
  if (asked("chain")) {
    const paths = [recording("stereo-60.wav", 60, 2), recording("wide-180.wav", 180, 12)];
    codes.push(await ofCore("chain", [...paths, ...flags]));
  }
  if (asked("events")) codes.push(await ofCore("events", flags));
  if (asked("programme")) codes.push(await ofCore("programme", flags));
  if (asked("sound")) codes.push(await ofCore("limiter", rest));
  if (asked("deliver") && rest[0] !== "album") codes.push(await ofCore("deliver", [...rest, ...flags]));
  if (asked("deliver") && (rest.length === 0 || rest[0] === "album")) await album();
  if (asked("studio")) await studio(flags.includes("--long"));
  if (asked("view")) {
    await buildWeb();
    await benchView(recording, flags.includes("--long"));
  }
  if (asked("order")) {
    await buildWeb();
    await order(recording);
  }
  if (asked("review")) {
    await buildWeb();
    await review(recording);
  }
  if (asked("seats")) {
    await buildWeb();
    await seats(rest[0] ? Number(rest[0]) : 1);
  }
  if (asked("desk")) {
    await buildWeb();
    await desk(recording, flags.includes("--long"));
  }
  return Math.max(0, ...codes);
}
