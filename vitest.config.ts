import { fileURLToPath } from "node:url";
import { defineConfig } from "vitest/config";

const part = (name: string) => fileURLToPath(new URL(`./${name}`, import.meta.url));

export default defineConfig({
  resolve: {
    alias: Object.fromEntries(["core", "audio", "server", "ui", "demo"].map((name) => [`@${name}`, part(name)])),
  },
  test: {
    include: ["{core,audio,server,ui,cli,demo,receivers}/**/*.test.{ts,tsx}"],
    testTimeout: 120_000,
    // Both cores of the smallest machine that this is worked on.
    pool: "threads",
    // Modules are loaded once a worker: they keep nothing that a test could find changed.
    isolate: false,
    maxWorkers: 2,
  },
});
