// `npm run figures [-- share]`: figures of the code itself.
import { execFileSync } from "node:child_process";
import { readFileSync } from "node:fs";
import { inRoot, root } from "./paths.mjs";

const CODE = /\.(ts|tsx|mjs|sql|css)$/;
const LEFT_OUT = /^tests\/fixtures\/|\.generated\.ts$|^next-env\.d\.ts$/;
const KINDS = [
  ["integration", /\.integration\.test\.tsx?$|^tests\/integration\//],
  ["unit", /\.test\.(tsx?|mjs)$|^(core\/testing|tests\/components)\//],
  ["end to end", /^tests\//],
];

/** What a file is: a kind of test, or code. */
export const kindOf = (path) => KINDS.find(([, pattern]) => pattern.test(path))?.[0] ?? "code";

/** Lines that hold anything. */
export const linesOf = (text) => text.split("\n").filter((line) => line.trim() !== "").length;

/** Lines by part and kind. @param files paths and texts */
export function sharesOf(files) {
  const parts = new Map();
  for (const { path, text } of files) {
    if (!CODE.test(path) || LEFT_OUT.test(path)) continue;
    const part = path.includes("/") ? path.split("/")[0] : "(root)";
    const counts = parts.get(part) ?? { code: 0, unit: 0, integration: 0, "end to end": 0 };
    counts[kindOf(path)] += linesOf(text);
    parts.set(part, counts);
  }
  return parts;
}

const sum = (counts) => Object.values(counts).reduce((total, one) => total + one, 0);
const shareOf = (counts) => 1 - counts.code / Math.max(1, sum(counts));

/** A table of {@link sharesOf}, the whole last. */
export function shareTable(parts) {
  const whole = { code: 0, unit: 0, integration: 0, "end to end": 0 };
  for (const counts of parts.values()) for (const kind of Object.keys(whole)) whole[kind] += counts[kind];
  const row = (name, counts) => {
    const cells = Object.values(counts).map((count) => String(count).padStart(12));
    return `${name.padEnd(12)}${cells.join("")}${`${(100 * shareOf(counts)).toFixed(1)} %`.padStart(10)}`;
  };
  const head = `${"".padEnd(12)}${Object.keys(whole)
    .map((kind) => kind.padStart(12))
    .join("")}${"tests".padStart(10)}`;
  const rows = [...parts].sort((a, b) => sum(b[1]) - sum(a[1])).map(([name, counts]) => row(name, counts));
  return [head, ...rows, row("all", whole)].join("\n");
}

/** Prints the share of tests. */
export function figures([what = "share"]) {
  if (what !== "share") throw new Error(`There are no figures "${what}": share.`);
  const paths = execFileSync("git", ["ls-files"], { cwd: root, encoding: "utf8" }).split("\n").filter(Boolean);
  const files = paths
    .filter((path) => CODE.test(path))
    .map((path) => ({ path, text: readFileSync(inRoot(path), "utf8") }));
  console.log(shareTable(sharesOf(files)));
  return 0;
}
