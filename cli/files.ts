/** Sound files of paths that may be folders. */
import { readdir, stat } from "node:fs/promises";
import { extname, join, resolve } from "node:path";
import { SOUND_EXTENSIONS } from "@core/files/extensions";
import { CliProblem } from "./outcome";

/**
 * Files as they are, there or not, and the sound and video files in folders, by name.
 * @param without a folder below which nothing is taken: that of the masters
 */
export async function filesIn(paths: readonly string[], without?: string): Promise<string[]> {
  const files: string[] = [];
  for (const path of paths) {
    if (!(await stat(path).catch(() => undefined))?.isDirectory()) files.push(path);
    else {
      const found = await below(path, without);
      if (found.length === 0) throw new CliProblem(`The folder ${path} holds no sound or video files.`);
      files.push(...found);
    }
  }
  return files;
}

/** Sound and video files below a folder, by name; hidden ones are left out. */
export async function below(folder: string, without?: string): Promise<string[]> {
  if (resolve(folder) === without) return [];
  const files: string[] = [];
  for (const entry of (await readdir(folder, { withFileTypes: true })).sort((a, b) => (a.name < b.name ? -1 : 1))) {
    if (entry.name.startsWith(".")) continue;
    const path = join(folder, entry.name);
    if (entry.isDirectory()) files.push(...(await below(path, without)));
    else if (SOUND_EXTENSIONS.includes(extname(entry.name).toLowerCase())) files.push(path);
  }
  return files;
}
