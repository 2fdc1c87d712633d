/** The desk under the hands: reductions while they are heard, several things at once, a comparison that is kept. */
import { readFile } from "node:fs/promises";
import { expect, test } from "@playwright/test";
import { memorySource } from "@core/files/bytes";
import { openSoundFile } from "@core/files/open";
import { newChainEntry } from "@core/processors";
import { noise } from "@core/testing/signals";
import { command, newProject, programme, projectOf, recording, takeIn } from "./studio";

test("gain reduction is told while it is heard, a detector is heard and left, and nothing of it is kept", async ({
  page,
}) => {
  const project = await newProject(page, "Reduced", "Music release");
  await takeIn(page, [await recording("Loud.wav", [noise(12, 48_000, -3, 1), noise(12, 48_000, -3, 2)])]);
  const [item] = (await projectOf(page, project)).document.items;
  await command(page, project, {
    type: "addProcessor",
    item: item!.id,
    entry: { ...newChainEntry("compressor", "c"), thresholdDb: -40, ratio: 8, sidechainHighPassHz: 500 },
  });
  await page.keyboard.press("4");
  const card = page.getByTestId("card-reduction");
  const bar = page.getByTestId("live-reduction").getByRole("meter");
  await expect(card).toBeVisible();
  await page.keyboard.press("Space");
  await expect.poll(async () => parseFloat((await card.textContent())!.replace("−", "-"))).toBeLessThan(-6);
  await expect(bar).toContainText("−");
  await page.getByRole("button", { name: "detector" }).click();
  await expect(page.getByRole("button", { name: "Detector", exact: true })).toBeVisible();
  // What the detector listens to is not held back.
  await expect(bar).toContainText("0.0");
  await page.getByRole("button", { name: "Detector", exact: true }).click();
  await expect(bar).toContainText("−");
  await page.keyboard.press("Space");
  expect((await projectOf(page, project)).document.items[0]!.chain[0]).not.toHaveProperty("monitored");
});

test("several items are worked on at once, and one edit takes it back", async ({ page }) => {
  const project = await newProject(page, "Several", "Music release");
  const names = ["Reed", "Weir", "Lantern"];
  await takeIn(page, await Promise.all(names.map((name, i) => recording(`${name}.wav`, programme(3 + i, 0.3)))));
  await page.keyboard.press("5");
  const items = async () => (await projectOf(page, project)).document.items;
  await page.getByRole("button", { name: "Reed", exact: true }).click();
  await page.getByRole("button", { name: "Lantern", exact: true }).click({ modifiers: ["Shift"] });
  const bar = page.getByRole("toolbar", { name: "3 items are selected" });
  await bar.getByRole("button", { name: "Colour: teal" }).click();
  await expect.poll(async () => (await items()).map(({ colour }) => colour)).toEqual(["teal", "teal", "teal"]);
  const fade = page.getByLabel("Fade out, Weir");
  await fade.fill("1.5");
  await fade.press("Enter");
  await expect
    .poll(async () => (await items()).map(({ placement }) => placement?.fadeOut?.seconds))
    .toEqual([1.5, 1.5, 1.5]);
  // By keys: one of them out of the selection, and the map folded away.
  await page.getByRole("button", { name: "Weir", exact: true }).focus();
  await page.keyboard.press("Control+Enter");
  await expect(page.getByRole("toolbar", { name: "2 items are selected" })).toBeVisible();
  await page.keyboard.press("Control+Enter");
  const table = page.getByTestId("order-table");
  const top = async () => (await table.boundingBox())!.y;
  const before = await top();
  await page.keyboard.press("Shift+F6");
  await expect.poll(top).toBeLessThan(before - 100);
  await page.keyboard.press("Shift+F6");
  await expect.poll(top).toBeCloseTo(before, -1);
  await bar.getByRole("button", { name: "Take out" }).click();
  await expect.poll(async () => (await items()).length).toBe(0);
  await page.keyboard.press("ControlOrMeta+z");
  await expect.poll(async () => (await items()).length).toBe(3);
});

test("the difference of two recordings is saved as a file that holds it", async ({ page }) => {
  const x = noise(4, 48_000, -12, 5);
  const added = noise(4, 48_000, -40, 6);
  await newProject(page, "Compared", "Podcast");
  await takeIn(page, [
    await recording("First.wav", [x]),
    await recording("Second.wav", [x.map((v, i) => v + added[i]!)]),
  ]);
  await page.keyboard.press("2");
  await page.getByRole("tab", { name: "Compare" }).click();
  await expect(page.getByTestId("difference")).toBeVisible();
  const [download] = await Promise.all([
    page.waitForEvent("download"),
    page.getByRole("button", { name: "Save the difference" }).click(),
  ]);
  const file = (await openSoundFile(memorySource(new Uint8Array(await readFile((await download.path())!)))))!;
  expect(file).toMatchObject({ frames: x.length, channels: 1, sampleRate: 48_000 });
  const [left] = await file.read(0, file.frames);
  const power = (samples: Float32Array) => samples.reduce((sum, v) => sum + v * v, 0) / samples.length;
  expect(Math.abs(10 * Math.log10(power(left!) / power(added)))).toBeLessThan(0.5);
});
