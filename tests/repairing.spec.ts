import { expect, test, type Page } from "@playwright/test";
import { clicked, drifting, mixed, speechLike, steadyNoise } from "@core/testing/degraded";
import type { ProjectView } from "@core/project/views";
import { newProject, onlyDeliver, projectOf, recording, takeIn } from "./studio";

const RATE = 44_100;
const LEAD_SECONDS = 2;

/** A chapter that was recorded too low, in the noise of a room, with clicks. */
async function chapter(name: string): Promise<string> {
  const speech = speechLike(14, RATE, 11);
  const { spoilt } = clicked(speech, RATE, 1, "sharp", 3);
  const noise = steadyNoise("room", spoilt.length + LEAD_SECONDS * RATE, RATE, 5);
  return recording(name, [mixed(spoilt, noise, 22, LEAD_SECONDS * RATE).map((v) => 0.2 * v)], RATE);
}

const itemOf = async (page: Page, id: string): Promise<ProjectView["document"]["items"][number]> =>
  (await projectOf(page, id)).document.items[0]!;

const made = (page: Page) => expect(page.getByText(/All repairs are made/)).toBeVisible({ timeout: 60_000 });

test("a noisy chapter: a proposal is heard and taken, the noise learned, re-tuned, and the master has it", async ({
  page,
}) => {
  const project = await newProject(page, "Quiet Rooms", "Audiobook");
  await onlyDeliver(page, project, "audiobook-retail");
  await takeIn(page, [await chapter("Chapter one.wav")]);
  await page.keyboard.press("3");

  // Heard before anything is kept.
  const proposals = page.getByTestId("proposals");
  await expect(proposals).toContainText("Reduce the noise");
  // What is looked for behind is proposed as soon as it is found.
  await proposals.getByRole("checkbox", { name: "Take the clicks away" }).uncheck({ timeout: 30_000 });
  const noise = proposals.getByRole("listitem").filter({ hasText: "Reduce the noise" });
  await noise.getByRole("button", { name: "Hear it" }).click();
  await expect(page.getByRole("button", { name: /^Pause/ })).toBeVisible();
  await noise.getByRole("button", { name: "Stop hearing it" }).click();
  await expect(page.getByRole("button", { name: /^Play/ })).toBeVisible();
  expect((await itemOf(page, project)).repairs).toEqual([]);

  await page.getByRole("button", { name: /^Add this repair/ }).click();
  await page.getByTestId("repairs").getByRole("button", { name: /Noise/ }).click();

  // Learned from a place that is offered, and judged.
  await page
    .getByTestId("noise-learning")
    .getByRole("button", { name: /^\d:\d\d/ })
    .first()
    .click();
  await page.getByRole("button", { name: "Learn from the selection" }).click();
  await expect(page.getByTestId("noise-learning")).toContainText("A good stretch", { timeout: 20_000 });
  await expect(page.getByRole("img", { name: "Spectrum of the learned noise" })).toBeVisible();
  await made(page);

  // What it did is measured, and the strip follows: the floor lies lower by about the depth.
  const cost = page.getByTestId("cost");
  await expect(cost).toContainText("The floor lies at", { timeout: 60_000 });
  const [after, before] = (await cost.innerText())
    .match(/−\d+\.\d/g)!
    .slice(-2)
    .map((text) => Number(text.replace("−", "-")));
  expect(before! - after!).toBeGreaterThan(9);

  // Re-tuned by typing; undone; heard apart.
  const depth = page.getByRole("textbox", { name: "Broadband" });
  await depth.fill("6dB");
  await depth.press("Enter");
  await expect(page.getByTestId("repairs")).toContainText("6 dB");
  await page.keyboard.press("Control+z");
  await expect(page.getByTestId("repairs")).toContainText("24 dB");
  await page.getByRole("button", { name: "only what it removes" }).click();
  await expect(page.getByRole("button", { name: "only what it removes" })).toHaveAttribute("aria-pressed", "true");
  await page.getByRole("button", { name: "now", exact: true }).click();

  // What the shop asks for: gain and limiter are proposed, and the strip predicts the limits to be kept.
  await page.getByRole("button", { name: "to the proposals" }).click();
  await page.getByTestId("level-proposal").getByRole("button", { name: "Add to the chain" }).click();
  await expect(page.getByTestId("level-proposal")).toHaveCount(0);
  await expect
    .poll(async () => (await itemOf(page, project)).chain.map(({ type }) => type))
    .toEqual(["gain", "limiter"]);

  // The master is inside all of them, quieter in its pauses, and the browser makes the same bytes.
  await page.keyboard.press("6");
  await page.getByRole("button", { name: /Render what changed/ }).click();
  const cell = page.locator('[data-testid^="cell-"]').first();
  await expect(cell).toHaveAttribute("data-state", "verified", { timeout: 60_000 });
  const { sources, masters } = await projectOf(page, project);
  const retail = masters.find(({ inputs }) => inputs.recipe.spec?.id === "audiobook-retail")!.result!;
  expect(retail.verdict?.limits.filter(({ limit, status }) => limit.required && status === "fail")).toEqual([]);
  const [source, master] = [sources[0]!.figures!, retail.figures];
  const raised = master.integratedLufs! - source.integratedLufs!;
  expect(source.noiseFloorDbfs! + raised - master.noiseFloorDbfs!).toBeGreaterThan(9);
  await page.getByRole("button", { name: "Verify the bytes" }).click();
  await expect(page.getByText("the same bytes in the browser and on the server")).toBeVisible({ timeout: 60_000 });

  // Opened again, it is as it was; and switched off, nothing is left of it.
  await page.reload();
  await expect(page.locator('[data-testid^="cell-"]').first()).toBeVisible({ timeout: 20_000 });
  await page.keyboard.press("3");
  await expect(page.getByTestId("lanes")).toBeVisible({ timeout: 20_000 });
  await page.getByRole("checkbox", { name: "Noise on" }).uncheck();
  await expect(page.getByText(/All repairs are made/)).toHaveCount(0);
  expect((await itemOf(page, project)).repairs[0]).toMatchObject({ type: "noise", enabled: false });
});

test("clicks are listed, heard by keys, and left alone; a selected box is turned down; steps are put in order", async ({
  page,
}) => {
  const project = await newProject(page, "Worn Grooves", "Audiobook");
  await takeIn(page, [await chapter("Side B.wav")]);
  await page.keyboard.press("3");
  await page.getByRole("button", { name: "Add a repair" }).click();
  await page.getByRole("menuitem", { name: /^Clicks/ }).click();
  const places = page.getByTestId("places");
  await expect(places).toContainText(/\d+ places?/, { timeout: 60_000 });
  const list = places.getByRole("listbox");
  const count = await list.getByRole("option").count();
  expect(count).toBeGreaterThan(6);

  await list.focus();
  await page.keyboard.press("ArrowDown");
  await expect(list.getByRole("option").nth(1)).toHaveAttribute("aria-selected", "true");
  await expect(page.getByRole("button", { name: /^Pause/ })).toBeVisible();
  await page.keyboard.press("Delete");
  await expect(places).toContainText("1 left alone");
  await expect.poll(async () => (await itemOf(page, project)).repairs[0]?.excludedRegions).toHaveLength(1);
  await page.keyboard.press("Delete");
  await expect(places).not.toContainText("left alone");

  // What is selected becomes where a step applies.
  await page.keyboard.press("Escape");
  const wave = (await page.locator('[data-lane="waveform"]').boundingBox())!;
  await page.mouse.move(wave.x + wave.width * 0.3, wave.y + 40);
  await page.mouse.down();
  await page.mouse.move(wave.x + wave.width * 0.5, wave.y + 40, { steps: 4 });
  await page.mouse.up();
  await page.getByRole("button", { name: "Add a repair" }).click();
  await page.getByRole("menuitem", { name: /^Region gain/ }).click();
  await expect(page.getByTestId("repairs").getByRole("listitem")).toHaveCount(2);
  await expect.poll(async () => (await itemOf(page, project)).repairs[1]?.regions.length).toBe(1);
  await page.getByRole("button", { name: "The whole", exact: true }).click();
  await expect.poll(async () => (await itemOf(page, project)).repairs[1]?.regions.length).toBe(0);

  await page.getByRole("button", { name: "Earlier" }).nth(1).click();
  await expect
    .poll(async () => (await itemOf(page, project)).repairs.map(({ type }) => type))
    .toEqual(["region-gain", "clicks"]);
  await page.getByRole("button", { name: "Remove" }).first().click();
  await expect(page.getByTestId("repairs").getByRole("listitem")).toHaveCount(1);
});

test("hum and a ringing tone are found and taken out by one action; changing noise goes by a network, the same everywhere", async ({
  page,
}) => {
  const project = await newProject(page, "Ringing Rooms", "Audiobook");
  await onlyDeliver(page, project, "audiobook-retail");
  const speech = mixed(speechLike(24, RATE, 31), steadyNoise("room", 24 * RATE, RATE, 5), 30);
  const humming = mixed(speech, drifting(speech.length, RATE, 50, 4, 0, 3), 12);
  const ringing = humming.map((v, i) => 0.3 * (v + 0.004 * Math.sin((2 * Math.PI * 3152.5 * i) / RATE)));
  await takeIn(page, [await recording("Chapter two.wav", [ringing], RATE)]);
  await page.keyboard.press("3");
  await page.getByRole("tab", { name: "Lists" }).click();
  await page
    .getByRole("navigation", { name: "Kinds of places" })
    .getByRole("button", { name: /^Hum and ringing tones/ })
    .click();
  const places = page.getByTestId("places");
  await expect(places).toContainText("3.15 kHz", { timeout: 60_000 });
  await expect(places).toContainText(/50\.?\d* Hz hum/);
  if (process.env["SHOT"]) await page.screenshot({ path: process.env["SHOT"] });
  await page.getByRole("button", { name: /^Take out all/ }).click();
  await expect
    .poll(async () => (await itemOf(page, project)).repairs.map(({ type }) => type))
    .toEqual(["hum", "tones"]);
  await expect(page.getByRole("button", { name: "Take out all 0" })).toBeDisabled();
  await made(page);
  await page.keyboard.press("Control+z");
  await expect.poll(async () => (await itemOf(page, project)).repairs).toEqual([]);

  // What changes goes by a trained network, which gives the same in the browser and on the server.
  await page.getByRole("button", { name: "Add a repair" }).click();
  await page.getByRole("menuitem", { name: /^Speech denoise/ }).click();
  await expect(page.getByRole("textbox", { name: "Firmness" })).toBeVisible();
  await made(page);
  await page.keyboard.press("6");
  await page.getByRole("button", { name: /Render what changed/ }).click();
  await expect(page.locator('[data-testid^="cell-"]').first()).toHaveAttribute("data-state", "verified", {
    timeout: 60_000,
  });
  await page.getByRole("button", { name: "Verify the bytes" }).click();
  await expect(page.getByText("the same bytes in the browser and on the server")).toBeVisible({ timeout: 60_000 });
});
