/** `resonum`: the same core without a browser and without a database. */
import { Command, CommanderError } from "commander";
import { checkFiles } from "./check";
import { measureFiles } from "./measure";
import { listProcessors, listSpecs } from "./lists";
import { renderFile } from "./render";
import { CliProblem, DONE, ERROR } from "./outcome";

const program = new Command("resonum")
  .description("Measures recordings, renders masters and checks them against delivery specifications.")
  .exitOverride()
  .configureOutput({ writeErr: () => {} });

program
  .command("measure")
  .description("measure recordings")
  .argument("<files...>")
  .option("--layout <name>", "channel layout, where the file does not say")
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

program.command("specs").description("list delivery specifications").option("--json", "as JSON").action(listSpecs);
program
  .command("processors")
  .description("list processors with their parameters")
  .option("--json", "as JSON")
  .action(listProcessors);

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
