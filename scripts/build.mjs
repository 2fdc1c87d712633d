// Builds what runs: the worklet, the worker, the command line, the demo's loader, and the web application. Each is
// built again only when a file that it is made from has changed.
import { spawn } from "node:child_process";
import { createHash } from "node:crypto";
import { existsSync, mkdirSync, readdirSync, readFileSync, rmSync, utimesSync, writeFileSync } from "node:fs";
import { join } from "node:path";
import { CODE, stampOf } from "./freshness.mjs";
import { inRoot, root } from "./paths.mjs";
import { say } from "./say.mjs";

const alias = Object.fromEntries(["core", "playback", "server", "demo"].map((part) => [`@${part}`, inRoot(part)]));
const NODE = {
  bundle: true,
  platform: "node",
  format: "esm",
  target: "node20",
  packages: "external",
  alias,
  sourcemap: "linked",
};

/**
 * With the packages bundled too, in pieces that each command loads by need: finding and compiling all of them took
 * longer than measuring a short recording.
 */
const STANDALONE = {
  ...NODE,
  splitting: true,
  chunkNames: "dist/cli-[name]-[hash]", // beside the entries: paths in the code count from there
  packages: "bundle",
  external: ["pdfkit", "tinypool", "aws4fetch"],
  minifySyntax: true,
  minifyWhitespace: true,
  banner: {
    js: 'import { createRequire as requireFrom } from "node:module"; const require = requireFrom(import.meta.url);',
  },
};

/** The bench of the repairs, which is not part of what ships. */
export async function buildBench(name) {
  const { build } = await import("esbuild");
  const outfile = inRoot(".build", "bench", `${name}.mjs`);
  await build({ ...NODE, entryPoints: [inRoot("bench", `${name}.ts`)], outfile, logLevel: "error" });
  return outfile;
}

const WORKLET = { bundle: true, format: "esm", target: "es2022", alias, minify: true };

/** What is built: entries by what they are built to, without extension. */
const TARGETS = {
  worklet: { entries: { "public/worklets/playback": "playback/playback.worklet.ts" }, options: WORKLET },
  capture: { entries: { "public/worklets/capture": "playback/capture.worklet.ts" }, options: WORKLET },
  worker: { entries: { "dist/worker": "server/worker/main.ts" }, options: NODE },
  cli: { entries: { "dist/cli": "cli/main.ts", "dist/segment-worker": "cli/segment.worker.ts" }, options: STANDALONE },
  store: { entries: { "dist/store": "server/operations/main.ts" }, options: NODE },
  people: { entries: { "dist/people": "server/people/main.ts" }, options: NODE },
  receivers: { entries: { "dist/receivers": "receivers/main.ts" }, options: NODE },
  demo: { entries: { "dist/demo": "demo/main.ts" }, options: NODE },
};

const outputsOf = ({ entries, options }) =>
  Object.keys(entries).map((out) => `${out}${options.platform === "node" ? ".mjs" : ".js"}`);

function* filesIn(folder) {
  for (const entry of readdirSync(folder, { withFileTypes: true })) {
    const path = join(folder, entry.name);
    if (entry.isDirectory()) yield* filesIn(path);
    else yield path;
  }
}

/** A digest of everything that the builds are made from. */
function fingerprint(parts) {
  const hash = createHash("sha256");
  for (const part of parts) {
    const files = part.includes(".") ? [inRoot(part)] : [...filesIn(inRoot(part))];
    for (const file of files.sort()) {
      if (/\.test\.tsx?$|\.tsbuildinfo$/.test(file)) continue;
      hash.update(file.slice(root.length)).update(readFileSync(file));
    }
  }
  return hash.digest("hex");
}

const isCurrent = (name, print) => existsSync(stampOf(name)) && readFileSync(stampOf(name), "utf8") === print;

/** Notes what was built from, and when that was looked at: what changes while it is built is newer. */
function stamp(name, print, lookedAt) {
  mkdirSync(inRoot(".build"), { recursive: true });
  writeFileSync(stampOf(name), print);
  utimesSync(stampOf(name), lookedAt, lookedAt);
}

/** The bundles that Node and the audio thread run. Under a second. */
export async function buildBundles(names = Object.keys(TARGETS)) {
  const lookedAt = new Date();
  const print = fingerprint(CODE);
  for (const name of names) {
    const outputs = outputsOf(TARGETS[name]);
    if (!outputs.every((out) => existsSync(inRoot(out))) || !isCurrent(name, print)) await bundle(TARGETS[name]);
    stamp(name, print, lookedAt);
  }
}

/** Pieces of a former build have other names. */
function removePieces(folder) {
  const pieces = existsSync(folder) ? readdirSync(folder).filter((name) => name.startsWith("cli-")) : [];
  for (const name of pieces) rmSync(join(folder, name));
}

async function bundle({ entries, options }) {
  const { build } = await import("esbuild");
  if (options.splitting) removePieces(inRoot("dist"));
  await build({
    ...options,
    entryPoints: Object.entries(entries).map(([out, entry]) => ({ in: inRoot(entry), out })),
    outdir: root,
    outExtension: options.platform === "node" ? { ".js": ".mjs" } : {},
    logLevel: "warning",
  });
}

/** The web application. About a minute, when something changed. */
export async function buildWeb() {
  const lookedAt = new Date();
  const print = fingerprint([
    "core",
    "playback",
    "server",
    "ui",
    "app",
    "next.config.ts",
    "proxy.ts",
    "tsconfig.json",
    "package-lock.json",
  ]);
  if (existsSync(inRoot(".next", "BUILD_ID")) && isCurrent("web", print)) return;
  say("Building the application …");
  const next = inRoot("node_modules", "next", "dist", "bin", "next");
  const child = spawn(process.execPath, [next, "build"], {
    cwd: root,
    stdio: ["ignore", "pipe", "pipe"],
    env: { ...process.env, NODE_ENV: "production", NEXT_TELEMETRY_DISABLED: "1" },
  });
  let said = "";
  for (const stream of [child.stdout, child.stderr]) stream.on("data", (chunk) => (said += chunk));
  const code = await new Promise((resolve) => child.on("close", resolve));
  if (code !== 0) throw new Error(`The application could not be built:\n${said.slice(-6000)}`);
  stamp("web", print, lookedAt);
}
