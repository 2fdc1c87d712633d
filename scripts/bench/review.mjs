// `npm run bench -- review`: how soon the page of a review plays after the press, as a copy and without loss, on a page that was
// just opened; and how soon it goes on where it is sent.
import { chromium, devices } from "@playwright/test";
import { median } from "../../bench/results.mjs";
import { inRoot } from "../paths.mjs";
import { discardData } from "../postgres.mjs";
import { withStudio } from "../test.mjs";
import { projectWith } from "./project.mjs";

const ROUNDS = 7;
const WANTED_MS = 1000;

/** Milliseconds from a press in the page until its playhead has moved on from where it was. */
const untilPlaying = (page, press) =>
  page.evaluate(
    async ([what]) => {
      const slider = document.querySelector('input[type="range"]');
      const before = Number(slider.value);
      const began = performance.now();
      if (what === "play")
        [...document.querySelectorAll("button")].find((one) => one.textContent.includes("Play")).click();
      for (;;) {
        await new Promise(requestAnimationFrame);
        if (Number(slider.value) > before + 0.01) return performance.now() - began;
        if (performance.now() - began > 20_000) return Infinity;
      }
    },
    [press],
  );

export async function review(recording) {
  discardData(inRoot(".build", "test-data"));
  await withStudio(async (address) => {
    const browser = await chromium.launch({ executablePath: "/usr/bin/chromium", args: ["--no-sandbox"] });
    const page = await browser.newPage({ baseURL: address });
    const path = recording("stereo-600.wav", 600, 2);
    const { id: project } = await projectWith(page, address, "Bench", "music", path);
    const ask = async (path, method = "GET", data) => {
      const answer = await page.request.fetch(`/api/${path}`, { method, ...(data ? { data } : {}) });
      if (!answer.ok()) throw new Error(`${path}: ${await answer.text()}`);
      return answer.json();
    };
    const { document } = await ask(`projects/${project}`);
    const wanted = { item: document.items[0].id, deliverable: document.deliverables[0].id };
    const [{ id }] = await ask(`projects/${project}/masters`, "POST", { masters: [wanted] });
    const rendered = async () =>
      (await ask(`projects/${project}`)).masters.find((one) => one.id === id).state === "done";
    while (!(await rendered())) await page.waitForTimeout(500);
    const settings = { title: "Bench", message: "", days: 1, password: null, downloads: false, blind: false };
    const { secret } = await ask(`projects/${project}/reviews`, "POST", { ...settings, masters: [id] });
    const copied = async () => (await ask(`projects/${project}/reviews`))[0].files[0].has_copy;
    while (!(await copied())) await page.waitForTimeout(500);
    for (const lossless of [false, true]) {
      const times = [];
      for (let round = 0; round < ROUNDS; round++) {
        const context = await browser.newContext({ ...devices["Pixel 7"], viewport: { width: 390, height: 844 } });
        const phone = await context.newPage();
        await phone.goto(`${address}/review#${secret}`);
        await phone.getByLabel("Your name").fill("Wen");
        await phone.getByRole("button", { name: "Open" }).click();
        if (lossless) await phone.getByLabel("without loss").check();
        await phone.getByRole("button", { name: "Play" }).waitFor();
        times.push(await untilPlaying(phone, "play"));
        await context.close();
      }
      console.log(
        `review, ten minutes of stereo, ${lossless ? "without loss" : "as a copy"}: plays ${Math.round(median(times))} ms after the press ` +
          `(median of ${ROUNDS}; at most ${Math.round(Math.max(...times))}; ${WANTED_MS})`,
      );
    }
    await browser.close();
  });
}
