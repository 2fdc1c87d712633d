// `npm run bench -- order`: an order of 200 items in the browser. How soon the stage Sequence stands, how soon a typed
// pause is shown, and how steadily a handle is dragged.
import { median } from "../../bench/results.mjs";
import { inRoot } from "../paths.mjs";
import { discardData } from "../postgres.mjs";
import { withStudio } from "../test.mjs";
import { projectWith } from "./project.mjs";
import { framesWhile, percentile } from "./frames.mjs";

const ITEMS = 200;
const EDITS = 7;
const DRAG_PIXELS = 60;

export async function order(recording) {
  const { chromium } = await import("@playwright/test");
  const path = recording("stereo-40.wav", 40, 2);
  discardData(inRoot(".build", "test-data"));
  await withStudio(async (address) => {
    const browser = await chromium.launch({
      executablePath: "/usr/bin/chromium",
      args: ["--no-sandbox", "--disable-dev-shm-usage"],
    });
    const page = await browser.newPage({ viewport: { width: 1280, height: 800 } });
    const { id } = await projectWith(page, address, "Two hundred", "music", path);
    const project = `${address}/api/projects/${id}`;
    const view = async () => (await page.request.get(project)).json();
    const { document } = await view();
    const [source] = document.sources;
    for (let n = 2; n <= ITEMS; n++) {
      const item = { id: `i${n}`, name: `Track ${n}`, source: source.hash, repairs: [], chain: [], markers: [] };
      const command = { type: "addSource", source, item };
      await page.request.post(`${project}/commands`, { data: { base: (await view()).head, command } });
    }
    await page.goto(`${address}/projects/${id}`);
    await page.getByTestId("programme").waitFor();
    await page.waitForTimeout(3000); // what the page loads behind
    const opened = Date.now();
    await page.keyboard.press("5");
    await page.getByTestId("join-step").waitFor();
    const openMs = Date.now() - opened;

    const edits = [];
    const field = page.getByLabel("Pause before, Track 2", { exact: true });
    for (let n = 1; n <= EDITS; n++) {
      await field.click();
      await page.waitForTimeout(800);
      const began = Date.now();
      await page.keyboard.type(String(n));
      await page.keyboard.press("Enter");
      await page.waitForFunction(
        ([label, value]) => document.querySelector(`input[aria-label="${label}"]`)?.value === value,
        ["Pause before, Track 2", `${n}.00`],
      );
      edits.push(Date.now() - began);
    }
    await field.click();
    const handle = page.getByLabel("Beginning of Track 2: the pause");
    const { x, y } = await handle.boundingBox();
    await page.mouse.move(x + 6, y + 6);
    await page.mouse.down();
    const frames = await framesWhile(page, async () => {
      for (let i = 0; i < DRAG_PIXELS; i++) {
        await page.mouse.move(x + 6 + i, y + 6);
        await page.waitForTimeout(16);
      }
    });
    await page.mouse.up();
    console.log(
      `\nOrder of ${ITEMS} items: Sequence stands after ${openMs} ms (1000); a typed pause is shown after ${median(edits)} ms; ` +
        `a handle dragged: frames ${median(frames).toFixed(1)} ms, 95 % within ${percentile(frames, 0.95).toFixed(1)} ms (16.7)`,
    );
    await browser.close();
  });
}
