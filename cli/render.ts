import { randomUUID } from "node:crypto";
import { readFile, rename, rm, stat } from "node:fs/promises";
import { basename, dirname, extname, join, parse, resolve } from "node:path";
import * as z from "zod";
import { renderMaster, type MasterResult } from "@core/render/master";
import { formatSchema, recipeSchema, type Recipe } from "@core/render/recipe";
import { formatDb } from "@core/signal/format";
import { specNamed } from "@core/spec";
import { FileSink, openFile, type OpenFile } from "@server/byte-files";
import { printVerdict } from "./check";
import { chooseLayout, withFrames } from "./input";
import { CliProblem, FAILS_SPEC, print, printJson } from "./outcome";

interface Options {
  out: string;
  spec?: string;
  recipe?: string;
  bits?: string;
  rate?: string;
  layout?: string;
  json?: boolean;
}

/** The recipe file with what the options add to it or overrule. @throws CliProblem that names the place */
async function recipeOf({ recipe: file, spec, bits, rate }: Options): Promise<Recipe> {
  let given: unknown = {};
  if (file !== undefined) {
    const text = await readFile(file, "utf8").catch(() => {
      throw new CliProblem(`The recipe ${file} cannot be read.`);
    });
    try {
      given = JSON.parse(text);
    } catch (error) {
      throw new CliProblem(`The recipe ${file} is not valid JSON: ${(error as Error).message}`);
    }
  }
  const recipe = checked(recipeSchema, given, file ?? "recipe");
  if (spec !== undefined) recipe.spec = specNamed(spec).id;
  const format = {
    ...recipe.format,
    ...(bits === undefined ? {} : { bits }),
    ...(rate === undefined ? {} : { sampleRate: Number(rate) }),
  };
  return { ...recipe, format: checked(formatSchema, format, "--bits, --rate") };
}

function checked<Schema extends z.ZodType>(schema: Schema, given: unknown, where: string): z.infer<Schema> {
  const parsed = schema.safeParse(given);
  if (parsed.success) return parsed.data;
  const issues = parsed.error.issues.map(({ path, message }) => `${path.join(".") || "whole"}: ${message}`);
  throw new CliProblem(`${where} is not valid: ${issues.join("; ")}`);
}

/** `resonum render`: writes beside its place and renames, so that nothing half-written is ever left there. */
export async function renderFile(input: string, options: Options): Promise<void> {
  const out = resolve(options.out);
  if (extname(out).toLowerCase() !== ".wav")
    throw new CliProblem(`Masters are WAV files: ${options.out} does not end in .wav.`);
  if (!(await stat(dirname(out)).catch(() => undefined))?.isDirectory())
    throw new CliProblem(`There is no folder ${dirname(options.out)}.`);
  if (out === resolve(input))
    throw new CliProblem("The original is never written to: choose another name for the master.");
  const recipe = await recipeOf(options);
  const writing = join(dirname(out), `.${basename(out)}.${randomUUID()}`);
  let sink: FileSink | undefined;
  const reading: OpenFile[] = [];
  try {
    const result = await withFrames(input, async ({ source, layout, bits }) =>
      renderMaster(
        {
          source,
          layout: chooseLayout(options.layout, layout, source.channels),
          sourceBits: bits,
          recipe,
          title: parse(input).name,
        },
        {
          open: async () => {
            await sink?.close();
            await rm(writing, { force: true });
            return (sink = await FileSink.create(writing));
          },
          readBack: async () => {
            await sink!.sync();
            const file = await openFile(writing);
            reading.push(file);
            return file;
          },
        },
        {
          onProgress:
            options.json || !process.stderr.isTTY
              ? undefined
              : ({ stage, fraction }) => process.stderr.write(`\r${stage} ${Math.round(fraction * 100)} %   `),
        },
      ),
    );
    await sink!.sync();
    await rename(writing, out);
    tell(options, result);
  } finally {
    for (const file of reading) await file.close();
    await sink?.close().catch(() => undefined);
    await rm(writing, { force: true });
  }
}

function tell(options: Options, { curves: _, ...result }: MasterResult): void {
  if (result.verdict && !result.verdict.pass) process.exitCode = FAILS_SPEC;
  if (options.json) return printJson({ out: options.out, ...result });
  if (process.stderr.isTTY) process.stderr.write("\r");
  if (result.verdict) printVerdict(options.out, result.verdict);
  else
    print(
      `rendered ${options.out}: ${formatDb(result.figures.integratedLufs)} LUFS, ${formatDb(result.figures.truePeakDbtp)} dBTP`,
    );
  for (const warning of result.warnings) print(`  ${warning}`);
}
