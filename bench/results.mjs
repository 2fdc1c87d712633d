// Ratios against a peer in the same run, kept in bench/results.json from one time to the next: what has become worse
// by more than 15 % fails.
import { existsSync, readFileSync, writeFileSync } from "node:fs";
import { join } from "node:path";

const WORSE = 1.15;
/** `npm run` starts in the project's folder. */
const path = join(process.cwd(), "bench", "results.json");

/** @param {readonly number[]} list @returns {number} */
export const median = (list) => list.toSorted((a, b) => a - b)[Math.floor(list.length / 2)] ?? NaN;

/** @typedef {{ ratio: number, least: number, most: number, peer: string, wanted: number }} Ratio */

/**
 * @param {Record<string, { ratio: number }>} before
 * @param {Record<string, { ratio: number }>} now
 * @returns the names of those that are worse than before by more than 15 %
 */
export const worseThan = (before, now) =>
  Object.entries(now).flatMap(([name, { ratio }]) => (ratio > WORSE * (before[name]?.ratio ?? Infinity) ? [name] : []));

/** @type {Record<string, Ratio>} */
const measured = {};

/**
 * Prints a ratio of ours to a peer's, smaller is better: median and spread of its runs, and what is wanted.
 * @param {string} name
 * @param {string} peer
 * @param {readonly number[]} runs
 * @param {number} wanted
 */
export function ratios(name, peer, runs, wanted) {
  const rounded = (/** @type {number} */ value) => Number(value.toFixed(3));
  const [least, ratio, most] = [rounded(Math.min(...runs)), rounded(median(runs)), rounded(Math.max(...runs))];
  console.log(
    `${name}: ${ratio.toFixed(2)} of ${peer} (${least.toFixed(2)} to ${most.toFixed(2)} in ${runs.length} runs; wanted ${wanted})`,
  );
  measured[name] = { ratio, least, most, peer, wanted };
}

/**
 * Keeps what was measured where nothing is worse, or where that is accepted.
 * @param {boolean} accepted
 * @returns an exit code
 */
export function keep(accepted) {
  if (Object.keys(measured).length === 0) return 0;
  const before = existsSync(path) ? JSON.parse(readFileSync(path, "utf8")) : {};
  const worse = worseThan(before, measured);
  for (const name of worse)
    console.log(`WORSE  ${name}: ${measured[name]?.ratio}, was ${before[name].ratio} (--accept keeps it)`);
  if (worse.length > 0 && !accepted) return 1;
  const all = Object.entries({ ...before, ...measured }).sort(([a], [b]) => a.localeCompare(b));
  writeFileSync(path, `${JSON.stringify(Object.fromEntries(all), null, 2)}\n`);
  return 0;
}
