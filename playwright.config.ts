import { defineConfig } from "@playwright/test";

/** Debian's Chromium, without anything that calls home. */
const CHROMIUM_FLAGS = [
  "--no-sandbox",
  "--disable-dev-shm-usage",
  "--disable-quic",
  "--no-first-run",
  "--disable-background-networking",
  "--disable-component-update",
  "--disable-sync",
  "--autoplay-policy=no-user-gesture-required",
];

export default defineConfig({
  testDir: "./tests",
  outputDir: "./.build/test-results",
  timeout: 180_000,
  expect: { timeout: 30_000 },
  // A machine that others use as well may stall for seconds; a test that fails twice has a reason.
  retries: process.env.CI ? 1 : 0,
  workers: 1,
  forbidOnly: true,
  use: {
    actionTimeout: 30_000,
    baseURL: process.env.RESONUM_TEST_ADDRESS ?? "http://127.0.0.1:4600",
    viewport: { width: 1280, height: 800 },
    acceptDownloads: true,
    screenshot: "only-on-failure",
    launchOptions: { executablePath: "/usr/bin/chromium", args: CHROMIUM_FLAGS },
  },
});
