// The door to everything: `npm run demo`, `dev`, `test`, `test:unit` and `bench` all come through here, so that each
// works on a machine that has nothing but Node and npm.
import { ensureDebianPackages, ensureNpmPackages } from "./install.mjs";
import { say } from "./say.mjs";

const MODES = {
  demo: () => import("./studio.mjs").then(({ runStudio }) => runStudio({ development: false })),
  studio: () => import("./studio.mjs").then(({ runStudio }) => runStudio({ development: false, demo: false })),
  dev: () => import("./studio.mjs").then(({ runStudio }) => runStudio({ development: true })),
  test: () => import("./test.mjs").then(({ testAll }) => testAll()),
  "end-to-end": () => import("./test.mjs").then(({ testEndToEnd }) => testEndToEnd()),
  unit: () => import("./test.mjs").then(({ testUnits }) => testUnits()),
  database: () => import("./database.mjs").then(({ database }) => database(process.argv.slice(3))),
  figures: () => import("./figures.mjs").then(({ figures }) => figures(process.argv.slice(3))),
  reference: () => import("./reference.mjs").then(({ reference }) => reference()),
  bench: () => import("./bench/main.mjs").then(({ bench }) => bench(process.argv.slice(3))),
};
const NEEDS_DEBIAN = {
  demo: ["postgresql", "ffmpeg", "bubblewrap"],
  studio: ["postgresql", "ffmpeg", "bubblewrap"],
  dev: ["postgresql", "ffmpeg", "bubblewrap"],
  test: ["postgresql", "ffmpeg", "bubblewrap", "chromium"],
  "end-to-end": ["postgresql", "ffmpeg", "bubblewrap", "chromium"],
  unit: ["ffmpeg", "bubblewrap"],
  database: ["postgresql"],
  figures: [],
  reference: [],
  bench: ["postgresql", "ffmpeg", "bubblewrap", "chromium"],
};

const mode = process.argv[2] ?? "";
if (!Object.hasOwn(MODES, mode)) {
  say(`Say what to start: ${Object.keys(MODES).join(", ")}.`);
  process.exit(2);
}
try {
  ensureNpmPackages();
  ensureDebianPackages(NEEDS_DEBIAN[mode]);
  process.exitCode = (await MODES[mode]()) ?? 0;
} catch (error) {
  say(error instanceof Error && !process.env.RESONUM_TRACE ? error.message : error);
  process.exit(2);
}
