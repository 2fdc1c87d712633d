/** `resonum render --manifest FILE`: the very same bytes once more, from the recordings. */
import { readdir } from "node:fs/promises";
import { dirname, join, resolve } from "node:path";
import { manifestSchema, type Manifest } from "@core/project/manifest";
import { canonicalJson } from "@core/math/canonical-json";
import { CORE_VERSION } from "@core/audio/core-version";
import { hashFile } from "@server/storage/byte-files";
import { withFolder } from "./output-folder";
import { CliProblem, ERROR, messageOf, print, printJson } from "./outcome";
import { checked, readJson } from "./recipes";
import type { RenderOptions } from "./render-options";
import { renderOne, sharedGain, type Rendered } from "./render-one";
import { renderProgramme } from "./render-programme";

type Entry = Manifest["masters"][number];

interface Replayed {
  file: string;
  /** "same": every byte; "same sound": another encoder made the file. */
  state: "same" | "same sound" | "differs" | "failed";
  problem: string | null;
}

/** Files of a folder by their SHA-256, until all that are wanted are found. */
export async function recordingsByHash(folder: string, wanted: ReadonlySet<string>): Promise<Map<string, string>> {
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
  ...(inputs.programme?.items.map(({ render }) => render.source) ?? []),
];

/** Masters of one programme and one recipe: the whole and its files, which are rendered together. */
const sameProgramme = (a: Entry, b: Entry): boolean =>
  canonicalJson([a.inputs.programme, a.inputs.recipe]) === canonicalJson([b.inputs.programme, b.inputs.recipe]);

function outcomeOf({ file, sha256, soundSha256 }: Entry, rendered: Rendered): Replayed {
  if (rendered.sha256 === sha256) return { file, state: "same", problem: null };
  if (soundSha256 !== null && rendered.soundSha256 === soundSha256)
    return { file, state: "same sound", problem: "another version of the encoder made the file" };
  return { file, state: "differs", problem: "the bytes differ" };
}

/** @throws CliProblem where an entry cannot be rendered by this version */
function refuseEntry({ file, inputs: { coreVersion } }: Entry): void {
  if (coreVersion !== CORE_VERSION)
    throw new CliProblem(`it was made by version ${coreVersion} of the core, and this is version ${CORE_VERSION}`);
  if (/[/\\]/.test(file)) throw new CliProblem("its name is a path");
}

const pathsIn =
  (files: ReadonlyMap<string, string>) =>
  (hash: string): string => {
    const path = files.get(hash);
    if (!path) throw new CliProblem(`the file with SHA-256 ${hash} is not among the recordings`);
    return path;
  };

/** The whole of a programme and its files, as far as the manifest lists them. */
async function replayProgramme(
  entries: readonly Entry[],
  files: ReadonlyMap<string, string>,
  folder: string,
): Promise<Replayed[]> {
  entries.forEach(refuseEntry);
  const whole = entries.find(({ inputs }) => !inputs.cut);
  const cuts = entries.filter(({ inputs }) => inputs.cut);
  const rendered = await renderProgramme({
    inputs: (whole ?? cuts[0]!).inputs,
    out: whole ? join(folder, whole.file) : null,
    cuts: cuts.map(({ inputs, file }) => ({ inputs, out: join(folder, file) })),
    fileOf: pathsIn(files),
  });
  const results = new Map(cuts.map((entry, index) => [entry, rendered.cuts[index]!]));
  return entries.map((entry) => outcomeOf(entry, results.get(entry) ?? rendered.whole));
}

async function replay(entry: Entry, files: ReadonlyMap<string, string>, folder: string): Promise<Replayed> {
  const { file, inputs } = entry;
  const { source, recipe, clips, layout, tags, cover, album, fades } = inputs;
  const fileOf = pathsIn(files);
  refuseEntry(entry);
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
    fades,
  });
  return outcomeOf(entry, rendered);
}

export async function renderManifest(path: string, options: RenderOptions): Promise<void> {
  const manifest = checked(manifestSchema, await readJson(path, "The manifest"), path);
  const folder = resolve(options.out);
  const wanted = new Set(manifest.masters.flatMap(neededBy));
  const files = await recordingsByHash(resolve(options.sources ?? dirname(path)), wanted);
  const replayed = await withFolder(folder, async () => {
    const all: Replayed[] = [];
    const done = new Set<Entry>();
    for (const entry of manifest.masters) {
      if (done.has(entry)) continue;
      const together = entry.inputs.programme ? manifest.masters.filter((one) => sameProgramme(one, entry)) : [entry];
      together.forEach((one) => done.add(one));
      const work = entry.inputs.programme
        ? replayProgramme(together, files, folder)
        : replay(entry, files, folder).then((one) => [one]);
      const made = await work.catch((error: unknown) =>
        together.map(({ file }): Replayed => ({ file, state: "failed", problem: messageOf(error) })),
      );
      all.push(...made);
      if (options.json) continue;
      for (const { file, state, problem } of made) print(`${state.padEnd(12)}${file}${problem ? `: ${problem}` : ""}`);
    }
    return all;
  });
  if (options.json) printJson(replayed);
  if (replayed.some(({ state }) => state === "failed" || state === "differs")) process.exitCode = ERROR;
}
