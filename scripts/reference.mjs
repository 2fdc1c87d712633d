// `npm run reference`: pages of docs/reference from the definitions, and the help of the command line.
import { mkdirSync, writeFileSync } from "node:fs";
import { spawnSync } from "node:child_process";
import { join } from "node:path";
import { pathToFileURL } from "node:url";
import { buildBundles } from "./build.mjs";
import { formatted } from "./format.mjs";
import { inRoot } from "./paths.mjs";

const folder = inRoot("docs", "reference");
const COMMANDS = [
  "measure",
  "push",
  "fetch",
  "check",
  "diagnose",
  "render",
  "watch",
  "conformance",
  "specs",
  "processors",
  "repairs",
  "worker",
  "sweep",
  "scrub",
  "backup",
  "backups",
  "restore",
  "doctor",
  "serve",
  "owner",
];

/** The help of each command, as it prints it. */
function commandLine() {
  const help = (...args) =>
    spawnSync(process.execPath, [inRoot("dist", "cli.mjs"), ...args, "--help"], { encoding: "utf8" }).stdout.trimEnd();
  const sections = COMMANDS.map((command) => help(command)).filter((text) => text.startsWith("Usage"));
  const blocks = [help(), ...sections].map((text) => `\`\`\`\n${text}\n\`\`\``);
  return `# Command line\n\nMade by \`npm run reference\`: what \`resonum COMMAND --help\` prints.\n\n${blocks.join("\n\n")}\n`;
}

/** @param pages name and text */
async function write(pages) {
  mkdirSync(folder, { recursive: true });
  for (const { file, text } of pages) {
    const path = join(folder, file);
    writeFileSync(path, await formatted(path, text));
  }
}

/** What a file of the core exports. */
async function bundled(file) {
  const { build } = await import("esbuild");
  const outfile = inRoot(".build", file.replace(/\.ts$/, ".mjs"));
  await build({
    entryPoints: [inRoot(file)],
    outfile,
    bundle: true,
    format: "esm",
    platform: "node",
    logLevel: "error",
  });
  return import(pathToFileURL(outfile).href);
}

/** Writes all pages. */
export async function reference() {
  await buildBundles();
  const { referencePages } = await bundled("core/report/reference.ts");
  const { apiPage } = await bundled("core/api/reference.ts");
  await write([
    ...referencePages(),
    { file: "command-line.md", text: commandLine() },
    { file: "api.md", text: apiPage() },
  ]);
  return 0;
}
