/** `resonum`: the same core without a browser and without a database. */
import { Command, CommanderError } from "commander";
import { checkFiles } from "./check";
import { conformance } from "./conformance";
import { measureFiles } from "./measure";
import { listProcessors, listRepairs, listSpecs } from "./lists";
import { renderFile } from "./render";
import { CliProblem, DONE, ERROR } from "./outcome";

const program = new Command("resonum")
  .description("Measures recordings, renders masters and checks them against delivery specifications.")
  .exitOverride()
  .configureOutput({ writeErr: () => {} });

program
  .command("measure")
  .description("measure recordings, and those in folders")
  .argument("<paths...>")
  .option("--layout <name>", "channel layout, where the file does not say")
  .option("--spec <id>", "delivery specification to hold them against")
  .option("--threads <n>", "threads for long recordings", "1")
  .option("--csv <file>", "write a table")
  .option("--html <file>", "write a report with the curves")
  .option("--pdf <file>", "write the same as a PDF")
  .option("--json", "figures as JSON on standard output, and nothing else")
  .action(measureFiles);

program
  .command("check")
  .description("hold recordings against a delivery specification")
  .argument("<files...>")
  .requiredOption("--spec <id>", "delivery specification")
  .option("--layout <name>", "channel layout, where the file does not say")
  .option("--json", "verdicts as JSON on standard output, and nothing else")
  .action(checkFiles);

program
  .command("render")
  .description("render a master")
  .argument("<input>")
  .requiredOption("--out <file>", "WAV file to write")
  .option("--spec <id>", "delivery specification to bring it to")
  .option("--recipe <file>", "JSON: repairs, chain, spec, format")
  .option("--bits <bits>", "16, 24, 32 or 32f")
  .option("--rate <hz>", "sample rate")
  .option("--layout <name>", "channel layout, where the file does not say")
  .option("--json", "the result as JSON on standard output, and nothing else")
  .action(renderFile);

program
  .command("conformance")
  .description("prove the meter on this machine, by the signals of EBU Tech 3341 and 3342")
  .option("--rate <hz...>", "only these sample rates")
  .option("--write <folder>", "write the signals as WAV, for any other meter")
  .option("--json", "results as JSON on standard output, and nothing else")
  .action(conformance);

program.command("specs").description("list delivery specifications").option("--json", "as JSON").action(listSpecs);
program
  .command("processors")
  .description("list processors with their parameters")
  .option("--json", "as JSON")
  .action(listProcessors);

program
  .command("repairs")
  .description("list repairs with their parameters")
  .option("--json", "as JSON")
  .action(listRepairs);

async function main(): Promise<number> {
  try {
    await program.parseAsync();
    return Number(process.exitCode ?? DONE);
  } catch (error) {
    if (error instanceof CommanderError && error.exitCode === 0) return DONE; // --help
    const words =
      error instanceof CliProblem || error instanceof CommanderError
        ? error.message
        : error instanceof Error
          ? error.message
          : String(error);
    process.stderr.write(`resonum: ${words.replace(/^error: /, "").replace(/\s*\n\s*/g, " ")}\n`);
    return ERROR;
  }
}

void main().then((code) => (process.exitCode = code));
