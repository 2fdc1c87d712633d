// `npm run bench -- deliver album`: a whole album through the studio.
import { spawnSync } from "node:child_process";
import { existsSync } from "node:fs";
import { join } from "node:path";
import { buildBundles, buildWeb } from "../build.mjs";
import { inRoot } from "../paths.mjs";
import { discardData } from "../postgres.mjs";
import { withStudio } from "../test.mjs";
import { folder, LONGEST_MADE, recording } from "./recordings.mjs";
import { peakMegabytes } from "./timing.mjs";

/** A whole album through the studio: items × deliverables, rendered and verified by two workers. */
const ALBUM = { items: 7, seconds: 257 };
const ALBUM_DELIVERABLES = [
  { spec: "streaming-14", format: { sampleRate: 44100 } },
  { spec: "ebu-r128", format: {} },
  { spec: "cd-44-16", format: { bits: "16", sampleRate: 44100 } },
];

export async function album() {
  await buildBundles();
  await buildWeb();
  const { chromium } = await import("@playwright/test");
  const whole = recording(`stereo-${LONGEST_MADE}.wav`, LONGEST_MADE, 2);
  const paths = Array.from({ length: ALBUM.items }, (_, n) => {
    const path = join(folder, `album-${n}.wav`);
    const from = String(n * 40);
    if (!existsSync(path))
      spawnSync("ffmpeg", [
        "-v",
        "error",
        "-y",
        "-ss",
        from,
        "-t",
        String(ALBUM.seconds),
        "-i",
        whole,
        "-c",
        "copy",
        path,
      ]);
    return path;
  });
  discardData(inRoot(".build", "test-data"));
  await withStudio(async (address, _environment, { workers }) => {
    const browser = await chromium.launch({
      executablePath: "/usr/bin/chromium",
      args: ["--no-sandbox", "--disable-dev-shm-usage"],
    });
    const page = await browser.newPage();
    const ask = async (path, data) => (await page.request.post(`${address}/api/${path}`, { data })).json();
    const view = async (id) => (await page.request.get(`${address}/api/projects/${id}`)).json();
    const { id } = await ask("projects", { name: "Bench album", template: "broadcast" });
    const edit = async (command) => ask(`projects/${id}/commands`, { base: (await view(id)).head, command });
    await page.goto(`${address}/projects/${id}`);
    await page.getByTestId("file-input").setInputFiles(paths);
    await page
      .locator('[data-testid="source"][data-state="ready"]')
      .nth(ALBUM.items - 1)
      .waitFor({ timeout: 600_000 });
    await page.goto("about:blank");
    await edit({ type: "removeDeliverable", deliverable: "d1" });
    const plain = {
      container: "wav",
      bits: "24",
      phase: "linear",
      dither: "flat",
      keepSilence: false,
      channels: "all",
      bitrateKbps: 192,
      variable: false,
      tracks: "replace",
    };
    for (const [n, { spec, format }] of ALBUM_DELIVERABLES.entries())
      await edit({ type: "addDeliverable", deliverable: { id: `a${n}`, spec, format: { ...plain, ...format } } });
    const { document } = await view(id);
    const masters = document.deliverables.flatMap((deliverable) =>
      document.items.map((item) => ({ item: item.id, deliverable: deliverable.id })),
    );
    const began = Date.now();
    await ask(`projects/${id}/masters`, { masters });
    let done = [];
    while (done.length < masters.length) {
      await new Promise((resolve) => setTimeout(resolve, 250));
      done = (await view(id)).masters.filter(({ state }) => state === "done" || state === "failed");
    }
    const seconds = (Date.now() - began) / 1000;
    const sound = masters.length * ALBUM.seconds;
    const passed = done.filter(({ result }) => result?.verdict?.pass).length;
    const memory = Math.max(...workers.map(({ pid }) => peakMegabytes(pid)));
    console.log(
      `\nAlbum: ${ALBUM.items} items × ${ALBUM_DELIVERABLES.length} deliverables, ${(sound / 60).toFixed(0)} min of masters in ${seconds.toFixed(0)} s by two workers: ${(sound / seconds).toFixed(0)}× real time (30); ${passed} of ${masters.length} verified inside; worker at most ${memory} MB`,
    );
    await browser.close();
  });
}
