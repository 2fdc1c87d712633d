/** `resonum render --manifest FILE`: the very same bytes once more, from the recordings. */
import { readdir } from "node:fs/promises";
import { dirname, join, resolve } from "node:path";
import { manifestSchema, type Manifest } from "@core/project/manifest";
import { CORE_VERSION } from "@core/audio/core-version";
import { hashFile } from "@server/storage/byte-files";
import { withFolder } from "./output-folder";
import { CliProblem, ERROR, messageOf, print, printJson } from "./outcome";
import { checked, readJson } from "./recipes";
import type { RenderOptions } from "./render-options";
import { renderOne, sharedGain } from "./render-one";

type Entry = Manifest["masters"][number];

interface Replayed {
  file: string;
  /** "same": every byte; "same sound": another encoder made the file. */
  state: "same" | "same sound" | "differs" | "failed";
  problem: string | null;
}

/** Files of a folder by their SHA-256, until all that are wanted are found. */
async function found(folder: string, wanted: ReadonlySet<string>): Promise<Map<string, string>> {
  const files = new Map<string, string>();
  const entries = await readdir(folder, { withFileTypes: true, recursive: true }).catch(() => {
    throw new CliProblem(`There is no folder ${folder} with the recordings.`);
  });
  for (const entry of entries) {
    if (files.size === wanted.size) break;
    if (!entry.isFile()) continue;
    const path = join(entry.parentPath, entry.name);
    const { hash } = await hashFile(path);
    if (wanted.has(hash)) files.set(hash, path);
  }
  return files;
}

const neededBy = ({ inputs }: Entry): string[] => [
  inputs.source,
  ...(inputs.cover ? [inputs.cover] : []),
  ...(inputs.album?.map(({ source }) => source) ?? []),
];

async function replay(entry: Entry, files: ReadonlyMap<string, string>, folder: string): Promise<Replayed> {
  const { file, inputs } = entry;
  const { source, recipe, clips, layout, tags, cover, album, coreVersion } = inputs;
  const fileOf = (hash: string): string => {
    const path = files.get(hash);
    if (!path) throw new CliProblem(`the file with SHA-256 ${hash} is not among the recordings`);
    return path;
  };
  if (coreVersion !== CORE_VERSION)
    throw new CliProblem(`it was made by version ${coreVersion} of the core, and this is version ${CORE_VERSION}`);
  if (/[/\\]/.test(file)) throw new CliProblem("its name is a path");
  const albumGainDb = await sharedGain(
    recipe,
    (album ?? []).map((work) => ({ input: fileOf(work.source), work, layout: work.layout })),
  );
  const rendered = await renderOne({
    input: fileOf(source),
    out: join(folder, file),
    recipe,
    layout,
    clips,
    tags,
    cover: cover && fileOf(cover),
    albumGainDb,
  });
  if (rendered.sha256 === entry.sha256) return { file, state: "same", problem: null };
  if (entry.soundSha256 !== null && rendered.soundSha256 === entry.soundSha256)
    return { file, state: "same sound", problem: "another version of the encoder made the file" };
  return { file, state: "differs", problem: "the bytes differ" };
}

export async function renderManifest(path: string, options: RenderOptions): Promise<void> {
  const manifest = checked(manifestSchema, await readJson(path, "The manifest"), path);
  const folder = resolve(options.out);
  const wanted = new Set(manifest.masters.flatMap(neededBy));
  const files = await found(resolve(options.sources ?? dirname(path)), wanted);
  const replayed = await withFolder(folder, async () => {
    const all: Replayed[] = [];
    for (const entry of manifest.masters) {
      const one = await replay(entry, files, folder).catch((error: unknown): Replayed => ({
        file: entry.file,
        state: "failed",
        problem: messageOf(error),
      }));
      all.push(one);
      if (!options.json) print(`${one.state.padEnd(12)}${one.file}${one.problem ? `: ${one.problem}` : ""}`);
    }
    return all;
  });
  if (options.json) printJson(replayed);
  if (replayed.some(({ state }) => state === "failed" || state === "differs")) process.exitCode = ERROR;
}
