// `npm run bench -- desk [--long]`: how the workspace answers on a stereo recording of an hour (of ten with --long), on 12
// and on 24 channels: the first waveform after the click, a typed number until strip and deliverables tell it, frames
// while a slider is dragged, how long the page is held up by three picture lanes, and what it takes at rest.
import { median } from "../../bench/results.mjs";
import { inRoot } from "../paths.mjs";
import { discardData } from "../postgres.mjs";
import { withStudio } from "../test.mjs";
import { framesWhile, percentile } from "./frames.mjs";
import { projectWith } from "./project.mjs";
import { opening, resting } from "./view.mjs";

const NUMBERS = 7;
const DRAG_STEPS = 120;
/** Lanes that show pictures, by their keys: spectrogram and constant Q; the third is switched on by name. */
const PICTURES = ["s", "Shift+S"];

/** Milliseconds from Enter behind a number until the strip and the deliverables beside the processor tell it. */
async function typedNumbers(page) {
  const times = [];
  for (let n = 1; n <= NUMBERS; n++) {
    const field = page.getByRole("textbox", { name: "Gain", exact: true }).first();
    await field.fill(String(-n));
    await page.evaluate(() => {
      const told = () =>
        ["standing-integratedLufs", "after"]
          .map((id) => document.querySelector(`[data-testid="${id}"]`)?.textContent)
          .join();
      const before = told();
      addEventListener(
        "keydown",
        () => {
          const began = performance.now();
          const look = () => {
            if (told() !== before) window.took_ = performance.now() - began;
            else requestAnimationFrame(look);
          };
          look();
        },
        { capture: true, once: true },
      );
      window.took_ = null;
    });
    await page.keyboard.press("Enter");
    await page.waitForFunction(() => window.took_ !== null);
    times.push(await page.evaluate(() => window.took_));
    await page.waitForTimeout(1200);
  }
  return times;
}

async function draggedSlider(page) {
  const slider = page.getByLabel("Gain, slider").first();
  const { x, y, width, height } = await slider.boundingBox();
  await page.mouse.move(x + width / 2, y + height / 2);
  await page.mouse.down();
  const frames = await framesWhile(page, async () => {
    for (let step = 0; step < DRAG_STEPS; step++) {
      await page.mouse.move(x + width * (0.5 + 0.3 * Math.sin(step / 10)), y + height / 2);
      await page.waitForTimeout(1000 / 60);
    }
  });
  await page.mouse.up();
  return frames;
}

/** The longest that the page's thread was held up while picture lanes are shown and the window is moved; milliseconds. */
async function picturesHoldUp(page) {
  await page.keyboard.press("2");
  await page.evaluate(() => {
    window.held_ = 0;
    new PerformanceObserver((list) => {
      for (const { duration } of list.getEntries()) window.held_ = Math.max(window.held_, duration);
    }).observe({ type: "longtask" });
  });
  for (const key of PICTURES) await page.keyboard.press(key);
  await page.getByRole("button", { name: "Lanes" }).click();
  await page.getByRole("checkbox", { name: /^Waveform by tone/ }).check();
  await page.keyboard.press("Escape");
  const box = await page.getByTestId("lanes").boundingBox();
  await page.mouse.move(box.x + box.width * 0.4, box.y + 40);
  const frames = await framesWhile(page, async () => {
    for (let turn = 0; turn < 60; turn++) {
      await page.mouse.wheel(0, turn % 20 < 10 ? -150 : 150);
      await page.waitForTimeout(50);
    }
    await page.waitForTimeout(3000);
  });
  return { heldMs: await page.evaluate(() => window.held_), frames };
}

export async function desk(recording, long) {
  const { chromium } = await import("@playwright/test");
  const hours = long ? 10 : 1;
  const subjects = [
    { name: `${hours} h stereo`, template: "music", path: recording(`stereo-${hours * 3600}.wav`, hours * 3600, 2) },
    { name: "12 channels", template: "immersive", path: recording("wide-180.wav", 180, 12) },
    { name: "24 channels", template: "immersive", path: recording("wide-24-120.wav", 120, 24) },
  ];
  discardData(inRoot(".build", "test-data"));
  await withStudio(async (address) => {
    const browser = await chromium.launch({
      executablePath: "/usr/bin/chromium",
      args: ["--no-sandbox", "--disable-dev-shm-usage"],
    });
    for (const { name, template, path } of subjects) {
      const page = await browser.newPage({ viewport: { width: 1280, height: 800 } });
      await projectWith(page, address, name, template, path);
      await page.waitForTimeout(15_000); // what is looked for behind
      const openings = [];
      for (let n = 0; n < 5; n++) openings.push(await opening(page, address, name));
      const rest = await resting(browser, page, 10);
      await page.keyboard.press("4");
      await page.getByRole("button", { name: "Add processor" }).click();
      await page.keyboard.type("gain");
      await page.keyboard.press("Enter");
      await page.getByLabel("Gain, slider").first().waitFor();
      await page.waitForTimeout(2000);
      const numbers = await typedNumbers(page);
      const frames = await draggedSlider(page);
      const { heldMs, frames: moved } = await picturesHoldUp(page);
      console.log(
        `\n${name}: first waveform ${Math.round(median(openings))} ms after the click (500); a typed number told after ` +
          `${Math.round(median(numbers))} ms, at most ${Math.round(Math.max(...numbers))} (150); slider: frames ${median(frames).toFixed(1)} ms, ` +
          `95 % within ${percentile(frames, 0.95).toFixed(1)}, ${frames.filter((ms) => ms > 34).length} of ${frames.length} over 33 ms (0); ` +
          `three picture lanes hold the page up for ${Math.round(heldMs)} ms at most, frames 95 % within ${percentile(moved, 0.95).toFixed(1)} ms; ` +
          `at rest ${rest} % of a core (1)`,
      );
      await page.close();
    }
    await browser.close();
  });
}
