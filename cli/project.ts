/** `resonum render --programme PROJECT.json`: the programme of a project, from its document and its recordings. */
import { join, resolve } from "node:path";
import { allSubjects } from "@core/project/subjects";
import { openDocument, PROGRAMME_ID, type ProjectDocument } from "@core/project/document";
import type { KnownRecordings } from "@core/project/known-recordings";
import { masterInputs, missingInputsWords } from "@core/project/master-inputs";
import { masterNames } from "@core/project/filename-pattern";
import { layoutForChannels } from "@core/audio/layout";
import { ZodError } from "zod";
import { withFrames } from "./input";
import { recordingsByHash } from "./manifest";
import { withFolder } from "./output-folder";
import { CliProblem, FAILS_SPEC, print, printJson } from "./outcome";
import { readJson } from "./recipes";
import { progressOf, type RenderOptions } from "./render-options";
import { renderProgramme } from "./render-programme";
import type { Rendered } from "./render-one";

async function documentFrom(path: string): Promise<ProjectDocument> {
  const given = await readJson(path, "The project");
  try {
    return openDocument(given);
  } catch (error) {
    const [issue] = error instanceof ZodError ? error.issues : [];
    throw new CliProblem(`${path} is no project${issue ? `: ${issue.path.join(".")}: ${issue.message}` : ""}.`);
  }
}

/** What recordings are, read from their files. */
async function knownFrom(files: ReadonlyMap<string, string>): Promise<KnownRecordings> {
  const known = new Map<string, ReturnType<KnownRecordings>>();
  for (const [hash, path] of files)
    await withFrames(path, async ({ source, layout }) => {
      const { sampleRate, frames, channels } = source;
      known.set(hash, { sampleRate, frames, layout: layout ?? layoutForChannels(channels) });
    }).catch(() => undefined); // a cover
  return (hash) => known.get(hash) ?? null;
}

/** Renders every deliverable of a project that is made of its programme. */
export async function renderProject(path: string, options: RenderOptions): Promise<void> {
  const document = await documentFrom(path);
  const deliverables = document.deliverables.filter(({ programme }) => programme !== undefined);
  if (deliverables.length === 0)
    throw new CliProblem(
      "No deliverable of this project is made of its programme: choose that in the deliverable first.",
    );
  const wanted = new Set([
    ...document.sources.map(({ hash }) => hash),
    ...[document, ...document.items].flatMap(({ about }) => about?.cover ?? []),
  ]);
  const files = await recordingsByHash(resolve(options.sources ?? join(path, "..")), wanted);
  const fileOf = (hash: string): string => {
    const found = files.get(hash);
    const name = document.sources.find((source) => source.hash === hash)?.name ?? hash;
    if (!found) throw new CliProblem(`“${name}” is not among the recordings: say where they are with --sources.`);
    return found;
  };
  const known = await knownFrom(files);
  for (const { source } of document.items) fileOf(source);
  const names = new Map(masterNames(document).map((cell) => [`${cell.item.id} ${cell.deliverable.id}`, cell.name]));
  const folder = resolve(options.out);
  const rendered = await withFolder(folder, async () => {
    const all: ({ file: string } & Rendered)[] = [];
    for (const deliverable of deliverables) {
      const subjects = allSubjects(document).filter((one) => one.deliverable.id === deliverable.id);
      const made = subjects.map(({ item }) => {
        const inputs = masterInputs(document, item, deliverable, known);
        if (!inputs) throw new CliProblem(missingInputsWords(document, item));
        return { item, inputs, name: names.get(`${item.id} ${deliverable.id}`)! };
      });
      const whole = made.find(({ item }) => item.id === PROGRAMME_ID);
      if (!whole) throw new CliProblem("The order of this project is empty.");
      const cuts = made.filter((one) => one !== whole);
      const keepsWhole = deliverable.programme === "one file" || deliverable.programme === "both";
      const result = await renderProgramme({
        inputs: whole.inputs,
        out: keepsWhole ? join(folder, whole.name) : null,
        cuts: cuts.map(({ inputs, name }) => ({ inputs, out: join(folder, name) })),
        fileOf,
        nameOf: (id) => document.items.find((item) => item.id === id)?.name ?? id,
        onProgress: progressOf(options),
      });
      if (keepsWhole) all.push({ file: whole.name, ...result.whole });
      result.cuts.forEach((cut, index) => all.push({ file: cuts[index]!.name, ...cut }));
    }
    return all;
  });
  if (rendered.some(({ verdict }) => verdict && !verdict.pass)) process.exitCode = FAILS_SPEC;
  if (options.json) return printJson(rendered);
  for (const { file, verdict } of rendered)
    print(`${verdict === null ? "rendered" : verdict.pass ? "passes  " : "fails   "}  ${file}`);
}
