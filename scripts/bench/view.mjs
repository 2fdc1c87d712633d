// `npm run bench -- view [--long]`: how fast the programme view opens, moves and is refined on a recording of an hour (of
// ten with --long), how much memory the page takes, and how steadily twelve channels play with their meters.
import { median } from "../../bench/results.mjs";
import { inRoot } from "../paths.mjs";
import { discardData } from "../postgres.mjs";
import { withStudio } from "../test.mjs";
import { framesWhile, percentile } from "./frames.mjs";
import { projectWith } from "./project.mjs";

/** Milliseconds from a click in the library to the first waveform on the screen. */
export async function opening(page, address, name) {
  await page.goto(address);
  const link = page.getByRole("link", { name });
  await link.waitFor();
  await page.waitForTimeout(500); // what the library loads ahead
  await page.evaluate(() => addEventListener("click", () => (window.clicked_ = performance.now()), true));
  await link.click();
  return page.evaluate(
    () =>
      new Promise((resolve) => {
        const look = () => {
          const canvas = document.querySelector('[data-lane="waveform"] canvas');
          const context = canvas?.width ? canvas.getContext("2d") : null;
          const drawn = context
            ?.getImageData(0, 0, canvas.width, canvas.height)
            .data.some((v, i) => i % 4 === 3 && v > 200);
          if (drawn) resolve(performance.now() - window.clicked_);
          else requestAnimationFrame(look);
        };
        look();
      }),
  );
}

/** Frame times while the window is zoomed and moved by the wheel, all over the recording. */
async function moving(page, seconds) {
  const box = await page.getByTestId("lanes").boundingBox();
  await page.mouse.move(box.x + box.width * 0.4, box.y + 40);
  const end = Date.now() + seconds * 1000;
  const frames = await framesWhile(page, async () => {
    for (let turn = 0; Date.now() < end; turn++) {
      const closer = Math.floor(turn / 40) % 2 === 0;
      if (turn % 3 === 2) {
        await page.keyboard.down("Shift");
        await page.mouse.wheel(0, 120);
        await page.keyboard.up("Shift");
      } else await page.mouse.wheel(0, closer ? -110 : 110);
    }
  });
  return { median: median(frames), p95: percentile(frames, 0.95) };
}

/** Milliseconds from showing another place to its finished spectrogram. */
async function refining(page) {
  const times = [];
  await page.keyboard.press("w");
  const box = await page.getByTestId("lanes").boundingBox();
  for (let i = 0; i < 7; i++) await page.mouse.wheel(0, -600);
  for (let place = 0; place < 5; place++) {
    const began = Date.now();
    // A click in the strip shows quite another place.
    await page.mouse.click(box.x + box.width * (0.1 + 0.17 * place), box.y - 38);
    await page
      .waitForFunction(
        () => document.querySelector('[data-testid="spectrogram-complete"]')?.dataset.complete === "false",
        null,
        { timeout: 5000 },
      )
      .catch(() => undefined);
    await page.waitForFunction(
      () => document.querySelector('[data-testid="spectrogram-complete"]')?.dataset.complete === "true",
      null,
      { timeout: 60_000 },
    );
    times.push(Date.now() - began);
  }
  return median(times);
}

async function memory(page) {
  const bytes = await page.evaluate(async () => (await performance.measureUserAgentSpecificMemory()).bytes);
  return Math.round(bytes / 1e6);
}

async function playing(page, seconds) {
  await page.keyboard.press("5"); // away from the list of recordings
  await page.getByTestId("programme").waitFor();
  await page.keyboard.press("Control+a");
  await page.keyboard.press("l");
  await page.keyboard.press("Space");
  await page.waitForTimeout(seconds * 1000);
  await page.getByRole("button", { name: "Engine read-out" }).click();
  const number = async (id) => Number.parseFloat((await page.getByTestId(id).textContent()) ?? "");
  await page.waitForTimeout(400);
  const [quanta, underruns] = [await number("quanta"), await number("underruns")];
  const changes = [];
  for (let i = 0; i < 5; i++) {
    await page.keyboard.press("m");
    await page.keyboard.press("o");
    await page.waitForTimeout(800);
    changes.push(await number("change-ms"));
  }
  return { quanta, underruns, changes };
}

/** Share of one core that Chromium takes while an open project rests, in per cent: its page and its drawing. */
export async function resting(browser, page, seconds) {
  const session = await browser.newBrowserCDPSession();
  const used = async () => {
    const { processInfo } = await session.send("SystemInfo.getProcessInfo");
    return processInfo.filter(({ type }) => type !== "browser").reduce((sum, { cpuTime }) => sum + cpuTime, 0);
  };
  await page.waitForTimeout(8000); // until what was set going has ended
  const before = await used();
  await page.waitForTimeout(seconds * 1000);
  return Math.round((100 * ((await used()) - before)) / seconds);
}

/** Milliseconds of the page's own thread that layout and painting take of a second while something is heard. */
async function drawing(browser, page, seconds) {
  await page.keyboard.press("Space");
  await page.waitForTimeout(1500);
  await browser.startTracing(page, { categories: ["devtools.timeline"] });
  await page.waitForTimeout(seconds * 1000);
  const { traceEvents } = JSON.parse((await browser.stopTracing()).toString());
  await page.keyboard.press("Space");
  const of = (...names) =>
    traceEvents.reduce((sum, { name, dur = 0 }) => sum + (names.includes(name) ? dur / 1000 : 0), 0) / seconds;
  return {
    layoutMs: Math.round(of("Layout", "UpdateLayoutTree")),
    paintMs: Math.round(of("Paint", "PrePaint", "Layerize")),
  };
}

export async function benchView(recording, long) {
  const { chromium } = await import("@playwright/test");
  const hours = long ? 10 : 1;
  const path = recording(`stereo-${hours * 3600}.wav`, hours * 3600, 2);
  const wide = recording("wide-180.wav", 180, 12);
  discardData(inRoot(".build", "test-data"));
  await withStudio(async (address) => {
    const browser = await chromium.launch({
      executablePath: "/usr/bin/chromium",
      args: ["--no-sandbox", "--disable-dev-shm-usage", "--autoplay-policy=no-user-gesture-required"],
    });
    const page = await browser.newPage({ viewport: { width: 1280, height: 800 } });
    const { intakeSeconds } = await projectWith(page, address, `${hours} hours`, "music", path);
    const openings = [];
    for (let i = 0; i < 5; i++) openings.push(await opening(page, address, `${hours} hours`));
    const restingPercent = await resting(browser, page, 10);
    const { layoutMs, paintMs } = await drawing(browser, page, 4);
    const plain = await moving(page, 8);
    await page.keyboard.press("s");
    await page.keyboard.press("w");
    const withPicture = await moving(page, 8);
    const refined = await refining(page);
    console.log(
      `view, ${hours} h stereo (intake ${intakeSeconds.toFixed(0)} s): first waveform ${Math.round(median(openings))} ms after the click; ` +
        `frames while zooming and moving: median ${plain.median.toFixed(1)} ms, 95th percentile ${plain.p95.toFixed(1)} ms, ` +
        `with a spectrogram ${withPicture.median.toFixed(1)} and ${withPicture.p95.toFixed(1)} ms; ` +
        `another place's spectrogram finished after ${refined} ms; memory of the page ${await memory(page)} MB; at rest ${restingPercent} % of a core; ` +
        `while it plays, layout takes ${layoutMs} and painting ${paintMs} ms of a second`,
    );
    const minutes = long ? 10 : 1;
    await projectWith(page, address, "twelve channels", "immersive", wide);
    const { quanta, underruns, changes } = await playing(page, minutes * 60);
    console.log(
      `playing 12 channels with meters for ${minutes} min: ${underruns} underruns in ${quanta} blocks; ` +
        `changes lie ahead of the audio thread after ${changes.join(", ")} ms`,
    );
    await browser.close();
  });
}
