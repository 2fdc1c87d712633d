import { expect, test } from "@playwright/test";
import { addProcessor, newProject, programme, projectOf, recording, takeIn } from "./studio";

test("every edit can be undone, gone to and named", async ({ page }) => {
  const project = await newProject(page, "Memory", "Music release");
  await takeIn(page, [await recording("Memory.wav", programme(4, 0.5))]);
  await page.keyboard.press("4");
  await addProcessor(page, "Gain");
  const gain = page.getByRole("textbox", { name: "Gain" });
  for (const setting of ["-1", "-2", "-3"]) {
    await gain.fill(setting);
    await gain.press("Enter");
  }
  await expect(page.getByTestId("chain")).toContainText("−3.0 dB");
  // Three settings, three states: none is stored twice.
  await expect.poll(async () => (await projectOf(page, project)).document.items[0]?.chain[0]?.gainDb).toBe(-3);
  expect((await projectOf(page, project)).states).toBe(6);
  await page.keyboard.press("Control+z");
  await expect(page.getByTestId("chain")).toContainText("−2.0 dB");
  await page.keyboard.press("Control+Shift+z");
  await expect(page.getByTestId("chain")).toContainText("−3.0 dB");

  await page.keyboard.press("h");
  const states = page.getByRole("list", { name: "States, newest first" });
  await expect(states).toContainText("Gain −2 dB");
  const first = states.getByRole("listitem").filter({ hasText: "Gain −1 dB" });
  await first.getByRole("button", { name: "name it" }).click();
  await page.getByLabel("Name of this version").fill("a gentle one");
  await page.keyboard.press("Enter");
  await expect(states).toContainText("a gentle one");
  await first.getByRole("button", { name: "go here" }).click();
  await expect.poll(async () => (await projectOf(page, project)).document.items[0]?.chain[0]?.gainDb).toBe(-1);
  await page.keyboard.press("Escape");
  await expect(page.getByTestId("chain")).toContainText("−1.0 dB");
});

test("two windows on one project do not overwrite one another silently", async ({ page, context }) => {
  const project = await newProject(page, "Two windows", "Music release");
  await takeIn(page, [await recording("Two.wav", programme(3, 0.5))]);
  await page.keyboard.press("4");
  await addProcessor(page, "Gain");
  await expect.poll(async () => (await projectOf(page, project)).document.items[0]?.chain.length).toBe(1);

  // The other window sees what happens here …
  const other = await context.newPage();
  await other.goto(`/projects/${project}`);
  await expect(other.getByTestId("programme")).toBeVisible();
  await other.keyboard.press("4");
  const here = page.getByRole("textbox", { name: "Gain" });
  await here.fill("-4");
  await here.press("Enter");
  await expect(other.getByTestId("chain")).toContainText("−4.0 dB");

  // … and an edit made on an older state of the same setting is refused, one of another setting put on top.
  const { head, document } = await projectOf(page, project);
  const { id: item, chain } = document.items[0]!;
  const post = (base: number, command: object) =>
    page.request.post(`/api/projects/${project}/commands`, { data: { base, command } });
  const set = (parameter: string, setting: unknown) => ({
    type: "setParameter",
    item,
    entry: chain[0]!.id,
    parameter,
    setting,
  });
  expect((await post(head, set("gainDb", -5))).ok()).toBe(true);
  const refused = await post(head, set("gainDb", 7));
  expect(refused.status()).toBe(409);
  expect((await refused.json()).detail).toMatch(/changed in another window/);
  const rebased = await post(head, set("invert", true));
  expect(await rebased.json()).toMatchObject({ rebased: true });
  expect((await projectOf(page, project)).document.items[0]!.chain[0]).toMatchObject({ gainDb: -5, invert: true });

  // Both at once: whoever comes second is shown both values and chooses, whoever came first is told.
  let release = () => {};
  const held = new Promise<void>((resolve) => (release = resolve));
  await page.route("**/commands", async (route) => {
    await held;
    await route.continue();
  });
  await expect(page.getByTestId("chain")).toContainText("−5.0 dB");
  await here.fill("-6");
  await here.press("Enter");
  expect((await post((await projectOf(page, project)).head, set("gainDb", -9))).ok()).toBe(true);
  release();
  const dialog = page.getByRole("dialog", { name: "Changed by both" });
  const values = dialog.getByRole("row", { name: /Two · Gain · Gain/ }).getByRole("cell");
  await expect(values).toHaveText(["−9 dB", "−6 dB"]);
  await expect(other.getByText(/changed the same at the same time: .*−6/)).toBeVisible();
  await dialog.getByRole("button", { name: "Use mine" }).click();
  await expect(other.getByTestId("chain")).toContainText("−6.0 dB");
});

test("the team comments on a place; the others see it at once, answer, and resolve it", async ({ page, context }) => {
  const project = await newProject(page, "Spoken for", "Music release");
  await takeIn(page, [await recording("Spoken.wav", programme(4, 0.5))]);
  const other = await context.newPage();
  await other.goto(`/projects/${project}`);
  await expect(other.getByTestId("lanes")).toBeVisible();
  await page.keyboard.press("2");
  await page.keyboard.press("Shift+C");
  await page.getByLabel("New comment").fill("Is the breath wanted?");
  await page.getByRole("button", { name: "Comment", exact: true }).click();
  await expect(page.getByTestId("comments").getByText("Is the breath wanted?")).toBeVisible();

  await other.keyboard.press("2");
  await expect(other.getByRole("button", { name: /^Comment of studio at .*: Is the breath wanted/ })).toBeVisible();
  await other.getByRole("button", { name: /^Comments/ }).click();
  await other.getByRole("button", { name: "Answer" }).click();
  await other.getByLabel("Answer to studio").fill("It is in the score.");
  await other.keyboard.press("Control+Enter");
  await expect(page.getByTestId("comments").getByText("It is in the score.")).toBeVisible();
  await page.getByRole("button", { name: "Resolve" }).click();
  await expect(other.getByText("Nothing is open here.")).toBeVisible();
  await expect(other.getByRole("button", { name: /^Comment of studio/ })).toHaveCount(0);
});
