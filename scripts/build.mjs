// Builds what runs: the worklet, the worker, the command line, the demo's loader, and the web application. Each is
// built again only when a file that it is made from has changed.
import { spawn } from "node:child_process";
import { createHash } from "node:crypto";
import { existsSync, mkdirSync, readdirSync, readFileSync, writeFileSync } from "node:fs";
import { join } from "node:path";
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

/** With the packages bundled too: finding and compiling them took longer than measuring a short recording. */
const STANDALONE = {
  ...NODE,
  packages: "bundle",
  external: ["pdfkit", "tinypool", "aws4fetch"],
  minifySyntax: true,
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

const TARGETS = {
  worklet: {
    entry: "playback/playback.worklet.ts",
    out: "public/worklets/playback.js",
    options: { bundle: true, format: "esm", target: "es2022", alias, minify: true },
  },
  capture: {
    entry: "playback/capture.worklet.ts",
    out: "public/worklets/capture.js",
    options: { bundle: true, format: "esm", target: "es2022", alias, minify: true },
  },
  worker: { entry: "server/worker/main.ts", out: "dist/worker.mjs", options: NODE },
  cli: { entry: "cli/main.ts", out: "dist/cli.mjs", options: STANDALONE },
  segments: { entry: "cli/segment.worker.ts", out: "dist/segment-worker.mjs", options: STANDALONE },
  store: { entry: "server/storage/main.ts", out: "dist/store.mjs", options: NODE },
  receivers: { entry: "receivers/main.ts", out: "dist/receivers.mjs", options: NODE },
  demo: { entry: "demo/main.ts", out: "dist/demo.mjs", options: NODE },
};

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

const stampOf = (name) => inRoot(".build", `${name}.stamp`);
const isCurrent = (name, print) => existsSync(stampOf(name)) && readFileSync(stampOf(name), "utf8") === print;
function stamp(name, print) {
  mkdirSync(inRoot(".build"), { recursive: true });
  writeFileSync(stampOf(name), print);
}

const CODE = ["core", "playback", "server", "cli", "demo", "receivers", "package-lock.json", "scripts/build.mjs"];

/** The bundles that Node and the audio thread run. Under a second. */
export async function buildBundles(names = Object.keys(TARGETS)) {
  const print = fingerprint(CODE);
  const wanted = names.filter((name) => !existsSync(inRoot(TARGETS[name].out)) || !isCurrent(name, print));
  if (wanted.length === 0) return;
  const { build } = await import("esbuild");
  for (const name of wanted) {
    const { entry, out, options } = TARGETS[name];
    await build({ ...options, entryPoints: [inRoot(entry)], outfile: inRoot(out), logLevel: "warning" });
    stamp(name, print);
  }
}

/** The web application. About a minute, when something changed. */
export async function buildWeb() {
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
  stamp("web", print);
}
