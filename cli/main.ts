/** `resonum`: the same core without a browser and without a database. */
import { Command, CommanderError } from "commander";
import { withFormerFlags } from "./former-flags";
import { CliProblem, DONE, ERROR } from "./outcome";

/** A command that is loaded when it is asked for, so that none waits for what others need. */
const lazily =
  <Given extends unknown[]>(load: () => Promise<(...given: Given) => unknown>) =>
  async (...given: Given): Promise<void> => {
    await (
      await load()
    )(...given);
  };

const program = new Command("resonum")
  .description("Measures recordings, renders masters and checks them against delivery specifications.")
  .exitOverride()
  .configureOutput({ writeErr: () => {} });

/** What all that a studio is asked for takes. */
const serverOptions = (command: Command): Command =>
  command
    .option("--server <url>", "the studio that does it, such as https://studio.example")
    .option("--token <token>", "API token of an account; the variable RESONUM_TOKEN unless said")
    .option("--project <name>", "name or id of its project");

serverOptions(program.command("measure"))
  .description("measure recordings, and those in folders")
  .argument("<paths...>")
  .option("--layout <name>", "channel layout, where the file does not say")
  .option("--spec <id>", "delivery specification to hold them against")
  .option("--threads <n>", "threads for a long recording; as many as there are processors, up to 8, unless said")
  .option("--csv <file>", "write a table")
  .option("--html <file>", "write a report with the curves")
  .option("--pdf <file>", "write the same as a PDF")
  .option("--json", "figures as JSON on standard output, and nothing else")
  .action(lazily(async () => (await import("./measure")).measureFiles));

serverOptions(program.command("push"))
  .description("send recordings to a project of a studio, and wait until they are read")
  .argument("<paths...>")
  .option("--template <id>", "make the project of it where there is none")
  .option("--json", "what became of them as JSON on standard output, and nothing else")
  .action(lazily(async () => (await import("./remote/push")).pushFiles));

serverOptions(program.command("fetch"))
  .description("fetch the finished masters of a project, each proven by its SHA-256")
  .requiredOption("--out <folder>", "where they go; what is there already is not fetched again")
  .option("--documents", "and the documents of the delivery")
  .option("--json", "what was fetched as JSON on standard output, and nothing else")
  .action(lazily(async () => (await import("./remote/fetch")).fetchFiles));

program
  .command("check")
  .description("hold recordings against a delivery specification")
  .argument("<files...>")
  .requiredOption("--spec <id>", "delivery specification")
  .option("--layout <name>", "channel layout, where the file does not say")
  .option("--json", "verdicts as JSON on standard output, and nothing else")
  .action(lazily(async () => (await import("./check")).checkFiles));

program
  .command("diagnose")
  .description("tell what is wrong with recordings and what would mend it; mend a copy with --apply")
  .argument("<files...>")
  .option("--spec <id>", "delivery specification that decides what has to be mended")
  .option("--layout <name>", "channel layout, where the file does not say")
  .option("--apply <strength>", "mend by what is proposed: gentle or firm")
  .option("--out <file>", "the mended copy, WAV")
  .option("--json", "findings and proposals as JSON on standard output, and nothing else")
  .action(lazily(async () => (await import("./diagnose")).diagnoseFiles));

const collected = (value: string, all: string[] = []): string[] => [...all, value];

/** What both one render and a watched folder take. */
const recipeOptions = (command: Command): Command =>
  command
    .option("--spec <id>", "delivery specification, or a JSON file with one; may be given again", collected)
    .option("--recipe <file>", "JSON: repairs, chain, spec, format")
    .option("--container <kind>", "wav, rf64, bw64, aiff, flac, mp3, m4a, opus, video")
    .option("--bit-depth <bits>", "16, 24, 32 or 32f")
    .option("--rate <hz>", "sample rate")
    .option("--bitrate <kbps>", "of lossy files, in kbit/s")
    .option("--channels <which>", "all, 5.1, stereo or mono")
    .option("--dither <kind>", "flat, shaped or none")
    .option("--layout <name>", "channel layout, where the file does not say")
    .option("--json", "the result as JSON on standard output, and nothing else");

recipeOptions(
  serverOptions(program.command("render"))
    .description("render masters: one file to a file, files and folders to a folder, or a manifest once more")
    .argument("[inputs...]")
    .option("--out <path>", "file to write, or folder for many"),
)
  .option("--manifest <file>", "render what a manifest lists, and compare the bytes")
  .option("--programme <file>", "render the programme of a project, from its Project.json")
  .option("--sources <folder>", "where the recordings of a manifest or a project are; its own folder unless said")
  .option("--force", "render what has not changed, too")
  .action(lazily(async () => (await import("./render")).renderFiles));

recipeOptions(
  serverOptions(program.command("watch"))
    .description("render whatever arrives in a folder, until stopped; with --server, in a project of a studio")
    .argument("<folder>")
    .requiredOption("--out <folder>", "where the masters go"),
)
  .option("--poll-interval <seconds>", "how often it looks", "2")
  .option("--once", "end when all that is there is done")
  .action(lazily(async () => (await import("./watch")).watchFolder));

/** What all that works on a studio's data takes. */
const studioOptions = (command: Command): Command =>
  command
    .option("--database <url>", "the studio's PostgreSQL; its password in PGPASSWORD or ~/.pgpass")
    .option("--store <place>", "its blobs: a shared folder, or s3://bucket/prefix")
    .option("--data <folder>", "the studio's data folder, or the folder of this machine to work in");

studioOptions(program.command("worker").description("join the queue of a studio as one more render worker")).action(
  lazily(async () => (await import("./worker")).startWorker),
);

studioOptions(
  program
    .command("sweep")
    .description("remove blobs that nothing refers to, and let go of item renders not used lately"),
)
  .option("--dry-run", "only tell what would be removed")
  .option("--json", "as JSON")
  .action(lazily(async () => (await import("./store")).sweepStore));

studioOptions(program.command("scrub").description("read every blob, and tell which are damaged or missing"))
  .option("--from <folder>", "a backup that they are made whole from")
  .option("--json", "as JSON")
  .action(lazily(async () => (await import("./store")).scrubStore));

studioOptions(
  program
    .command("backup")
    .description("back a studio up while people work: its database, and the blobs that the folder does not have")
    .argument("<folder>", "on another disk; the same each time"),
)
  .option("--keep <count>", "remove all but so many of the newest")
  .option("--every <hours>", "again and again, until stopped")
  .option("--json", "as JSON")
  .action(lazily(async () => (await import("./store")).backUpStudio));

studioOptions(program.command("backups").description("list the backups in a folder").argument("<folder>"))
  .option("--json", "as JSON")
  .action(lazily(async () => (await import("./store")).listBackups));

studioOptions(
  program
    .command("restore")
    .description("restore a backup into an empty studio, every blob proven by its hash")
    .argument("<folder>", "with the backup"),
)
  .option("--snapshot <name>", "which; the newest unless said")
  .option("--json", "as JSON")
  .action(lazily(async () => (await import("./store")).restoreStudio));

studioOptions(program.command("doctor").description("look at all that a studio stands on, and say what is wrong"))
  .option("--json", "as JSON")
  .action(lazily(async () => (await import("./store")).examineStudio));

program
  .command("serve")
  .description("start the studio: for this machine alone, or, with an owner and TLS, for others")
  .option("--host <address>", "where it listens", "127.0.0.1")
  .option("--port <number>", "4600, or the next that is free, unless said")
  .option("--name <name>", "by which it is opened, with its port unless that is 443; may be given again", collected)
  .option("--tls-cert <file>", "certificate with its chain, PEM; a renewed one is taken without a restart")
  .option("--tls-key <file>", "its private key, PEM")
  .option("--behind-proxy <address>", "of a proxy that ends TLS; may be given again", collected)
  .option("--data <folder>", "the studio's data folder")
  .action(lazily(async () => (await import("./serve")).serve));

studioOptions(
  program
    .command("owner")
    .description("make an owner of the studio, or give one another password, which is read from standard input")
    .argument("<email>"),
)
  .option("--name <name>", "of the person, where there is no account yet")
  .action(lazily(async () => (await import("./owner")).makeOwner));

program
  .command("conformance")
  .description("prove the meter on this machine, by the signals of EBU Tech 3341 and 3342")
  .option("--rate <hz...>", "only these sample rates")
  .option("--write <folder>", "write the signals as WAV, for any other meter")
  .option("--json", "results as JSON on standard output, and nothing else")
  .action(lazily(async () => (await import("./conformance")).conformance));

program
  .command("specs")
  .description("list delivery specifications")
  .option("--json", "as JSON")
  .action(lazily(async () => (await import("./specs")).listSpecs));
program
  .command("processors")
  .description("list processors with their parameters")
  .option("--json", "as JSON")
  .action(lazily(async () => (await import("./lists")).listProcessors));

program
  .command("repairs")
  .description("list repairs with their parameters")
  .option("--json", "as JSON")
  .action(lazily(async () => (await import("./lists")).listRepairs));

program.commands.forEach(withFormerFlags);

async function wordsOf(error: unknown): Promise<string> {
  if (error instanceof CliProblem || error instanceof CommanderError) return error.message;
  const { explainDiskFull } = await import("@server/storage/free-space");
  return error instanceof Error ? explainDiskFull(error).message : String(error);
}

async function main(): Promise<number> {
  try {
    await program.parseAsync();
    return Number(process.exitCode ?? DONE);
  } catch (error) {
    if (error instanceof CommanderError && error.exitCode === 0) return DONE; // --help
    process.stderr.write(`resonum: ${(await wordsOf(error)).replace(/^error: /, "").replace(/\s*\n\s*/g, " ")}\n`);
    return ERROR;
  }
}

// Whoever reads what is printed may have read enough.
process.stdout.on("error", (error: NodeJS.ErrnoException) => {
  if (error.code === "EPIPE") process.exit(DONE);
  throw error;
});

void main().then((code) => (process.exitCode = code));
