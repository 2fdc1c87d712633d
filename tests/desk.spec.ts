/** The desk by keyboard and mouse: library, palette, running order, fields. */
import { expect, test } from "@playwright/test";
import { addProcessor, newProject, programme, projectOf, recording, takeIn } from "./studio";

test("the library finds, orders and opens projects", async ({ page }) => {
  await newProject(page, "Zinc Harbour", "Audiobook");
  await newProject(page, "Amber Quay", "Podcast");
  await page.goto("/");
  const names = () => page.getByRole("row").getByRole("link").allInnerTexts();
  await page.getByLabel("Find a project").fill("zinc");
  await expect.poll(names).toEqual(["Zinc Harbour"]);
  await page.getByLabel("Find a project").fill("audiobook");
  await expect.poll(async () => (await names()).includes("Zinc Harbour")).toBe(true);
  await page.getByLabel("Find a project").fill("no such thing");
  await expect(page.getByText("No project is called “no such thing”.")).toBeVisible();
  await page.getByLabel("Find a project").fill("");
  await page.getByLabel("ordered by").selectOption("name");
  const ordered = await names();
  expect(ordered).toEqual([...ordered].sort((a, b) => a.localeCompare(b)));
  await page.getByRole("link", { name: "Amber Quay" }).click();
  await expect(page.getByRole("heading", { name: "Amber Quay" })).toBeVisible();
});

test("a project is renamed, duplicated, put away and taken back; what is deleted lies in the bin", async ({ page }) => {
  const project = await newProject(page, "Copper Quay", "Music release");
  await takeIn(page, [await recording("Quay.wav", programme(3, 0.3))]);
  await page.goto("/");
  await page.getByLabel("Find a project").fill("quay");
  const row = (name: string) => page.getByRole("row").filter({ has: page.getByRole("link", { name, exact: true }) });
  const menu = async (name: string, entry: string) => {
    await page.getByRole("button", { name: `More for ${name}`, exact: true }).click();
    await page.getByRole("menuitem", { name: entry }).click();
  };
  await menu("Copper Quay", "Rename");
  await page.getByLabel("Name of Copper Quay").fill("Tin Quay");
  await page.keyboard.press("Enter");
  await expect(row("Tin Quay")).toBeVisible();
  expect((await projectOf(page, project)).document.name).toBe("Tin Quay");
  await menu("Tin Quay", "Duplicate");
  await expect(row("Tin Quay (copy)")).toContainText("0:03");
  await menu("Tin Quay (copy)", "Delete");
  await expect(row("Tin Quay (copy)")).toHaveCount(0);
  await page.getByRole("button", { name: "Undo" }).click();
  await expect(row("Tin Quay (copy)")).toBeVisible();
  await menu("Tin Quay (copy)", "Delete");
  await page.getByRole("button", { name: /^bin/ }).click();
  await menu("Tin Quay (copy)", "Remove for good");
  await page.getByRole("menuitem", { name: /^Yes/ }).click();
  await expect(row("Tin Quay (copy)")).toHaveCount(0);
  // The other has its recording still.
  await page.getByRole("button", { name: /^current/ }).click();
  await row("Tin Quay").getByRole("link").click();
  await expect(page.getByTestId("programme")).toBeVisible();
});

test("commands are found by their words, and keys do the same", async ({ page }) => {
  await newProject(page, "Palette", "Music release");
  await takeIn(page, [await recording("Palette.wav", programme(8, 0.5))]);
  await page.keyboard.press("Control+k");
  await page.getByPlaceholder(/a few letters/).fill("stage 4");
  await page.keyboard.press("Enter");
  await expect(page.getByRole("button", { name: /Shape/ })).toHaveAttribute("aria-current", "page");
  await page.keyboard.press("End");
  await expect(page.getByTestId("clock")).toHaveText("00:00:08.000");
  await page.keyboard.press("ArrowLeft");
  await expect(page.getByTestId("clock")).toHaveText("00:00:07.840");
  await page.keyboard.press("Home");
  await page.keyboard.press("o");
  await expect(page.getByRole("radio", { name: "Original" })).toHaveAttribute("aria-checked", "true");
  await page.keyboard.press("m");
  await expect(page.getByRole("button", { name: /matched/ })).toHaveAttribute("aria-pressed", "false");
  await page.keyboard.press("p");
  await expect(page.getByTestId("programme")).toContainText(/dB taller/);
  await page.keyboard.press("Shift+D");
  await expect(page.locator("html")).toHaveAttribute("data-sheet", "dark");
  await page.keyboard.press("Shift+D");
});

test("the running order is put in order, renamed and thinned out", async ({ page }) => {
  const project = await newProject(page, "Order", "Music release");
  await takeIn(page, [
    await recording("One.wav", programme(3, 0.5)),
    await recording("Two.wav", programme(4, 0.2)),
    await recording("Three.wav", programme(5, 0.1)),
  ]);
  await page.keyboard.press("5");
  const order = async () => (await projectOf(page, project)).document.items.map(({ name }) => name);
  expect(await order()).toEqual(["One", "Two", "Three"]);
  await page.getByRole("button", { name: "Three", exact: true }).press("Alt+ArrowUp");
  await expect.poll(order).toEqual(["One", "Three", "Two"]);
  await page.getByRole("button", { name: "Three", exact: true }).dblclick();
  await page.getByLabel("Name of the item").fill("The third");
  await page.keyboard.press("Enter");
  await expect.poll(order).toEqual(["One", "The third", "Two"]);
  await page.getByRole("button", { name: "More for One" }).click();
  await page.getByRole("menuitem", { name: "Take it out of the project" }).click();
  await expect.poll(order).toEqual(["The third", "Two"]);
  await page.keyboard.press("Control+z");
  await expect.poll(order).toEqual(["One", "The third", "Two"]);
});

test("a setting is typed with its unit, nudged, dragged and reset; bypass and order of the chain", async ({ page }) => {
  const project = await newProject(page, "Fields", "Music release");
  await takeIn(page, [await recording("Fields.wav", programme(4, 0.5))]);
  await page.keyboard.press("4");
  for (const name of ["Gain", "Limiter"]) {
    await addProcessor(page, name);
  }
  const chain = async () => (await projectOf(page, project)).document.items[0]!.chain;
  const release = page.getByRole("textbox", { name: "Release" });
  await release.fill("0.25 s");
  await release.press("Enter");
  await expect.poll(async () => (await chain())[1]?.releaseMs).toBe(250);
  await release.focus();
  await release.press("ArrowUp");
  await expect.poll(async () => (await chain())[1]?.releaseMs).toBe(260);
  await release.press("Shift+ArrowDown");
  await expect.poll(async () => (await chain())[1]?.releaseMs).toBe(160);
  await release.press("Escape");
  await release.dblclick();
  await expect.poll(async () => (await chain())[1]?.releaseMs).toBe(600);

  const track = page.getByRole("slider", { name: "Ceiling, slider" });
  const box = (await track.boundingBox())!;
  await page.mouse.move(box.x + box.width * 0.9, box.y + box.height / 2);
  await page.mouse.down();
  await page.mouse.move(box.x + box.width * 0.5, box.y + box.height / 2, { steps: 8 });
  const before = (await chain())[1]!.ceilingDbtp;
  expect(before).toBe(-1); // heard while it moves, kept when it is let go
  await page.mouse.up();
  await expect.poll(async () => Math.round(Number((await chain())[1]?.ceilingDbtp))).toBe(-15);

  await page.getByRole("button", { name: "Bypass", exact: true }).click();
  await expect.poll(async () => (await chain())[1]?.bypass).toBe(true);
  await page.getByRole("button", { name: "Earlier in the chain" }).click();
  await expect.poll(async () => (await chain()).map(({ type }) => type)).toEqual(["limiter", "gain"]);
  await page.getByRole("button", { name: "Remove", exact: true }).click();
  await expect.poll(async () => (await chain()).map(({ type }) => type)).toEqual(["gain"]);
});

test("the deliverable in force is changed from the strip, and all margins follow", async ({ page }) => {
  const project = await newProject(page, "In force", "Music release");
  await takeIn(page, [await recording("Force.wav", programme(4, 0.4))]);
  const strip = page.getByTestId("standing-integratedLufs");
  const before = await strip.innerText();
  await page.getByRole("button", { name: "Deliverable in force" }).click();
  await page.getByRole("menuitem", { name: /AES77/ }).click();
  await expect(strip).not.toHaveText(before);
  await expect.poll(async () => (await projectOf(page, project)).document.activeDeliverable).toBe("d2");
  await expect(strip.getByRole("meter")).toHaveAttribute(
    "aria-valuetext",
    /Integrated −\d+\.\d LUFS, .* (over|under|to spare)/,
  );
});

test("an upload can be cancelled, and nothing of it stays", async ({ page, context }) => {
  const project = await newProject(page, "Cancelled", "Podcast");
  const session = await context.newCDPSession(page);
  const slow = { offline: false, latency: 5, downloadThroughput: -1, uploadThroughput: 3_000_000 };
  await session.send("Network.emulateNetworkConditions", slow);
  await page.getByTestId("file-input").setInputFiles(await recording("Never.wav", programme(80, 0.5)));
  await expect(page.getByTestId("sending")).toContainText(/MB of/);
  await page.getByTestId("sending").getByRole("button", { name: "Cancel" }).click();
  await expect(page.getByTestId("sending")).toHaveCount(0);
  await expect(page.getByTestId("interrupted")).toHaveCount(0);
  await expect.poll(async () => (await projectOf(page, project)).uploads.length).toBe(0);
});
