/** The programme view: lanes, pictures, selections, markers, times; and what a person's own choice of them outlives. */
import { expect, test, type Locator, type Page } from "@playwright/test";
import { sine } from "@core/testing/signals";
import { newProject, programme, projectOf, recording, takeIn } from "./studio";

/** A quiet tone of 3 kHz from 2 s to 4 s over the programme: to be seen and selected. */
function withTone() {
  const block = programme(8, 0.05);
  const tone = sine(3000, -20, 2, 48_000);
  for (const x of block) tone.forEach((v, i) => (x[96_000 + i]! += v));
  return block;
}

async function drag(page: Page, lane: Locator, from: [number, number], to: [number, number]): Promise<void> {
  const box = (await lane.boundingBox())!;
  await page.mouse.move(box.x + from[0] * box.width, box.y + from[1] * box.height);
  await page.mouse.down();
  await page.mouse.move(box.x + to[0] * box.width, box.y + to[1] * box.height, { steps: 8 });
  await page.mouse.up();
}

/** Mean colour of a canvas in a lane, and how much of it is drawn on. */
const inkOf = (lane: Locator) =>
  lane
    .locator("canvas")
    .first()
    .evaluate((canvas: HTMLCanvasElement) => {
      const { data } = canvas.getContext("2d")!.getImageData(0, 0, canvas.width, canvas.height);
      let drawn = 0;
      for (let i = 3; i < data.length; i += 4) if (data[i]! > 0) drawn++;
      return drawn / (data.length / 4);
    });

test("lanes are chosen, resized and remembered; pictures are refined where they are looked at", async ({ page }) => {
  await newProject(page, "Lanes", "Music release");
  await takeIn(page, [await recording("Lanes.wav", withTone())]);
  const lane = (id: string) => page.locator(`[data-lane="${id}"]`);
  await expect(lane("waveform")).toBeVisible();
  await expect(lane("spectrogram")).toHaveCount(0);
  for (const name of ["Spectrogram", "Constant Q", "Waveform by tone", "Correlation", "Gain reduction"]) {
    await page.getByRole("button", { name: "Lanes", exact: true }).click();
    await page.getByRole("checkbox", { name, exact: true }).check();
    await page.keyboard.press("Escape");
  }
  for (const id of ["spectrogram", "constant-q", "tone", "correlation"])
    await expect.poll(() => inkOf(lane(id))).toBeGreaterThan(0.05);
  await expect(page.getByTestId("spectrogram-complete")).toHaveAttribute("data-complete", "true", { timeout: 15_000 });
  await expect(page.getByTestId("constant-q-complete")).toHaveAttribute("data-complete", "true", { timeout: 15_000 });

  // The tone is where it belongs: its row is light while it sounds, and dark before.
  const lightness = (seconds: number, hertz: number) =>
    lane("spectrogram")
      .locator("canvas")
      .first()
      .evaluate(
        (canvas: HTMLCanvasElement, [x, share]) => {
          const pixel = canvas
            .getContext("2d")!
            .getImageData(Math.round(x! * canvas.width), Math.round((1 - share!) * canvas.height), 1, 1).data;
          return pixel[0]! + pixel[1]! + pixel[2]!;
        },
        [seconds / 8, Math.log(hertz / 40) / Math.log(20_000 / 40)],
      );
  expect(await lightness(3, 3000)).toBeGreaterThan((await lightness(1, 3000)) + 60);

  const before = (await lane("waveform").boundingBox())!.height;
  const handle = page.getByRole("separator", { name: /waveform against tone/ });
  await handle.focus();
  await page.keyboard.press("ArrowDown");
  await page.keyboard.press("ArrowDown");
  await expect.poll(async () => (await lane("waveform").boundingBox())!.height).toBeGreaterThan(before);
  // The keys of the divider are its own.
  await expect(page.getByTestId("programme")).not.toContainText("taller");
  await page.reload();
  await expect(lane("constant-q")).toBeVisible();
});

test("a box over a spectrogram selects a band of a stretch, tells its figures, and is heard alone", async ({
  page,
}) => {
  await newProject(page, "Box", "Music release");
  await takeIn(page, [await recording("Box.wav", withTone())]);
  await page.keyboard.press("s");
  await page.keyboard.press("b");
  const lane = page.locator('[data-lane="spectrogram"]');
  await expect(page.getByTestId("spectrogram-complete")).toHaveAttribute("data-complete", "true", { timeout: 15_000 });
  // 3 kHz lies at 0.69 of the height, from below.
  await drag(page, lane, [0.28, 0.2], [0.47, 0.42]);
  const figures = page.getByTestId("selection-figures");
  await expect(figures).toContainText(/1\.5\d\d s · \d.*Hz – \d.*kHz/);
  // The tone alone: −20 dBFS peak is −23 dBFS RMS.
  await expect(figures).toContainText(/RMS −2[23]\.\d/, { timeout: 15_000 });
  await page.keyboard.press("y");
  await page.keyboard.press("Shift+Space");
  await expect(page.getByTestId("clock")).not.toHaveText("00:00:00.000");
  await expect(page.getByRole("button", { name: /^Play/ })).toBeVisible({ timeout: 8000 });
  // It stopped at the selection's end by itself.
  await expect
    .poll(async () => Number((await page.getByTestId("clock").innerText()).split(":").pop()))
    .toBeCloseTo(3.76, 0);

  await page.keyboard.press("b");
  await drag(page, lane, [0.6, 0.2], [0.7, 0.5]);
  await expect(figures).toContainText(/Hz/);
});

test("several selections stand beside each other; edges snap; one channel is selected alone; the other button zooms", async ({
  page,
}) => {
  await newProject(page, "Several", "Music release");
  await takeIn(page, [await recording("Several.wav", programme(10, 0.3))]);
  const wave = page.locator('[data-lane="waveform"]');
  await drag(page, wave, [0.1, 0.5], [0.2, 0.5]);
  await page.keyboard.down("Control");
  await drag(page, wave, [0.4, 0.5], [0.5, 0.5]);
  await page.keyboard.up("Control");
  await expect(page.getByTestId("selection-other")).toHaveCount(1);
  await page.keyboard.press("Escape");
  await expect(page.getByTestId("selection")).toHaveCount(0);

  await page.getByRole("button", { name: "Snap", exact: true }).click();
  await page.getByRole("checkbox", { name: /always begin and end/ }).check();
  await page.keyboard.press("Escape");
  await drag(page, wave, [0.113, 0.5], [0.287, 0.5]);
  // Lines each 0.2 s: from 1.2 s to 2.8 s.
  await expect(page.getByTestId("selection-figures")).toContainText("1.600 s");

  await page.getByRole("button", { name: "one channel" }).click();
  await drag(page, wave, [0.5, 0.8], [0.6, 0.8]);
  await expect(page.getByTestId("selection-figures")).toContainText("R only");

  const box = (await wave.boundingBox())!;
  const picture = async () => (await page.getByTestId("lanes").screenshot()).toString("base64");
  const whole = await picture();
  await page.mouse.move(box.x + 0.3 * box.width, box.y + 40);
  await page.mouse.down({ button: "right" });
  await page.mouse.move(box.x + 0.32 * box.width, box.y + 40, { steps: 4 });
  await page.mouse.up({ button: "right" });
  await expect.poll(picture).not.toBe(whole);
});

test("markers are set while it plays, moved, listed, and travel as text; each is an edit that can be undone", async ({
  page,
  context,
}) => {
  await context.grantPermissions(["clipboard-read", "clipboard-write"]);
  const id = await newProject(page, "Marked", "Audiobook");
  await takeIn(page, [await recording("Marked.wav", programme(10, 0.3, 48_000, 1))]);
  const markers = async () => (await projectOf(page, id)).document.items[0]!.markers;
  await page.keyboard.press("Space");
  await expect(page.getByTestId("clock")).toHaveText(/^00:00:0[1-9]/, { timeout: 20_000 });
  await page.keyboard.press("t");
  await page.keyboard.press("Shift+T");
  await page.keyboard.press("Space");
  await expect.poll(async () => (await markers()).map(({ kind }) => kind)).toEqual(["mark", "retake"]);
  expect((await markers())[0]!.start).toBeGreaterThan(24_000);

  await page.keyboard.press("Home");
  await page.keyboard.press("n");
  await expect(page.getByTestId("clock")).not.toHaveText("00:00:00.000");

  await page.keyboard.press("k");
  const list = page.getByTestId("markers");
  const name = list.getByRole("textbox").first();
  await name.fill("the ferry bell");
  await name.press("Enter");
  await expect.poll(async () => (await markers())[0]?.name).toBe("the ferry bell");
  await page.getByRole("button", { name: "Copy" }).click();
  expect(await page.evaluate(() => navigator.clipboard.readText())).toMatch(/^00:00:0\d\.\d{3}\tthe ferry bell\n/);
  await page.getByLabel("Markers to import").setInputFiles({
    name: "more.csv",
    mimeType: "text/csv",
    buffer: Buffer.from("start,end,kind,name\n5,6.5,question,is this the mill?\nlater,,mark,never\n"),
  });
  await expect(page.getByText(/Left out of more\.csv: 1 line/)).toBeVisible();
  await expect.poll(markers).toHaveLength(3);
  expect((await markers())[2]).toMatchObject({ kind: "question", start: 240_000, end: 312_000 });
  await page.getByRole("textbox", { name: "Find a marker" }).fill("mill");
  await expect(list.getByRole("listitem")).toHaveCount(1);
  await page.getByRole("button", { name: "Close" }).click();

  const flag = page.getByRole("button", { name: "Marker is this the mill?" });
  const box = (await flag.boundingBox())!;
  await page.mouse.move(box.x + 4, box.y + 6);
  await page.mouse.down();
  await page.mouse.move(box.x + 104, box.y + 6, { steps: 5 });
  await page.mouse.up();
  await expect.poll(async () => (await markers())[2]?.start).toBeGreaterThan(250_000);
  await page.keyboard.press("Control+z");
  await expect.poll(async () => (await markers())[2]?.start).toBe(240_000);
});

test("times are told in timecode and bars, and a tempo is kept with the item", async ({ page }) => {
  const id = await newProject(page, "Times", "Music release");
  await takeIn(page, [await recording("Times.wav", programme(10, 0.3))]);
  await page.getByRole("button", { name: "Time", exact: true }).click();
  await page.getByLabel("Format of times").selectOption("29.97 drop");
  await page.keyboard.press("Escape");
  await page.keyboard.press("End");
  await expect(page.getByTestId("clock")).toHaveText("00:00:09;29");
  await page.getByRole("button", { name: "Time", exact: true }).click();
  await page.getByLabel("beats a minute").fill("90");
  await page.getByLabel("beats in a bar").fill("3");
  await page.getByRole("button", { name: "Set", exact: true }).click();
  await page.getByLabel("Format of times").selectOption("bars");
  await page.keyboard.press("Escape");
  // Ten seconds at 90 are fifteen beats, five bars of three.
  await expect(page.getByTestId("clock")).toHaveText("6.1.00");
  await expect
    .poll(async () => (await projectOf(page, id)).document.items[0]?.tempo)
    .toMatchObject({ beatsPerMinute: 90, beatsPerBar: 3 });
});
