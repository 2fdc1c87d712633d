import { writeFile } from "node:fs/promises";
import { availableParallelism } from "node:os";
import { fileURLToPath } from "node:url";
import type { Figures } from "@core/measure";
import { FIGURE_COLUMNS, figureWords } from "@core/report/columns";
import { csvRows } from "@core/report/csv";
import { csvText } from "@core/report/csv-text";
import { entryOf, entryOfFigures, entryStanding, failedEntry, type ReportEntry } from "@core/report/entry";
import { describeReport } from "@core/report/description";
import { dayWords } from "@core/project/report-head";
import { htmlReport } from "@core/report/html";
import { formatTime } from "@core/audio/format";
import { specNamed } from "@core/delivery/specs";
import type { DeliverySpec } from "@core/delivery/spec";
import { pdfReport } from "@server/reports/report-pdf";
import { printVerdict } from "./check";
import { measureFile } from "./measure-recording";
import { filesIn } from "./files";
import type { RemoteOptions } from "./remote/studio";
import { CliProblem, ERROR, FAILS_SPEC, messageOf, print, printJson } from "./outcome";

interface Options extends RemoteOptions {
  layout?: string;
  spec?: string;
  threads?: string;
  json?: boolean;
  csv?: string;
  html?: string;
  pdf?: string;
}

/** By this machine, or by a studio. */
async function measured(
  file: string,
  spec: DeliverySpec | null,
  threads: number,
  options: Options,
): Promise<ReportEntry> {
  if (options.server === undefined) {
    const { warnings, ...result } = await measureFile(file, options.layout, threads);
    return entryOf(file, result, spec, warnings);
  }
  const { figures, drawings, warnings } = await (await import("./remote/measure")).measureThere(file, options);
  return entryOfFigures(file, figures, drawings, spec, warnings);
}

const TITLE = "Measured recordings";
/** Beside the folder that this is bundled to. */
const PACKAGES = fileURLToPath(new URL("../node_modules", import.meta.url));
const MOST_THREADS = 64;
/** More are taken when they are asked for. */
const MOST_BY_ITSELF = 8;

function threadsOf(text: string | undefined): number {
  if (text === undefined) return Math.min(MOST_BY_ITSELF, availableParallelism());
  const threads = Number(text);
  if (!Number.isInteger(threads) || threads < 1 || threads > MOST_THREADS)
    throw new CliProblem(`--threads takes a whole number from 1 to ${MOST_THREADS}, not "${text}".`);
  return threads;
}

/** `resonum measure`: a file that cannot be read is told, and the others go on. */
export async function measureFiles(paths: string[], options: Options): Promise<void> {
  const { json } = options;
  const spec = options.spec === undefined ? null : specNamed(options.spec);
  const threads = threadsOf(options.threads);
  const files = await filesIn(paths);
  const entries: ReportEntry[] = [];
  let code = 0;
  for (const [index, file] of files.entries()) {
    let entry: ReportEntry;
    try {
      entry = await measured(file, spec, threads, options);
      if (entry.verdict?.pass === false) code = Math.max(code, FAILS_SPEC);
    } catch (error) {
      entry = failedEntry(file, messageOf(error));
      code = ERROR;
      if (!json) process.stderr.write(`resonum: ${file}: ${messageOf(error)}\n`);
    }
    entries.push(entry);
    if (!json) tellWhileWorking(entry, index, files.length, spec);
    // What is drawn is only kept where it will be.
    if (options.html === undefined && options.pdf === undefined) entry.drawings = null;
  }
  process.exitCode = code;
  if (json) printJson(Object.fromEntries(entries.map((entry) => [entry.name, jsonOf(entry, spec)])));
  await writeReports(entries, spec, options);
}

function jsonOf({ problem, figures, verdict, findings, warnings }: ReportEntry, spec: DeliverySpec | null): object {
  if (problem !== null) return { error: problem };
  return { ...figures, ...(spec ? { verdict } : {}), findings, warnings };
}

async function writeReports(
  entries: ReportEntry[],
  spec: DeliverySpec | null,
  { csv, html, pdf, json }: Options,
): Promise<void> {
  const write = async (file: string, content: string | Buffer) => {
    await writeFile(file, content).catch((error: Error) => {
      throw new CliProblem(`${file} cannot be written: ${error.message}`);
    });
    if (!json) print(`wrote ${file}`);
  };
  if (csv !== undefined) await write(csv, csvText(csvRows(entries)));
  if (html === undefined && pdf === undefined) return;
  const report = describeReport(entries, spec, { title: TITLE, date: dayWords(new Date()) });
  if (html !== undefined) await write(html, htmlReport(report));
  if (pdf !== undefined) await write(pdf, await pdfReport(report, PACKAGES));
}

function tellWhileWorking(entry: ReportEntry, index: number, count: number, spec: DeliverySpec | null): void {
  if (entry.figures === null) return;
  if (count > 1) {
    const figures = entry.figures;
    const levels = FIGURE_COLUMNS.slice(0, 3).map(
      (column) => `${figureWords(column, figures).padStart(7)} ${column.unit}`,
    );
    print(`${`${index + 1}/${count}`.padEnd(10)}${entryStanding(entry).padEnd(10)}${levels.join("  ")}  ${entry.name}`);
    return;
  }
  printFigures(entry.name, entry.figures);
  for (const warning of entry.warnings) print(`  ! ${warning}`);
  for (const { title, facts } of entry.findings) print(`  ! ${title}: ${facts}`);
  if (spec && entry.verdict) printVerdict(entry.name, spec.name, entry.verdict);
}

function printFigures(file: string, figures: Figures): void {
  print(file);
  print(
    `  ${"Length".padEnd(26)}${formatTime(figures.durationSeconds, 2)}, ${figures.layout}, ${figures.sampleRate} Hz`,
  );
  for (const column of FIGURE_COLUMNS)
    print(`  ${column.label.padEnd(26)}${figureWords(column, figures)} ${column.unit}`.trimEnd());
}
