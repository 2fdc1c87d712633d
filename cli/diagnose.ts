/** `resonum diagnose`: what is wrong with recordings and what would mend it; with --apply, a mended copy. */
import { formatBytes } from "@core/audio/format";
import { repairProposals, type RepairProposal } from "@core/delivery/repair-proposals";
import { recipeSchema } from "@core/delivery/recipe";
import { specNamed } from "@core/delivery/specs";
import type { Finding } from "@core/findings/finding";
import { entryOf } from "@core/report/entry";
import { measureFile } from "./measure-recording";
import { CliProblem, ERROR, messageOf, print, printJson } from "./outcome";
import { prepareOutput } from "./render";
import { renderOne } from "./render-one";
import { progressOf } from "./render-options";

interface Options {
  layout?: string;
  spec?: string;
  apply?: string;
  out?: string;
  json?: boolean;
}

interface Diagnosis {
  findings: Finding[];
  proposals: RepairProposal[];
  warnings: string[];
}

const STRENGTHS = ["gentle", "firm"] as const;

export async function diagnoseFiles(files: string[], options: Options): Promise<void> {
  const { apply, out, json } = options;
  if (apply !== undefined && !STRENGTHS.some((one) => one === apply))
    throw new CliProblem(`--apply takes ${STRENGTHS.join(" or ")}, not "${apply}".`);
  if ((apply === undefined) !== (out === undefined))
    throw new CliProblem("--apply and --out belong together: how firmly to mend, and the file to write.");
  if (out !== undefined && files.length !== 1) throw new CliProblem("--apply mends one recording at a time.");
  if (out !== undefined && !out.toLowerCase().endsWith(".wav"))
    throw new CliProblem(`The mended copy is a WAV: ${out} does not end in .wav.`);
  if (out !== undefined) await prepareOutput(files[0]!, out);
  const answers: Record<string, Diagnosis | { error: string }> = {};
  for (const file of files) {
    try {
      const diagnosis = (answers[file] = await diagnose(file, options));
      if (!json) tell(file, diagnosis);
      if (out !== undefined) await applyTo(file, out, diagnosis.proposals, options);
    } catch (error) {
      answers[file] = { error: messageOf(error) };
      process.exitCode = ERROR;
      if (!json) process.stderr.write(`resonum: ${file}: ${messageOf(error)}\n`);
    }
  }
  if (json) printJson(answers);
}

async function diagnose(file: string, { layout, spec: id }: Options): Promise<Diagnosis> {
  const spec = id === undefined ? null : specNamed(id);
  const { warnings, ...measured } = await measureFile(file, layout);
  const { findings } = entryOf(file, measured, spec, warnings);
  return { findings, proposals: repairProposals(measured.figures, spec), warnings };
}

/** A copy with what is proposed, and nothing else: no level is brought anywhere. */
async function applyTo(input: string, out: string, proposals: readonly RepairProposal[], options: Options) {
  const at = options.apply === "gentle" ? 0 : -1;
  const repairs = proposals.map(({ strengths }) => strengths.at(at)!.step);
  const { bytes } = await renderOne({
    input,
    out,
    recipe: recipeSchema.parse({ repairs: repairs.map(({ id: _, ...step }) => step) }),
    layout: options.layout,
    onProgress: progressOf(options),
  });
  if (options.json) return;
  if (process.stderr.isTTY) process.stderr.write("\r");
  print(`wrote ${out}: ${repairs.length} ${repairs.length === 1 ? "repair" : "repairs"}, ${formatBytes(bytes)}`);
}

function tell(file: string, { findings, proposals, warnings }: Diagnosis): void {
  print(file);
  for (const warning of warnings) print(`  ! ${warning}`);
  for (const { title, facts } of findings) print(`  ! ${title}: ${facts}`);
  for (const { title, why, strengths } of proposals)
    print(`  → ${title} (${strengths.map(({ label }) => label).join(", ")}): ${why}`);
  if (findings.length + proposals.length === 0) print("  nothing was found that would need mending");
}
