import { expect, test, type Page } from "@playwright/test";
import type { ProjectView } from "@core/project/views";
import { speechLike, steadyNoise } from "@core/testing/degraded";
import { join } from "node:path";
import { CHAPTER_RATE, makeChapter } from "@demo/chapter";
import { newProject, onlyDeliver, projectOf, recording, takeIn } from "./studio";

type Item = ProjectView["document"]["items"][number];
const itemOf = async (page: Page, id: string): Promise<Item> => (await projectOf(page, id)).document.items[0]!;

const select = async (page: Page, from: number, to: number, lane = "waveform", top = 40, bottom = 40) => {
  const box = (await page.locator(`[data-lane="${lane}"]`).boundingBox())!;
  await page.mouse.move(box.x + box.width * from, box.y + top);
  await page.mouse.down();
  await page.mouse.move(box.x + box.width * to, box.y + bottom, { steps: 4 });
  await page.mouse.up();
};
/** Length of the item as the clock tells it, in seconds. */
const length = async (page: Page): Promise<number> => {
  const words = await page.getByText(/^of \d\d:\d\d/).innerText();
  return words
    .slice(3)
    .split(":")
    .reduce((sum, part) => sum * 60 + Number(part), 0);
};

test("the chapter, from intake to inside what the shop asks: retakes cut by their marks, breaths, pauses, noise, level", async ({
  page,
}) => {
  const project = await newProject(page, "Morrow Lock", "Audiobook");
  await onlyDeliver(page, project, "audiobook-retail");
  const { block, faults } = await makeChapter(join(process.cwd(), "demo", "speech"));
  await takeIn(page, [await recording("Chapter three.wav", block, CHAPTER_RATE)]);
  const before = await length(page);
  await page.keyboard.press("3");

  // The marks are found; the take before one and the one behind it are heard; all are taken in, in one edit.
  await page.getByRole("tab", { name: "Lists" }).click();
  const kinds = page.getByRole("navigation", { name: "Kinds of places" });
  await expect(kinds.getByRole("button", { name: /^Retake marks/ })).toHaveText(
    `Retake marks${faults.retakes.length}`,
    {
      timeout: 60_000,
    },
  );
  const places = page.getByTestId("places");
  await places.getByRole("listbox").getByRole("option").first().click();
  await expect(page.getByTestId("retake")).toContainText("alike ✓");
  await page.getByTestId("retake").getByRole("button", { name: "Hear the take after" }).click();
  await expect(page.getByRole("button", { name: /^Pause/ })).toBeVisible();
  await page.getByRole("button", { name: `Take in all ${faults.retakes.length}` }).click();
  await expect.poll(async () => (await itemOf(page, project)).clips?.length).toBe(faults.retakes.length + 1);
  await expect(places).toContainText("cut out");
  expect(before - (await length(page))).toBeGreaterThan(15);

  // Breaths are lowered together; one is left as it is, by keys.
  await kinds.getByRole("button", { name: /^Breaths/ }).click();
  await places.getByRole("listbox").focus();
  await page.keyboard.press("ArrowDown");
  await page.keyboard.press("Delete");
  await expect(places.getByRole("listbox").getByRole("option").nth(1)).toHaveClass(/line-through/);
  // Those of the takes that failed are cut out with them.
  const breaths = faults.breaths.length - faults.retakes.length;
  await page.getByRole("button", { name: `Lower all ${breaths - 1}` }).click();
  await expect.poll(async () => (await itemOf(page, project)).repairs[0]?.regions.length).toBe(breaths - 1);
  await kinds.getByRole("button", { name: /^Coughs/ }).click();
  await places.getByRole("listbox").focus();
  await page.keyboard.press("Enter");
  await expect.poll(async () => (await itemOf(page, project)).repairs[0]?.regions.length).toBe(breaths);

  // The long pause is cut down; what is left is heard and can be opened again.
  await kinds.getByRole("button", { name: /^Long pauses/ }).click();
  await page.getByLabel("What a long pause is").selectOption("3 s");
  const shorten = page.getByRole("button", { name: /^Shorten all [1-9]/ });
  await shorten.click();
  await expect(page.getByRole("button", { name: "Shorten all 0" })).toBeVisible();
  await page.getByRole("tab", { name: "Cuts and crossfades" }).click();
  const cuts = page.getByTestId("cuts").getByRole("listitem");
  const count = await cuts.count();
  expect(count).toBeGreaterThan(faults.retakes.length);
  await cuts.last().getByRole("button", { name: "Open" }).click();
  await expect(cuts).toHaveCount(count - 1);
  await page.keyboard.press("Control+z");
  await expect(cuts).toHaveCount(count);

  // What is left is proposed, and brings it inside.
  await page.getByRole("tab", { name: "Proposals" }).click();
  await page.getByRole("button", { name: /^Add (this repair|these \d+ repairs)/ }).click();
  await expect(page.getByText(/All repairs are made/)).toBeVisible({ timeout: 60_000 });
  await expect(page.getByTestId("cost")).toContainText("The floor lies at", { timeout: 60_000 });
  await page.getByTestId("level-proposal").getByRole("button", { name: "Add to the chain" }).click();
  await expect(page.getByTestId("level-proposal")).toHaveCount(0);
  await page.keyboard.press("6");
  await page.getByRole("button", { name: /Render what changed/ }).click();
  const cell = page.locator('[data-testid^="cell-"]').first();
  await expect(cell).toHaveAttribute("data-state", "verified", { timeout: 90_000 });
  const { masters } = await projectOf(page, project);
  const retail = masters.find(({ inputs }) => inputs.recipe.spec?.id === "audiobook-retail")!.result!;
  expect(retail.verdict?.limits.filter(({ limit, status }) => limit.required && status === "fail")).toEqual([]);
  await page.getByRole("button", { name: "Verify the bytes" }).click();
  await expect(page.getByText("the same bytes in the browser and on the server")).toBeVisible({ timeout: 60_000 });
});

test("what is selected is cut out, put in elsewhere, replaced by room tone; crossfades and edges are set; all opens again", async ({
  page,
}) => {
  const project = await newProject(page, "Cuts", "Podcast");
  const speech = speechLike(12, 44_100, 8);
  const noise = steadyNoise("room", speech.length, 44_100, 2);
  const x = speech.map((v, i) => (i < 3 * 44_100 ? 0 : v) + 0.002 * noise[i]!);
  await takeIn(page, [await recording("Talk.wav", [x], 44_100)]);
  await page.keyboard.press("3");
  await page.getByRole("tab", { name: "Cuts and crossfades" }).click();
  const cuts = page.getByTestId("cuts").getByRole("listitem");

  await select(page, 0.5, 0.6);
  await page.keyboard.press("Delete");
  await expect(cuts).toHaveCount(1);
  await expect.poll(() => length(page)).toBeCloseTo(10.8, 1);
  // Heard around the crossfade.
  await expect(page.getByRole("button", { name: /^Pause/ })).toBeVisible();

  // Cut and put in at the head, by keys.
  await select(page, 0.7, 0.8);
  await page.keyboard.press("Control+x");
  await expect.poll(() => length(page)).toBeCloseTo(9.72, 1);
  // The crossfade is being heard: the playhead stands still once it is stopped.
  await page.getByRole("button", { name: /^Pause/ }).click();
  await page.keyboard.press("Home");
  await page.keyboard.press("Control+v");
  await expect.poll(() => length(page)).toBeCloseTo(10.8, 1);
  await expect.poll(async () => (await itemOf(page, project)).clips?.[0]?.start).toBeGreaterThan(3 * 44_100);
  for (let i = 0; i < 3; i++) await page.keyboard.press("Control+z");
  await expect(cuts).toHaveCount(0);

  // Room tone in the place of what is cut out: nothing moves.
  await page.getByLabel("What is left where something is cut out").selectOption("room tone");
  await page.getByRole("button", { name: "learn it first" }).click();
  await expect(page.getByRole("button", { name: "learn it first" })).toHaveCount(0, { timeout: 20_000 });
  await select(page, 0.5, 0.6);
  await page.getByRole("button", { name: "Cut out" }).click();
  await expect(cuts).toHaveCount(2);
  await expect.poll(() => length(page)).toBeCloseTo(12, 2);
  await expect.poll(async () => (await itemOf(page, project)).clips?.[1]?.kind).toBe("room-tone");

  // A crossfade of another shape, an edge moved; then all is open again.
  await cuts.first().getByRole("button", { expanded: false }).click();
  await cuts.first().getByLabel("Shape of this crossfade").selectOption("smooth");
  await expect.poll(async () => (await itemOf(page, project)).clips?.[1]?.crossfade?.shape).toBe("smooth");
  await cuts.first().getByRole("button", { name: "−20 ms" }).first().click();
  await expect.poll(() => length(page)).toBeCloseTo(11.98, 2);
  await page.getByRole("button", { name: "open all 2" }).click();
  await expect(cuts).toHaveCount(0);

  // Another recording of it: half as fast again, in mono as it is.
  await page.getByRole("tab", { name: "Channels, rate, tempo" }).click();
  const tempo = page.getByRole("textbox", { name: "Tempo" });
  await tempo.fill("150");
  await tempo.press("Enter");
  await page.getByRole("button", { name: "Make a new recording" }).click();
  await expect
    .poll(
      async () =>
        (await projectOf(page, project)).sources
          .map(({ figures }) => (figures?.durationSeconds ?? 0).toFixed(2))
          .sort(),
      { timeout: 60_000 },
    )
    .toEqual(["12.00", "8.00"]);
});

test("a spot on the spectrogram is replaced from around, and what is alike with it; a gain line and the spikes' line are drawn", async ({
  page,
}) => {
  const rate = 44_100;
  const x = speechLike(12, rate, 4).map((v) => v * 0.3);
  for (const at of [3, 6.2, 9.1])
    for (let i = 0; i < 0.15 * rate; i++)
      x[Math.round(at * rate) + i]! +=
        0.1 * Math.sin((2 * Math.PI * 3000 * i) / rate) * Math.sin((Math.PI * i) / (0.15 * rate)) ** 0.3;
  const project = await newProject(page, "Spots", "Podcast");
  await takeIn(page, [await recording("Beeps.wav", [x], rate)]);
  await page.keyboard.press("3");
  await page.keyboard.press("s");
  await page.getByText("box", { exact: true }).click();
  const tall = (await page.locator('[data-lane="spectrogram"]').boundingBox())!.height;
  await select(page, 2.96 / 12, 3.19 / 12, "spectrogram", 0.1 * tall, 0.35 * tall);
  await page.keyboard.press("Shift+F");
  const steps = page.getByTestId("repairs");
  await steps.getByRole("button", { name: /Spectral inpainting/ }).click();
  await expect.poll(async () => (await itemOf(page, project)).repairs[0]?.regions[0]?.lowHz).toBeGreaterThan(500);
  await page.getByRole("button", { name: "Find what is alike" }).click();
  await expect(page.getByTestId("places")).toContainText("2 places are alike", { timeout: 60_000 });
  await page.getByRole("button", { name: "Treat all 2 alike" }).click();
  await expect.poll(async () => (await itemOf(page, project)).repairs[0]?.regions.length).toBe(3);

  // Quick steps by key make one step, re-tuned.
  await page.getByText("time", { exact: true }).click();
  await select(page, 0.6, 0.7);
  await page.keyboard.press("Shift+ArrowDown");
  await page.keyboard.press("Shift+ArrowDown");
  await expect
    .poll(async () => (await itemOf(page, project)).repairs.map(({ gainDb }) => gainDb))
    .toEqual([undefined, -3]);
  await page.keyboard.press("Escape");

  await page.getByRole("button", { name: "Add a repair" }).click();
  await page.getByRole("menuitem", { name: /^Gain envelope/ }).click();
  const line = (await page.getByTestId("gain-line").boundingBox())!;
  await page.mouse.dblclick(line.x + line.width * 0.3, line.y + line.height * 0.3);
  await page.mouse.dblclick(line.x + line.width * 0.6, line.y + line.height * 0.6);
  const points = page.getByRole("button", { name: /^Point at/ });
  await expect(points).toHaveCount(2);
  const learned = async () => (await itemOf(page, project)).repairs[2]?.learned as { gainDb: number }[] | undefined;
  await expect.poll(async () => (await learned())?.length).toBe(2);
  const { gainDb } = (await learned())![1]!;
  await points.last().focus();
  await page.keyboard.press("ArrowDown");
  await expect.poll(async () => (await learned())?.[1]?.gainDb).toBe(gainDb - 0.5);
  await page.keyboard.press("Delete");
  await expect(points).toHaveCount(1);

  await page.getByRole("button", { name: "Add a repair" }).click();
  await page.getByRole("menuitem", { name: /^Spikes/ }).click();
  const slider = page.getByRole("slider", { name: /Line above which/ }).first();
  await slider.focus();
  for (let i = 0; i < 3; i++) await page.keyboard.press("ArrowDown");
  await expect.poll(async () => (await itemOf(page, project)).repairs[3]?.thresholdDbfs).toBe(-1.5);
  await expect(page.getByTestId("spike-line")).toContainText("then the rest may rise by");
});
