// `npm run bench -- studio [--long]`: from the drop of a recording in Chromium to its figures, and to a verified master.
import { buildBundles, buildWeb } from "../build.mjs";
import { inRoot } from "../paths.mjs";
import { discardData } from "../postgres.mjs";
import { withStudio } from "../test.mjs";
import { projectWith } from "./project.mjs";
import { recording } from "./recordings.mjs";
import { peakMegabytes } from "./timing.mjs";

/** From the drop of a recording in Chromium to its figures, and to a verified master. */
async function throughStudio(page, address, path, seconds) {
  const { intakeSeconds: intake } = await projectWith(page, address, `Bench ${seconds}`, "broadcast", path);
  const began = Date.now();
  await page.keyboard.press("6");
  await page.getByRole("button", { name: /Render what changed/ }).click();
  await page.locator('[data-testid^="cell-"][data-state="verified"]').waitFor({ timeout: 3_600_000 });
  const render = (Date.now() - began) / 1000;
  return { intake, render };
}

export async function studio(long) {
  const { chromium } = await import("@playwright/test");
  await buildBundles();
  await buildWeb();
  const lengths = long ? [600, 7200] : [600];
  const paths = lengths.map((seconds) => recording(`stereo-${seconds}.wav`, seconds, 2));
  for (const [index, seconds] of lengths.entries()) {
    discardData(inRoot(".build", "test-data"));
    await withStudio(async (address, _environment, { web, workers }) => {
      const browser = await chromium.launch({
        executablePath: "/usr/bin/chromium",
        args: ["--no-sandbox", "--disable-dev-shm-usage"],
      });
      const { intake, render } = await throughStudio(await browser.newPage(), address, paths[index], seconds);
      await browser.close();
      const memory = `web server ${peakMegabytes(web.pid)} MB, worker ${Math.max(...workers.map(({ pid }) => peakMegabytes(pid)))} MB`;
      console.log(
        `${seconds} s stereo: drop to figures ${intake.toFixed(1)} s; render to ebu-r128 ${render.toFixed(1)} s, ${(seconds / render).toFixed(0)}× real time; peak memory ${memory}`,
      );
    });
  }
}
