/** Shape: a chain built by keyboard and by mouse, flipped, undone, matched, kept, and rendered to the same bytes. */
import { expect, test, type Page } from "@playwright/test";
import pg from "pg";
import type { ProjectDocument } from "@core/project/document";
import { newChainEntry } from "@core/processors";
import {
  addProcessor,
  command,
  newProject,
  onlyDeliver,
  programme,
  projectOf,
  recording,
  saved,
  takeIn,
} from "./studio";

test("an equaliser is shaped by mouse and by keys, its settings flipped and gone back to, and all is there after a reload", async ({
  page,
}) => {
  const project = await newProject(page, "Curve", "Music release");
  await takeIn(page, [await recording("Curve.wav", programme(8, 0.5))]);
  await page.keyboard.press("4");
  for (const [typed, type] of [
    ["boomy", "Multiband"],
    ["s sounds", "De-esser"],
    ["louder", "Clipper"],
  ] as const) {
    await page.getByRole("button", { name: "Add processor" }).click();
    await page.getByPlaceholder(/what should it do/).fill(typed);
    await expect(page.getByRole("dialog").getByRole("option", { name: new RegExp(`^${type}`) })).toBeVisible();
    await page.keyboard.press("Escape");
  }
  await addProcessor(page, "parametric");
  const chain = async () => (await projectOf(page, project)).document.items[0]!.chain;
  const bands = async () => ((await chain())[0]!["bands"] ?? []) as { hertz: number; gainDb: number; q: number }[];
  const plot = page.getByRole("group", { name: "Curve of the equaliser" });
  const box = (await plot.boundingBox())!;
  const at = (x: number, y: number) => [box.x + box.width * x, box.y + box.height * y] as const;

  await page.mouse.dblclick(...at(0.4, 0.3));
  await expect.poll(async () => (await bands()).length).toBe(1);
  const added = (await bands())[0]!;
  expect(added.gainDb).toBeGreaterThan(2);
  const handle = page.getByRole("button", { name: /^Band a: bell/ });
  const grip = (await handle.boundingBox())!;
  await page.mouse.move(grip.x + 8, grip.y + 8);
  await page.mouse.down();
  await page.mouse.move(...at(0.7, 0.7), { steps: 6 });
  expect((await bands())[0]).toEqual(added); // heard while it moves, kept when it is let go
  await page.mouse.up();
  await expect.poll(async () => (await bands())[0]?.gainDb).toBeLessThan(-2);
  expect((await bands())[0]!.hertz).toBeGreaterThan(added.hertz * 3);
  const dragged = (await bands())[0]!;
  await handle.focus();
  await page.keyboard.press("ArrowUp");
  await expect.poll(async () => (await bands())[0]?.gainDb).toBeCloseTo(dragged.gainDb + 0.5, 5);
  await page.mouse.move(...at(0.5, 0.5));
  await page.mouse.wheel(0, -100);
  await expect.poll(async () => (await bands())[0]?.q).toBeGreaterThan(1);

  // Two settings: the second begins as the first, and the two are flipped between.
  const first = (await bands())[0]!;
  await page.getByRole("button", { name: "1 → 2" }).click();
  await page.getByRole("button", { name: "setting 2" }).click();
  await page.getByRole("textbox", { name: /Gain/ }).first().fill("-12");
  await page.getByRole("textbox", { name: /Gain/ }).first().press("Enter");
  await expect.poll(async () => (await bands())[0]?.gainDb).toBe(-12);
  await page.getByRole("button", { name: "setting 1" }).click();
  await expect.poll(async () => (await bands())[0]).toEqual(first);

  // Its own way back, apart from the project's.
  await page.getByRole("button", { name: /^Presets/ }).click();
  await page.getByRole("button", { name: /^Voice, clearer/ }).click();
  await expect.poll(async () => (await bands()).length).toBe(3);
  await page.getByRole("button", { name: "Undo this processor’s last change" }).click();
  await expect.poll(async () => (await bands()).length).toBe(1);
  await page.getByRole("button", { name: "Redo this processor’s change" }).click();
  await expect.poll(async () => (await bands()).length).toBe(3);

  // Kept by name, and found again where processors are added.
  await page.getByRole("button", { name: /^Presets/ }).click();
  await page.getByRole("textbox", { name: "Name of the preset" }).fill("Harbour voice");
  await page.getByRole("textbox", { name: "When to use it" }).fill("for the reader of the evening programme");
  await page.getByRole("button", { name: "Keep", exact: true }).click();
  await expect.poll(async () => (await projectOf(page, project)).document.presets.length).toBe(1);
  await page.keyboard.press("Escape");
  await addProcessor(page, "Harbour");
  await expect.poll(async () => (await chain()).map(({ type }) => type)).toEqual(["equaliser", "equaliser"]);
  expect((await chain())[1]!["bands"]).toEqual((await chain())[0]!["bands"]);

  // For everything in the running order.
  await page.getByRole("button", { name: "Add for all" }).click();
  await page.getByPlaceholder(/what should it do/).fill("limiter");
  await page.getByRole("dialog").getByRole("option").first().click();
  await expect
    .poll(async () => (await projectOf(page, project)).document.chain.map(({ type }) => type))
    .toEqual(["limiter"]);
  const kept = (await projectOf(page, project)).document;
  await page.reload();
  await expect(page.getByTestId("programme")).toBeVisible();
  await page.keyboard.press("4");
  await expect(page.getByTestId("chain").getByRole("button", { name: /Limiter/ })).toBeVisible();
  expect((await projectOf(page, project)).document).toEqual(kept);
  // Order by keys.
  await page
    .getByTestId("chain")
    .getByRole("button", { name: /Equaliser/ })
    .first()
    .focus();
  await page.keyboard.press("Alt+ArrowRight");
  await expect
    .poll(async () => (await chain()).map(({ id }) => id))
    .toEqual([kept.items[0]!.chain[1]!.id, kept.items[0]!.chain[0]!.id]);
});

test("a curve drawn by hand becomes bands; versions of a chain are kept, compared and use this one again", async ({
  page,
}) => {
  const project = await newProject(page, "Versions", "Music release");
  await takeIn(page, [await recording("Versions.wav", programme(8, 0.5))]);
  await page.keyboard.press("4");
  await addProcessor(page, "parametric");
  const item = async () => (await projectOf(page, project)).document.items[0]!;
  const bands = async () => ((await item()).chain[0]!["bands"] ?? []) as { hertz: number; gainDb: number }[];
  await page.getByRole("button", { name: "draw", exact: true }).click();
  const box = (await page.getByRole("group", { name: "Curve of the equaliser" }).boundingBox())!;
  const along = (share: number) =>
    [box.x + box.width * share, box.y + box.height * (0.47 - 0.2 * Math.sin(share * 9))] as const;
  await page.mouse.move(...along(0.1));
  await page.mouse.down();
  for (let share = 0.1; share < 0.85; share += 0.025) await page.mouse.move(...along(share));
  await page.mouse.up();
  await expect.poll(async () => (await bands()).length).toBeGreaterThan(1);
  expect(Math.max(...(await bands()).map(({ gainDb }) => gainDb))).toBeGreaterThan(2);
  expect(Math.min(...(await bands()).map(({ gainDb }) => gainDb))).toBeLessThan(-1);
  const drawn = await bands();

  // The first version, then another one, side by side with measured figures.
  await page.keyboard.press("a");
  await page.getByRole("textbox", { name: "Name of the version" }).fill("By hand");
  await page.getByRole("button", { name: "Keep the chain as it is" }).click();
  await expect.poll(async () => (await item()).versions?.map(({ name }) => name)).toEqual(["By hand"]);
  await page.getByRole("button", { name: "Close", exact: true }).click();
  await page.getByRole("button", { name: "Remove", exact: true }).click();
  await addProcessor(page, "limiter");
  await expect.poll(async () => (await item()).chain.map(({ type }) => type)).toEqual(["limiter"]);
  await expect(page.getByRole("img", { name: /^What would be cut/ })).toBeVisible();
  await page.keyboard.press("a");
  const versions = page.getByRole("region", { name: "Versions of the chain" });
  await expect(versions.getByTitle("measured")).toHaveCount(12, { timeout: 30_000 });
  await versions.getByRole("button", { name: "to slot 1" }).last().click();
  await versions.getByRole("button", { name: "to slot 2" }).nth(1).click();
  await expect(page.getByRole("region", { name: "Slot 1" })).toContainText("By hand");
  await expect(page.getByRole("button", { name: "Listen blind" })).toBeEnabled();
  await versions.getByRole("button", { name: "use this one" }).click();
  await expect.poll(async () => (await item()).chain.map(({ type }) => type)).toEqual(["equaliser"]);
  expect(await bands()).toEqual(drawn);
});

test("beside an outside device its notes, knobs and picture are kept, and what is no picture is refused", async ({
  page,
}) => {
  const project = await newProject(page, "Loop", "Music release");
  await takeIn(page, [await recording("Loop.wav", programme(4, 0.5))]);
  await page.keyboard.press("4");
  await addProcessor(page, "hardware");
  const entry = async () => (await projectOf(page, project)).document.items[0]!.chain[0]!;
  await page.getByRole("button", { name: "Measure the round trip" }).click();
  await expect.poll(async () => (await entry())["tripSamples"]).toBe(101);
  await page.getByLabel("Note", { exact: true }).fill("Second unit, the one with the dent");
  await page.getByRole("button", { name: "knob", exact: true }).click();
  await expect.poll(async () => (await entry()).about?.note).toBe("Second unit, the one with the dent");
  await page.getByLabel("Name of knob 1").fill("Drive");
  await page.getByLabel("Name of knob 1").press("Tab");
  await expect.poll(async () => (await entry()).about?.dials[0]?.name).toBe("Drive");
  await page.getByLabel("Place of knob 1").fill("3 o’clock");
  await page.getByLabel("Place of knob 1").press("Tab");
  await expect.poll(async () => (await entry()).about?.dials).toEqual([{ name: "Drive", stands: "3 o’clock" }]);
  const picture = page.getByLabel("Picture of the device");
  await picture.setInputFiles({ name: "unit.txt", mimeType: "text/plain", buffer: Buffer.from("no picture") });
  await expect(page.getByText(/neither a JPEG, nor a PNG/)).toBeVisible();
  await picture.setInputFiles({ name: "unit.png", mimeType: "image/png", buffer: await page.screenshot() });
  await expect(page.getByRole("img", { name: "The device" })).toBeVisible();
  await expect.poll(async () => (await entry()).about?.photo).toMatch(/^[0-9a-f]{64}$/);
  const { photo } = (await entry()).about!;
  expect((await page.request.get(`/api/photos/${photo}`)).headers()["content-type"]).toBe("image/png");
  await page.reload();
  await expect(page.getByTestId("programme")).toBeVisible();
  await page.keyboard.press("4");
  await expect(page.getByRole("img", { name: "The device" })).toBeVisible();
});

test("what is frozen is made ahead and heard, and is worked out live again", async ({ page }) => {
  await newProject(page, "Frozen", "Music release");
  await takeIn(page, [await recording("Frozen.wav", programme(9, 0.5))]);
  await page.keyboard.press("4");
  await addProcessor(page, "multiband");
  await addProcessor(page, "limiter");
  await expect(page.getByTestId("cost")).toContainText("compensated", { timeout: 20_000 });
  await page.getByRole("button", { name: "up to here" }).click();
  await expect(page.getByTestId("frozen")).toHaveText("2 frozen, 100 % made", { timeout: 30_000 });
  await expect(page.getByTestId("chain").getByLabel("frozen")).toHaveCount(2);
  await page.keyboard.press("Space");
  await expect(page.locator('[data-meter="S-text"]')).toHaveText(/−\d/, { timeout: 20_000 });
  await page.keyboard.press("Space");
  await page.getByRole("button", { name: "none", exact: true }).click();
  await expect(page.getByTestId("frozen")).toHaveCount(0);
});

test("a tone is matched to a reference, a leveller works out its line, and a chain of many gives the same bytes on server and browser", async ({
  page,
}) => {
  test.setTimeout(180_000);
  const project = await newProject(page, "Match", "Music release");
  const dull = programme(24, 0.4).map((x) => {
    let last = 0;
    return x.map((v) => (last += (v - last) * 0.2));
  });
  await takeIn(page, [await recording("Dull.wav", dull), await recording("Bright.wav", programme(24, 0.4))]);
  await onlyDeliver(page, project, "streaming-14");
  await expect(page.getByTestId("programme")).toBeVisible();
  await page.keyboard.press("4");
  await addProcessor(page, "reference");
  await page.getByRole("checkbox", { name: "Bright.wav" }).check();
  await page.getByRole("button", { name: "Learn", exact: true }).click();
  const chain = async () => (await projectOf(page, project)).document.items[0]!.chain;
  await expect.poll(async () => ((await chain())[0]?.["wanted"] as unknown[] | undefined)?.length).toBeGreaterThan(100);
  await expect(page.getByTestId("chain")).toContainText(/70 %, up to ±/);
  // What stands before it is heard by it: learned again behind a low-pass, its own spectrum lacks the top.
  const [{ id: dullItem } = { id: "" }] = (await projectOf(page, project)).document.items;
  const top = async () => {
    const own = (await chain()).find(({ type }) => type === "tone-match")!["own"] as [number, number][];
    return own.filter(([hertz]) => hertz > 8000).reduce((most, [, db]) => Math.max(most, db), -Infinity);
  };
  const before = await top();
  await command(page, project, {
    type: "addProcessor",
    item: dullItem,
    entry: { ...newChainEntry("filter", "before"), high: false, low: true, lowHz: 1000 },
    at: 0,
  });
  await expect.poll(async () => (await chain()).length).toBe(2);
  await page.getByRole("button", { name: "Learn again" }).click();
  await expect.poll(top, { timeout: 30_000 }).toBeLessThan(before - 20);
  await command(page, project, { type: "removeProcessor", item: dullItem, entry: "before" });
  await expect.poll(async () => (await chain()).length).toBe(1);
  await addProcessor(page, "leveller");
  await page.getByRole("button", { name: "Work out the line" }).click();
  await expect.poll(async () => ((await chain())[1]?.["line"] as unknown[] | undefined)?.length).toBeGreaterThan(1);
  for (const name of ["filter", "multiband", "saturation", "limiter"]) await addProcessor(page, name);
  await expect.poll(async () => (await chain()).length).toBe(6);
  // The corner of the high-pass moves over time, drawn and typed.
  await page
    .getByTestId("chain")
    .getByRole("button", { name: /Filter/ })
    .click();
  await page.getByLabel("Automated setting").selectOption({ label: "HPF cutoff" });
  const lane = page.getByRole("group", { name: "HPF cutoff over time" });
  await lane.scrollIntoViewIfNeeded();
  const over = (await lane.boundingBox())!;
  await page.mouse.click(over.x + over.width * 0.2, over.y + over.height * 0.8);
  await page.mouse.click(over.x + over.width * 0.8, over.y + over.height * 0.3);
  const line = async () => (await chain()).find(({ type }) => type === "filter")!.automation?.["highHz"] ?? [];
  await expect.poll(async () => (await line()).length).toBe(2);
  await page.getByLabel("Value of point 2").fill("320");
  await page.getByLabel("Value of point 2").press("Enter");
  await expect.poll(async () => (await line())[1]?.[1]).toBe(320);
  await expect(page.getByTestId("cost")).toContainText(/% of a core/);
  await expect(page.getByTestId("after")).toContainText("−14.0");

  await page.keyboard.press("6");
  const cell = page.locator('[data-testid^="cell-"]').first();
  await page.getByRole("button", { name: /Render what changed/ }).click();
  await expect(cell).toHaveAttribute("data-state", "verified", { timeout: 90_000 });
  await page.getByRole("button", { name: "Verify the bytes" }).click();
  await expect(page.getByText("the same bytes in the browser and on the server")).toBeVisible({ timeout: 90_000 });
});

test("a project with a processor that cannot be used opens with it set aside, and says which and why", async ({
  page,
}) => {
  const project = await newProject(page, "Another version", "Music release");
  await takeIn(page, [await recording("Aside.wav", programme(4, 0.4))]);
  await page.keyboard.press("4");
  await addProcessor(page, "compressor");
  await saved(page);
  await addState(page, project, (document) => {
    document.items[0]!.chain.push({ type: "tape-choir", id: "p-9", bypass: false, voices: 3 });
  });
  await page.reload();
  await page.keyboard.press("4");
  await page.getByRole("button", { name: /Unavailable/ }).click();
  await expect(page.getByText("There is no processor “tape-choir” in this version.")).toBeVisible();
  await expect(page.getByText('"voices": 3')).toBeVisible();
  // Opened with all processors passed over.
  await page.goto(`/projects/${project}?without-processors`);
  await expect(page.getByTestId("programme")).toBeVisible();
  await page.keyboard.press("4");
  await expect(page.getByText("All processors are passed over")).toBeVisible();
  await page.getByRole("button", { name: "hear them again" }).click();
  await expect(page.getByText("All processors are passed over")).toBeHidden();
});

/** A state as another version of the application would have left it. */
async function addState(page: Page, project: string, change: (document: ProjectDocument) => void): Promise<void> {
  const database = new pg.Client({ connectionString: process.env.RESONUM_DATABASE_URL });
  await database.connect();
  const { head, document } = await projectOf(page, project);
  change(document);
  await database.query(
    `with added as (
       insert into project_state (project_id, parent, label, author, document)
       values ($1, $2, 'Another version', 'test', $3) returning id)
     update project set head = added.id from added where project.id = $1`,
    [project, head, JSON.stringify(document)],
  );
  await database.end();
}
