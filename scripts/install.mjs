// Installs what is missing, and does nothing, in no time, when nothing is.
import { spawnSync } from "node:child_process";
import { createHash } from "node:crypto";
import { existsSync, mkdirSync, readFileSync, readdirSync, writeFileSync } from "node:fs";
import { inRoot, root } from "./paths.mjs";
import { say } from "./say.mjs";

const run = (command, args, options = {}) =>
  spawnSync(command, args, { cwd: root, stdio: ["ignore", 2, 2], ...options });

/** Installs the npm packages of the lock file, once for each state of it. */
export function ensureNpmPackages() {
  const wanted = createHash("sha256")
    .update(readFileSync(inRoot("package-lock.json")))
    .digest("hex");
  const stamp = inRoot("node_modules", ".resonum-lock");
  if (existsSync(stamp) && readFileSync(stamp, "utf8") === wanted) return;
  say("Installing npm packages …");
  // `npm ci` refuses a lock that lists another platform's optional packages; `install` reads the same lock.
  const { status } = run("npm", ["install", "--no-audit", "--no-fund", "--loglevel=error", "--no-save"]);
  if (status !== 0)
    throw new Error("npm could not install the packages; what it said stands above. Run “npm install” to try again.");
  mkdirSync(inRoot("node_modules"), { recursive: true });
  writeFileSync(stamp, wanted);
}

/** Folder of PostgreSQL's server programs (Debian keeps them out of the PATH): of one version, or of the newest. */
export function postgresBinaries(wanted) {
  const base = "/usr/lib/postgresql";
  const there = existsSync(base) ? readdirSync(base).sort((a, b) => Number(b) - Number(a)) : [];
  const versions = wanted === undefined ? there : there.filter((version) => version === wanted);
  for (const version of versions) {
    if (existsSync(`${base}/${version}/bin/postgres`)) return `${base}/${version}/bin`;
  }
  return undefined;
}

const inPath = (program) => (process.env.PATH ?? "").split(":").some((folder) => existsSync(`${folder}/${program}`));

const PRESENT = {
  postgresql: () => postgresBinaries() !== undefined,
  ffmpeg: () => inPath("ffmpeg") && inPath("ffprobe"),
  bubblewrap: () => inPath("bwrap"),
  chromium: () => existsSync("/usr/bin/chromium"),
};

/** Installs Debian packages as root; anybody else is told the exact command. */
export function ensureDebianPackages(names) {
  const missing = names.filter((name) => !PRESENT[name]());
  if (missing.length === 0) return;
  const command = `apt-get install -y --no-install-recommends ${missing.join(" ")}`;
  if (process.getuid?.() !== 0)
    throw new Error(`Missing on this machine: ${missing.join(", ")}. Install with: sudo ${command}`);
  say(`Installing Debian packages: ${missing.join(", ")} …`);
  const environment = { env: { ...process.env, DEBIAN_FRONTEND: "noninteractive" } };
  run("apt-get", ["update", "-q"], environment);
  const [program, ...args] = command.split(" ");
  run(program, ["-q", ...args], environment);
  const still = missing.filter((name) => !PRESENT[name]());
  if (still.length > 0)
    throw new Error(`Could not install ${still.join(", ")}; what apt-get said stands above. By hand: ${command}`);
}
