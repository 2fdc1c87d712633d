/**
 * A recipe on any number of files. What is done is written down after each file, so that a batch which was killed goes
 * on where it was; what has not changed is not done again.
 */
import { createHash } from "node:crypto";
import { readFile, rename, writeFile } from "node:fs/promises";
import { basename, extname, join, parse, resolve } from "node:path";
import * as z from "zod";
import { newTags } from "@core/files/tags";
import { fileName } from "@core/project/file-name";
import { containerOf, type Recipe } from "@core/delivery/recipe";
import { canonicalJson } from "@core/math/canonical-json";
import { CORE_VERSION } from "@core/audio/core-version";
import { formatDb } from "@core/audio/format";
import type { DeliverySpec } from "@core/delivery/spec";
import { hashFile } from "@server/storage/byte-files";
import { explainDiskFull } from "@server/storage/free-space";
import { CliProblem, ERROR, FAILS_SPEC, messageOf, print, printJson } from "./outcome";
import { filesIn } from "./files";
import { withFolder } from "./output-folder";
import { recipeOf, specFrom } from "./recipes";
import { progressOf, type RenderOptions } from "./render-options";
import { renderOne, sharedGain } from "./render-one";

const JOURNAL = ".resonum-batch.json";

const doneSchema = z.object({
  /** Of everything that decides the file. */
  key: z.string(),
  sha256: z.string(),
  passes: z.boolean().nullable(),
  /** Path of the recording; absent in journals of earlier versions. */
  input: z.string().optional(),
});
const journalSchema = z.object({ version: z.literal(1), done: z.record(z.string(), doneSchema) });
type Journal = z.infer<typeof journalSchema>;

/** What became of one file. */
export interface Outcome {
  input: string;
  out: string;
  state: "done" | "skipped" | "failed";
  passes: boolean | null;
  /** Where it failed. */
  problem: string | null;
  integratedLufs: number | null;
  truePeakDbtp: number | null;
}

async function readJournal(folder: string): Promise<Journal> {
  const text = await readFile(join(folder, JOURNAL), "utf8").catch(() => null);
  if (text === null) return { version: 1, done: {} };
  try {
    return journalSchema.parse(JSON.parse(text));
  } catch {
    throw new CliProblem(
      `${join(folder, JOURNAL)} cannot be understood: move it away, and all files are rendered anew.`,
    );
  }
}

async function writeJournal(folder: string, journal: Journal): Promise<void> {
  const making = join(folder, `${JOURNAL}.making`);
  await writeFile(making, `${JSON.stringify(journal, null, 1)}\n`);
  await rename(making, join(folder, JOURNAL));
}

interface Task {
  input: string;
  out: string;
  recipe: Recipe;
  albumGainDb: number | null;
  /** Place among the files, from 1. */
  track: number;
}

/**
 * Names of the masters: two files of one name in different folders get numbers, also where the other one was rendered
 * by an earlier batch.
 */
function tasksFor(
  files: string[],
  recipes: { recipe: Recipe; albumGainDb: number | null }[],
  folder: string,
  { done }: Journal,
): Task[] {
  const used = new Set<string>();
  const isOthers = (out: string, input: string): boolean => {
    const owner = done[basename(out)]?.input;
    return owner !== undefined && owner !== resolve(input) && !files.some((file) => resolve(file) === owner);
  };
  return recipes.flatMap(({ recipe, albumGainDb }) =>
    files.map((input, place) => {
      const ending = recipe.format.container === "video" ? extname(input) : `.${containerOf(recipe.format).extension}`;
      const name = fileName([parse(input).name, recipe.spec?.id].filter(Boolean).join(" - "));
      let out = join(folder, `${name}${ending}`);
      for (let n = 2; used.has(out.toLowerCase()) || resolve(out) === resolve(input) || isOthers(out, input); n++)
        out = join(folder, `${name} (${n})${ending}`);
      used.add(out.toLowerCase());
      return { input, out, recipe, albumGainDb, track: place + 1 };
    }),
  );
}

const keyOf = (sourceHash: string, { recipe, albumGainDb }: Task, layout: string | undefined): string =>
  createHash("sha256")
    .update(canonicalJson([CORE_VERSION, sourceHash, recipe, albumGainDb, layout ?? null]))
    .digest("hex");

/** Does what a batch asks for; one file that fails stops no other. */
export async function runBatch(inputs: string[], options: RenderOptions): Promise<Outcome[]> {
  const folder = resolve(options.out);
  const files = await filesIn(inputs, folder);
  const specs: (DeliverySpec | undefined)[] = options.spec?.length
    ? await Promise.all(options.spec.map(specFrom))
    : [undefined];
  const recipes: { recipe: Recipe; albumGainDb: number | null }[] = [];
  for (const spec of specs) {
    const recipe = await recipeOf(options, spec);
    const shared = files.map((input) => ({ input, work: recipe, layout: options.layout }));
    recipes.push({ recipe, albumGainDb: await sharedGain(recipe, shared) });
  }
  const journal = await readJournal(folder);
  const tasks = tasksFor(files, recipes, folder, journal);
  const outcomes: Outcome[] = [];
  const hashes = new Map<string, string>();
  for (const [index, task] of tasks.entries()) {
    const outcome = await runTask(task, index, tasks.length, journal, folder, options, hashes).catch(
      (error: unknown): Outcome => ({
        ...nothing(task),
        state: "failed",
        problem: messageOf(explainDiskFull(error as Error)),
      }),
    );
    outcomes.push(outcome);
    if (!options.json) print(outcomeLine(outcome));
  }
  return outcomes;
}

const nothing = ({ input, out }: Task) => ({
  input,
  out,
  passes: null,
  problem: null,
  integratedLufs: null,
  truePeakDbtp: null,
});

async function runTask(
  task: Task,
  index: number,
  count: number,
  journal: Journal,
  folder: string,
  options: RenderOptions,
  hashes: Map<string, string>,
): Promise<Outcome> {
  const { input, out, recipe, albumGainDb } = task;
  const hash = hashes.get(input) ?? (await hashFile(input)).hash;
  hashes.set(input, hash);
  const key = keyOf(hash, task, options.layout);
  const name = basename(out);
  const known = journal.done[name];
  if (known?.key === key && !options.force) {
    const there = await hashFile(out).catch(() => undefined);
    if (there?.hash === known.sha256) return { ...nothing(task), state: "skipped", passes: known.passes };
  }
  const rendered = await renderOne({
    input,
    out,
    recipe,
    layout: options.layout,
    albumGainDb,
    tags: newTags({ title: parse(input).name, track: task.track }),
    onProgress: progressOf(options, `${index + 1}/${count} `),
  });
  const passes = rendered.verdict?.pass ?? null;
  journal.done[name] = { key, sha256: rendered.sha256, passes, input: resolve(input) };
  await writeJournal(folder, journal);
  const { integratedLufs, truePeakDbtp } = rendered.figures;
  return { ...nothing(task), state: "done", passes, integratedLufs, truePeakDbtp };
}

function outcomeLine({ input, out, state, passes, problem, integratedLufs, truePeakDbtp }: Outcome): string {
  if (state === "failed") return `failed   ${input}: ${problem}`;
  if (state === "skipped") return `skipped  ${out}: nothing has changed`;
  const standing = passes === null ? "" : passes ? ", passes" : ", misses its spec";
  return `done     ${out}: ${formatDb(integratedLufs)} LUFS, ${formatDb(truePeakDbtp)} dBTP${standing}`;
}

/** `resonum render FILES… --out FOLDER` */
export async function renderBatch(inputs: string[], options: RenderOptions): Promise<void> {
  const outcomes = await withFolder(resolve(options.out), () => runBatch(inputs, options));
  const count = (state: Outcome["state"]) => outcomes.filter((one) => one.state === state).length;
  const missed = outcomes.filter(({ passes }) => passes === false).length;
  if (options.json)
    printJson({ done: count("done"), skipped: count("skipped"), failed: count("failed"), files: outcomes });
  else
    print(
      `${count("done")} done, ${count("skipped")} skipped, ${count("failed")} failed${missed ? `; ${missed} miss their spec` : ""}`,
    );
  if (count("failed") > 0) process.exitCode = ERROR;
  else if (missed > 0) process.exitCode = FAILS_SPEC;
}
