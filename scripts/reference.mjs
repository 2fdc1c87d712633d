// `npm run reference`: pages of docs/reference from the definitions, and the help of the command line.
import { mkdirSync, readdirSync, writeFileSync } from "node:fs";
import { spawnSync } from "node:child_process";
import { join, relative } from "node:path";
import { pathToFileURL } from "node:url";
import { format, resolveConfig } from "prettier";
import { buildBundles } from "./build.mjs";
import { inRoot } from "./paths.mjs";

const folder = inRoot("docs", "reference");
const COMMANDS = [
  "measure",
  "check",
  "render",
  "watch",
  "conformance",
  "specs",
  "processors",
  "repairs",
  "worker",
  "sweep",
  "scrub",
];

/** The help of each command, as it prints it. */
function commandLine() {
  const help = (...args) =>
    spawnSync(process.execPath, [inRoot("dist", "cli.mjs"), ...args, "--help"], { encoding: "utf8" }).stdout.trimEnd();
  const sections = COMMANDS.map((command) => help(command)).filter((text) => text.startsWith("Usage"));
  const blocks = [help(), ...sections].map((text) => `\`\`\`\n${text}\n\`\`\``);
  return `# Command line\n\nMade by \`npm run reference\`: what \`resonum COMMAND --help\` prints.\n\n${blocks.join("\n\n")}\n`;
}

function* routesIn(path) {
  for (const entry of readdirSync(path, { withFileTypes: true })) {
    const inside = join(path, entry.name);
    if (entry.isDirectory()) yield* routesIn(inside);
    else if (entry.name === "route.ts") yield inside;
  }
}

/** Every route with its methods and the first sentence of what it says of itself. */
async function api() {
  const { readFileSync } = await import("node:fs");
  const root = inRoot("app");
  const rows = [...routesIn(join(root, "api"))].sort().flatMap((file) => {
    const text = readFileSync(file, "utf8");
    const address = `/${relative(root, file).replace(/\/route\.ts$/, "")}`.replaceAll(/\[\.{0,3}(\w+)\]/g, ":$1");
    return [
      ...text.matchAll(/(?:\/\*\*([^*]*(?:\*(?!\/)[^*]*)*)\*\/\s*)?export const (GET|POST|PUT|PATCH|DELETE|HEAD)\b/g),
    ].map(
      ([, about = "", method]) => `| ${method} | \`${address}\` | ${about.replaceAll(/\s*\n\s*\*?\s*/g, " ").trim()} |`,
    );
  });
  return `# API\n\nMade by \`npm run reference\` from the routes below \`app/api\`. Errors are problem documents (RFC 9457).\n\n| method | address | what |\n| --- | --- | --- |\n${rows.join("\n")}\n`;
}

/** @param pages name and text */
async function write(pages) {
  mkdirSync(folder, { recursive: true });
  for (const { file, text } of pages) {
    const path = join(folder, file);
    writeFileSync(path, await format(text, { ...(await resolveConfig(path)), filepath: path }));
  }
}

/** Writes all pages. */
export async function reference() {
  await buildBundles();
  const { build } = await import("esbuild");
  const bundle = inRoot(".build", "reference.mjs");
  await build({
    entryPoints: [inRoot("core", "report", "reference.ts")],
    outfile: bundle,
    bundle: true,
    format: "esm",
    platform: "node",
    logLevel: "error",
  });
  const { referencePages } = await import(pathToFileURL(bundle).href);
  await write([
    ...referencePages(),
    { file: "command-line.md", text: commandLine() },
    { file: "api.md", text: await api() },
  ]);
  return 0;
}
