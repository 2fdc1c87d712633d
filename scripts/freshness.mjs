// Whether what was built is newer than all that it is made from: by times alone, so that the command line starts at
// once. What cannot be told by times is told by contents, in build.mjs.
import { existsSync, readdirSync, statSync } from "node:fs";
import { join } from "node:path";
import { inRoot } from "./paths.mjs";

/** What the bundles are made from. */
export const CODE = ["core", "playback", "server", "cli", "demo", "receivers", "package-lock.json", "scripts"];

export const stampOf = (name) => inRoot(".build", `${name}.stamp`);

/** When the file, or anything in the folder, changed last: ms since 1970. A folder changes when a file leaves it. */
export function lastChangeOf(path) {
  const about = statSync(path);
  if (!about.isDirectory()) return about.mtimeMs;
  const inside = readdirSync(path).map((name) => lastChangeOf(join(path, name)));
  return Math.max(about.mtimeMs, ...inside);
}

/** Whether these bundles were built after the last change of the code, and the packages are there. */
export function areFresh(names, outputs) {
  const made = [inRoot("node_modules", ".resonum-lock"), ...outputs.map((out) => inRoot(out)), ...names.map(stampOf)];
  if (!made.every((path) => existsSync(path))) return false;
  const changed = Math.max(...CODE.map((part) => lastChangeOf(inRoot(part))));
  return names.every((name) => statSync(stampOf(name)).mtimeMs > changed);
}
