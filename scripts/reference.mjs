// `npm run reference`: pages of docs/reference from the definitions, and the help of the command line.
import { mkdirSync, readFileSync, readdirSync, writeFileSync } from "node:fs";
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

function* routesIn(path) {
  for (const entry of readdirSync(path, { withFileTypes: true })) {
    const inside = join(path, entry.name);
    if (entry.isDirectory()) yield* routesIn(inside);
    else if (entry.name === "route.ts") yield inside;
  }
}

/** A method that a route exports, with what stands before it as its description. */
const EXPORTED = /(?:\/\*\* ([^*]*) \*\/\n)?export const (GET|POST|PUT|PATCH|DELETE|HEAD)\b/g;

/** Every route with its methods and what it says of itself. @throws Error where one says nothing */
export function apiPage() {
  const root = inRoot("app");
  const rows = [...routesIn(join(root, "api"))].sort().flatMap((file) => {
    const address = `/${relative(root, file).replace(/\/route\.ts$/, "")}`.replaceAll(/\[+\.{0,3}(\w+)\]+/g, ":$1");
    return [...readFileSync(file, "utf8").matchAll(EXPORTED)].map(([, about, method]) => {
      if (!about) throw new Error(`${method} ${address} does not say what it does.`);
      return `| ${method} | \`${address}\` | ${about} |`;
    });
  });
  return `# API

Made by \`npm run reference\` from the routes below \`app/api\`. Errors are problem documents (RFC 9457).

| method | address | what |
| --- | --- | --- |
${rows.join("\n")}
`;
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
    { file: "api.md", text: apiPage() },
  ]);
  return 0;
}
