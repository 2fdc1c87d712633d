import { readdirSync, readFileSync } from "node:fs";
import { fileURLToPath } from "node:url";
import { defineConfig } from "vitest/config";

const part = (name: string) => fileURLToPath(new URL(`./${name}`, import.meta.url));
const alias = Object.fromEntries(["core", "playback", "server", "ui", "demo"].map((name) => [`@${name}`, part(name)]));

/** Server code on the real PostgreSQL: each file has a database and a data folder of its own. */
const INTEGRATION = "**/*.integration.test.{ts,mjs}";

/** Whole pieces of work held against figures: a standard's, a repair's quality, files that ffmpeg reads. */
const FIGURES = "**/*.figures.test.ts";

/** What a person sees and presses, in a document without a browser. */
const COMPONENTS = readdirSync(part("ui"), { recursive: true, encoding: "utf8" })
  .filter((file) => file.endsWith(".test.tsx"))
  .map((file) => `ui/${file}`);
/** Files that put other modules in place of some: those must not be loaded already. */
const replacesModules = (file: string) => readFileSync(part(file), "utf8").includes("vi.mock(");

/** Modules are loaded once a worker: they keep nothing that a test could find changed. */
const units = (name: string, include: string, exclude: string[] = []) => ({
  resolve: { alias },
  test: { name, include: [include], exclude, testTimeout: 120_000, pool: "threads" as const, isolate: false },
});

const components = (name: string, include: string[], isolate: boolean) => ({
  resolve: { alias },
  test: {
    ...{ name, include, isolate },
    environment: "happy-dom",
    testTimeout: 60_000,
    setupFiles: "tests/components/setup.ts",
    pool: "threads" as const,
  },
});

export default defineConfig({
  test: {
    // Both cores of the smallest machine that this is worked on.
    maxWorkers: 2,
    projects: [
      units("unit", "{core,playback,server,ui,cli,demo,receivers,scripts}/**/*.test.{ts,mjs}", [INTEGRATION, FIGURES]),
      units("figures", `{core,playback,server,cli,receivers}/${FIGURES}`),
      components(
        "components",
        COMPONENTS.filter((file) => !replacesModules(file)),
        false,
      ),
      components("components-replaced", COMPONENTS.filter(replacesModules), true),
      {
        resolve: { alias },
        test: {
          name: "integration",
          include: [`{server,tests/integration}/${INTEGRATION}`],
          testTimeout: 120_000,
          pool: "forks",
          globalSetup: "tests/integration/server.mjs",
          setupFiles: "tests/integration/database.ts",
        },
      },
    ],
  },
});
