import { type RenderOptions, progressOf } from "./render-options";
import { stat } from "node:fs/promises";
import { dirname, extname, resolve } from "node:path";
import { containerOf, type Recipe } from "@core/delivery/recipe";
import { formatDb } from "@core/audio/format";
import { CONTAINERS, CONTAINER_ABOUT } from "@core/files/containers";
import { renderBatch } from "./batch";
import { printVerdict } from "./check";
import { renderManifest } from "./manifest";
import { renderProject } from "./project";
import { makeFolder } from "./output-folder";
import { CliProblem, FAILS_SPEC, print, printJson } from "./outcome";
import { recipeOf, specFrom } from "./recipes";
import type { RemoteRenderOptions } from "./remote/render";
import { renderOne, sharedGain, type Rendered } from "./render-one";

const isFolder = async (path: string): Promise<boolean> =>
  (await stat(path).catch(() => undefined))?.isDirectory() ?? false;

/** `resonum render`: one file to one file, any number to a folder, a manifest once more, or a project of a studio. */
export async function renderFiles(
  inputs: string[],
  asked: Omit<RenderOptions, "out"> & RemoteRenderOptions,
): Promise<void> {
  if (asked.server !== undefined) return renderInStudio(inputs, asked);
  if (asked.out === undefined) throw new CliProblem("required option '--out <path>' not specified");
  const options: RenderOptions = { ...asked, out: asked.out };
  if (options.programme !== undefined) return renderProject(options.programme, options);
  if (options.manifest !== undefined) return renderManifest(options.manifest, options);
  if (inputs.length === 0) throw new CliProblem("Say which files to render, or give a --manifest or a --programme.");
  const [input] = inputs;
  // A name without an ending is a folder's.
  const toFolder = options.out.endsWith("/") || extname(options.out) === "" || (await isFolder(options.out));
  const many = inputs.length > 1 || (options.spec?.length ?? 0) > 1 || (await isFolder(input!)) || toFolder;
  return many ? renderBatch(inputs, options) : renderFile(input!, options);
}

/** What is done to files of this machine says nothing to a project, which has its own. */
async function renderInStudio(
  inputs: string[],
  options: Omit<RenderOptions, "out"> & RemoteRenderOptions,
): Promise<void> {
  const { spec, recipe, manifest, programme } = options;
  const local = Object.entries({ spec, recipe, manifest, programme }).find(([, value]) => value !== undefined);
  if (local)
    throw new CliProblem(`--${local[0]} is for files of this machine: with --server a project is rendered as it is.`);
  if (inputs.length > 0)
    throw new CliProblem(
      "With --server a project of the studio is rendered: send files to it by “resonum push” first.",
    );
  return (await import("./remote/render")).renderThere(options);
}

/** Makes the folder of a file that is to be written. @throws CliProblem where it cannot be made, or `out` is the original */
export async function prepareOutput(input: string, out: string): Promise<void> {
  if (resolve(out) === resolve(input))
    throw new CliProblem("The original is never written to: choose another name for the master.");
  await makeFolder(dirname(resolve(out)));
}

async function renderFile(input: string, options: RenderOptions): Promise<void> {
  const out = resolve(options.out);
  const spec = options.spec?.[0] === undefined ? undefined : await specFrom(options.spec[0]);
  const recipe = withContainerOf(await recipeOf(options, spec), out, input, options);
  await prepareOutput(input, options.out);
  const albumGainDb = await sharedGain(recipe, [{ input, work: recipe, layout: options.layout }]);
  const rendered = await renderOne({
    input,
    out,
    recipe,
    layout: options.layout,
    albumGainDb,
    onProgress: progressOf(options),
  });
  tell(options, rendered, recipe.spec?.name ?? "");
}

/** Other endings of the same kinds of file. */
const SAME_ENDINGS: Readonly<Record<string, string>> = { aiff: "aif", wave: "wav" };

function endingOf(path: string): string {
  const ending = extname(path).slice(1).toLowerCase();
  return SAME_ENDINGS[ending] ?? ending;
}

/** The ending of the name says what kind of file is wanted, unless something else does. */
function withContainerOf(recipe: Recipe, out: string, input: string, options: RenderOptions): Recipe {
  const ending = endingOf(out);
  const { container } = recipe.format;
  const wanted = container === "video" ? endingOf(input) : containerOf(recipe.format).extension;
  if (ending === wanted) return recipe;
  const fitting = CONTAINERS.find((one) => CONTAINER_ABOUT[one].extension === ending);
  if (options.container !== undefined || recipe.format.container !== "wav" || !fitting)
    throw new CliProblem(
      `Masters of this kind are called .${wanted}: ${options.out} does not end in .${wanted}${fitting ? "" : `; endings that can be written: ${[...new Set(CONTAINERS.map((one) => CONTAINER_ABOUT[one].extension).filter(Boolean))].join(", ")}`}.`,
    );
  return { ...recipe, format: { ...recipe.format, container: fitting } };
}

function tell(options: RenderOptions, result: Rendered, name: string): void {
  if (result.verdict && !result.verdict.pass) process.exitCode = FAILS_SPEC;
  if (options.json) return printJson({ out: options.out, ...result });
  if (process.stderr.isTTY) process.stderr.write("\r");
  if (result.verdict) printVerdict(options.out, name, result.verdict);
  else
    print(
      `rendered ${options.out}: ${formatDb(result.figures.integratedLufs)} LUFS, ${formatDb(result.figures.truePeakDbtp)} dBTP`,
    );
  for (const warning of result.warnings) print(`  ${warning}`);
}
