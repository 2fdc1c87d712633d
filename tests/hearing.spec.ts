/** Listening: sources, slots, blind, monitors, meters in arrangements and windows, keys of one's own, recording. */
import { expect, test } from "@playwright/test";
import { addProcessor, newProject, programme, projectOf, recording, takeIn } from "./studio";

const meter = (name: string) => `[data-meter="${name}"]`;

test("original, before, now, what is removed and a reference are heard at one loudness", async ({ page }) => {
  await newProject(page, "Sources", "Music release");
  await takeIn(page, [
    await recording("Sources.wav", programme(20, 0.5)),
    await recording("Reference.wav", programme(20, 0.1, 44_100), 44_100),
  ]);
  await page.keyboard.press("4");
  await addProcessor(page, "Gain");
  await page.getByRole("textbox", { name: "Gain" }).fill("6");
  await page.getByRole("textbox", { name: "Gain" }).press("Enter");
  const matched = page.getByRole("button", { name: /matched/ });
  await expect(matched).toContainText("−6.0 dB");
  await page.keyboard.press("o");
  await expect(matched).toContainText("0.0 dB");
  await page.keyboard.press("d");
  await page.keyboard.press("Space");
  await expect(page.getByRole("button", { name: /^Pause/ })).toBeVisible();
  // A gain removes nothing but level: matched, there is silence, to rounding.
  await page.waitForTimeout(1500);
  const peak = Number(
    (await page.locator(meter("peak-0-text")).innerText()).replace("−", "-").replace("∞", "Infinity"),
  );
  expect(peak).toBeLessThan(-100);

  await page.getByRole("button", { name: /^Listen/ }).click();
  await page.getByLabel("Reference", { exact: true }).selectOption({ label: "Reference.wav" });
  await page.keyboard.press("Escape");
  await page.getByRole("radio", { name: "Reference" }).click();
  await expect(matched).toContainText(/\+1[34]\.\d dB/);
  await page.getByRole("button", { name: "Reset meters" }).click();
  await expect(page.locator(meter("S-text"))).toHaveText(/−\d/, { timeout: 8000 });
  await page.keyboard.press("Space");
});

test("two states are compared in turn, as a difference, and blind", async ({ page }) => {
  await newProject(page, "Slots", "Music release");
  await takeIn(page, [await recording("Slots.wav", programme(10, 0.5))]);
  await page.keyboard.press("o");
  await page.keyboard.press("Shift+1");
  await page.keyboard.press("o");
  await page.keyboard.press("4");
  await addProcessor(page, "Limiter");
  await page.getByRole("textbox", { name: "Ceiling" }).fill("-12");
  await page.getByRole("textbox", { name: "Ceiling" }).press("Enter");
  await page.keyboard.press("Escape");
  await page.locator("body").click({ position: { x: 20, y: 400 } });
  await page.keyboard.press("Shift+2");
  await page.keyboard.press("a");
  await expect(page.getByRole("region", { name: "Slot 1" })).toContainText("Slots · original");
  await expect(page.getByRole("region", { name: "Slot 2" })).toContainText(/1 in the chain/);
  await page.keyboard.press("x");
  await expect(page.getByRole("button", { name: "First of two" })).toBeVisible();
  await page.keyboard.press("x");
  await expect(page.getByRole("button", { name: "Second of two" })).toBeVisible();
  await page.getByRole("button", { name: "Difference", exact: true }).click();
  await expect(page.getByTestId("slot-offset")).toContainText("less 2 at");
  await page.getByRole("button", { name: "Listen blind" }).click();
  await expect(page.getByRole("region", { name: "Slot 1" })).not.toContainText("original");
  for (let i = 0; i < 3; i++) await page.getByRole("button", { name: "slot 1", exact: true }).click();
  await expect(page.getByTestId("blind-score")).toContainText(/[0-3] of 3/);
  await page.getByRole("button", { name: "Show, and end" }).click();
  await expect(page.getByRole("region", { name: "Slot 1" })).toContainText("original");
});

test("channels alone, mid and side, speeds, scrubbing", async ({ page }) => {
  await newProject(page, "Monitor", "Music release");
  const [x] = programme(60, 0.5);
  await takeIn(page, [await recording("Monitor.wav", [x!, x!.map((v) => -v)])]);
  await page.keyboard.press("Space");
  // Opposed sides: nothing is in the middle.
  await page.keyboard.press("Shift+M");
  await expect(page.getByRole("button", { name: /^Listen/ })).toContainText("mid");
  await expect(page.locator(meter("correlation-text"))).toHaveText("—", { timeout: 10_000 });
  await page.keyboard.press("Shift+M");
  await expect(page.getByRole("button", { name: /^Listen/ })).toContainText("side");
  for (let i = 0; i < 4; i++) await page.keyboard.press("Shift+M");
  await expect(page.locator(meter("correlation-text"))).toHaveText("−1.00", { timeout: 10_000 });
  await page.getByRole("button", { name: /^Listen/ }).click();
  await page.getByRole("button", { name: "solo L" }).click();
  await page.keyboard.press("Escape");
  await expect(page.locator(meter("correlation-text"))).toHaveText("—", { timeout: 10_000 });
  await page.keyboard.press("Home");
  await page.getByLabel("Speed of listening").selectOption("2");
  await page.waitForTimeout(1500);
  expect(Number((await page.getByTestId("clock").innerText()).split(":").pop())).toBeGreaterThan(2);
  await page.keyboard.press("Space");

  const ruler = (await page.getByLabel("Time ruler; drag to scrub").boundingBox())!;
  await page.mouse.move(ruler.x + 200, ruler.y + 10);
  await page.mouse.down();
  await page.mouse.move(ruler.x + 400, ruler.y + 10, { steps: 10 });
  await page.mouse.up();
  await expect
    .poll(async () => Number((await page.getByTestId("clock").innerText()).split(":").pop()))
    .toBeGreaterThan(4);
});

test("meters are added, ordered, kept by name, exported, imported, and shown in a window of their own", async ({
  page,
  context,
}) => {
  await newProject(page, "Columns", "Music release");
  await takeIn(page, [await recording("Columns.wav", programme(20, 0.5))]);
  const column = page.getByRole("complementary", { name: "Meters" });
  await page.getByRole("button", { name: /^Meters:/ }).click();
  await page.getByRole("button", { name: "+ Time" }).click();
  await page.getByLabel("Scale of loudness").selectOption("LU");
  await page.getByLabel("Name of the arrangement").fill("Mine");
  await page.getByRole("button", { name: "Keep", exact: true }).click();
  await expect(page.getByRole("button", { name: "Meters: Mine" })).toBeVisible();
  const [saved] = await Promise.all([
    page.waitForEvent("download"),
    page.getByRole("button", { name: "Export" }).click(),
  ]);
  expect(saved.suggestedFilename()).toBe("Mine.json");
  await page.getByLabel("Arrangement to import").setInputFiles({
    name: "clouds.json",
    mimeType: "application/json",
    buffer: Buffer.from('{"name":"Clouds"}'),
  });
  await expect(page.getByText("clouds.json was not taken")).toBeVisible();
  await page.keyboard.press("Escape");
  const time = column.getByRole("region", { name: "Time", exact: true });
  await time.hover();
  await time.getByRole("button", { name: "Time: further up" }).click();

  await page.keyboard.press("Space");
  await expect(page.locator(meter("I-text"))).toHaveText(/[+−]\d/, { timeout: 8000 });
  await expect(column.getByRole("meter", { name: "Momentary, 400 ms" })).toHaveAttribute("aria-valuetext", /[+−]\d/);
  await page.getByRole("button", { name: /^Meters:/ }).click();
  const [own] = await Promise.all([
    context.waitForEvent("page"),
    page.getByRole("button", { name: "Meters in a window of their own" }).click(),
  ]);
  await expect(own.locator(meter("I-text"))).toHaveText(/[+−]\d/, { timeout: 8000 });
  await own.close();
  await page.keyboard.press("Escape");
  // The highest momentary loudness leads to its place.
  await page.keyboard.press("Space");
  await page.getByRole("button", { name: "Go to where max M was" }).click();
  await expect(page.getByTestId("clock")).not.toHaveText("00:00:00.000");
});

test("keys are changed, told apart, and printed", async ({ page }) => {
  await newProject(page, "Keys", "Music release");
  await takeIn(page, [await recording("Keys.wav", programme(5, 0.5))]);
  await page.keyboard.press("Shift+Slash");
  await page.getByTestId("key-lane-spectrogram").click();
  await page.keyboard.press("Shift+P");
  await expect(page.getByTestId("key-lane-spectrogram")).toHaveText("Shift P");
  await page.getByTestId("key-loop").click();
  await page.keyboard.press("g");
  await expect(page.getByText("G was taken from “Lines of the ruler through all lanes”")).toBeVisible();
  await expect(page.getByTestId("key-grid")).toHaveText("none");
  await page.getByRole("button", { name: "Close", exact: true }).click();
  await page.keyboard.press("Shift+P");
  await expect(page.locator('[data-lane="spectrogram"]')).toBeVisible();
  await page.goto("/keys");
  await expect(page.getByRole("listitem").filter({ hasText: "Lane on or off: Spectrogram" })).toContainText("Shift P");
  await expect(page.getByRole("listitem").filter({ hasText: "Play or pause" })).toContainText("Space");
});

test("a recording from an input is on the server as it is made, also when the page goes", async ({ page }) => {
  const id = await newProject(page, "Takes", "Audiobook");
  await page.keyboard.press("Shift+R");
  await page.getByLabel("Input", { exact: true }).selectOption("simulated");
  await page.getByRole("button", { name: "Arm", exact: true }).click();
  await expect(page.getByTestId("input-level")).toHaveText(/−\d+\.\d dBFS/);
  await page.getByLabel("Name of the new item").fill("Chapter nine");
  await page.getByRole("dialog").getByRole("button", { name: "Record", exact: true }).click();
  await expect(page.getByTestId("recording")).toHaveAttribute("data-status", "recording");
  // Not by the clock: a machine that is busy records less in a time.
  await expect
    .poll(async () => page.getByTestId("recording").innerText(), { timeout: 20_000 })
    .toMatch(/^00:00:0[3-9]/);
  await page.getByRole("button", { name: "Stop" }).click();
  const items = async () => (await projectOf(page, id)).document.items;
  await expect.poll(async () => (await items()).map(({ name }) => name), { timeout: 20_000 }).toEqual(["Chapter nine"]);
  const sources = async () => (await projectOf(page, id)).sources;
  await expect.poll(async () => (await sources())[0]?.state, { timeout: 20_000 }).toBe("ready");
  const [source] = await sources();
  expect(source!.warnings).toEqual([]);
  expect(source!.figures!.durationSeconds).toBeGreaterThan(2);
  expect(source!.figures!.truePeakDbtp!).toBeGreaterThan(-30);

  // The page goes in the middle of another: what arrived can be taken in.
  await page.getByLabel("Name of the new item").fill("Broken off");
  await page.getByRole("dialog").getByRole("button", { name: "Record", exact: true }).click();
  await expect.poll(async () => page.getByTestId("recording").innerText(), { timeout: 15_000 }).toMatch(/[1-9]\d\d kB/);
  await page.reload();
  await page.getByRole("button", { name: "Import what arrived" }).click();
  await expect
    .poll(async () => (await items()).map(({ name }) => name), { timeout: 20_000 })
    .toEqual(["Chapter nine", "Broken off"]);
});

test("by keyboard alone, from opening to a rendered master", async ({ page }) => {
  await newProject(page, "Keyboard", "Broadcast");
  await takeIn(page, [await recording("Keyboard.wav", programme(8, 0.2))]);
  await page.goto("/");
  const link = page.getByRole("link", { name: "Keyboard" });
  await expect(link).toBeVisible();
  for (let i = 0; i < 60 && !(await link.evaluate((element) => element === document.activeElement)); i++)
    await page.keyboard.press("Tab");
  await page.keyboard.press("Enter");
  await expect(page.getByTestId("programme")).toBeVisible();
  await page.keyboard.press("Space");
  await page.waitForTimeout(600);
  await page.keyboard.press("Space");
  await page.keyboard.press("Comma");
  await expect(page.getByTestId("selection")).toBeVisible();
  await page.keyboard.press("Escape");
  await page.keyboard.press("Control+k");
  await page.keyboard.type("stage 6");
  await page.keyboard.press("Enter");
  const render = page.getByRole("button", { name: /Render what changed/ });
  await expect(render).toBeVisible();
  for (let i = 0; i < 60 && !(await render.evaluate((element) => element === document.activeElement)); i++)
    await page.keyboard.press("Tab");
  // Where the focus is can be seen.
  expect(await render.evaluate((element) => getComputedStyle(element).outlineStyle)).not.toBe("none");
  await page.keyboard.press("Enter");
  await expect(page.locator('[data-testid^="cell-"][data-state="verified"]')).toBeVisible({ timeout: 60_000 });
});
