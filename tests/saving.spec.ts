/** What the page says is saved is saved; what it has not saved yet it keeps, and says so. */
import { expect, test, type Page, type Route } from "@playwright/test";
import { addProcessor, newProject, programme, projectOf, recording, takeIn } from "./studio";

const saved = (page: Page) => page.getByTestId("saved");
const gainScope = async (page: Page, project: string) =>
  (await projectOf(page, project)).document.items[0]!.chain[0]!.gainDb;

/** A project with one item and a gain on it, shown in Shape. */
async function withGain(page: Page, name: string): Promise<string> {
  const project = await newProject(page, name, "Music release");
  await takeIn(page, [await recording(`${name}.wav`, programme(3, 0.5))]);
  await page.keyboard.press("4");
  await addProcessor(page, "Gain");
  await expect.poll(async () => (await projectOf(page, project)).document.items[0]?.chain.length).toBe(1);
  return project;
}

async function nudge(page: Page): Promise<void> {
  await page.getByRole("textbox", { name: "Gain" }).focus();
  await page.keyboard.press("Shift+ArrowDown");
}

test("an edit that is on its way when the page is loaded again is made, once", async ({ page }) => {
  const project = await withGain(page, "On its way");
  const { states } = await projectOf(page, project);
  let held: Route | undefined;
  await page.route("**/commands", (route) => void (held = route)); // never answered
  await nudge(page);
  await expect(saved(page)).toHaveText("Saving …");
  await expect.poll(() => held !== undefined).toBe(true);
  const wanted = (held!.request().postDataJSON() as { command: { setting: number } }).command.setting;
  page.on("dialog", (dialog) => void dialog.accept()); // the page asks before it is left
  await page.unroute("**/commands");
  await page.reload();
  await expect(page.getByTestId("chain")).toBeVisible(); // the same stage
  await expect.poll(() => gainScope(page, project)).toBe(wanted);
  await expect(saved(page)).toHaveText(/^Saved/);
  expect((await projectOf(page, project)).states).toBe(states + 1);
});

test("an edit whose answer is lost is sent again, and not made twice", async ({ page }) => {
  const project = await withGain(page, "Answer lost");
  const { states } = await projectOf(page, project);
  let sent = 0;
  await page.route("**/commands", async (route) => {
    if (sent++ > 0) return route.continue();
    await route.fetch(); // made on the server, and the connection breaks
    await route.abort("connectionreset");
  });
  await nudge(page);
  await expect(saved(page)).toHaveText(/^Saved/, { timeout: 20_000 });
  expect(sent).toBe(2);
  expect((await projectOf(page, project)).states).toBe(states + 1);
  expect(await gainScope(page, project)).toBeLessThan(0);
});

test("a server that is busy takes nothing away: the page says what it has not saved, and goes on trying", async ({
  page,
}) => {
  const project = await withGain(page, "Busy");
  let refusals = 0;
  await page.route("**/commands", (route) =>
    refusals++ < 3
      ? route.fulfill({
          status: 503,
          contentType: "application/problem+json",
          body: '{"title":"Busy","detail":"Come again."}',
        })
      : route.continue(),
  );
  await nudge(page);
  await expect(saved(page)).toContainText("Not saved yet, trying again");
  const shown = page.getByRole("textbox", { name: "Gain" });
  await expect(shown).not.toHaveValue(/^0/); // what was done stays on the screen
  await expect(saved(page)).toHaveText(/^Saved/, { timeout: 20_000 });
  expect(await gainScope(page, project)).toBeLessThan(0);
});

test("item, stage, window, selection and playhead are there after a reload", async ({ page }) => {
  const project = await newProject(page, "Same place", "Music release");
  await takeIn(page, [await recording("One.wav", programme(8, 0.5)), await recording("Two.wav", programme(9, 0.4))]);
  await page.keyboard.press("5");
  const { document } = await projectOf(page, project);
  const second = document.items.find(({ name }) => name === "Two")!;
  await page.keyboard.press("1");
  await page
    .getByRole("button", { name: "Two.wav — take in hand" })
    .or(page.getByTitle("Two.wav — take in hand"))
    .click();
  await page.keyboard.press("3");
  const lanes = (await page.getByTestId("lanes").boundingBox())!;
  await page.mouse.move(lanes.x + lanes.width * 0.3, lanes.y + 40);
  await page.mouse.down();
  await page.mouse.move(lanes.x + lanes.width * 0.6, lanes.y + 40, { steps: 5 });
  await page.mouse.up();
  await expect.poll(() => new URL(page.url()).searchParams.get("selection")).toMatch(/^\d.*~\d/);
  await page.mouse.wheel(0, -400);
  await expect.poll(() => new URL(page.url()).searchParams.get("view")).toMatch(/~/);
  const address = new URL(page.url()).searchParams;
  expect(Object.fromEntries(address)).toMatchObject({ item: second.id, stage: "repair" });
  await page.reload();
  await expect(page.getByTestId("lanes")).toBeVisible();
  await expect(page.getByRole("main", { name: "Stage: repair" })).toBeVisible();
  await expect(page.getByText(/“Two”/).first()).toBeVisible();
  const again = new URL(page.url()).searchParams;
  for (const name of ["selection", "view", "item", "stage"]) expect(again.get(name)).toBe(address.get(name));
});

test("two windows at once: nothing that was answered to either is missing at the end", async ({ page, context }) => {
  test.setTimeout(240_000);
  const project = await withGain(page, "Two at once");
  await addProcessor(page, "Compressor");
  const other = await context.newPage();
  await other.goto(page.url());
  await expect(other.getByTestId("chain")).toBeVisible();
  const { document } = await projectOf(page, project);
  const [item] = document.items;
  const [gain, compressor] = (await projectOf(page, project)).document.items[0]!.chain;

  /** What was answered, by what it wrote: the last answer to each holds. */
  const answered: { head: number; path: string; setting: unknown }[] = [];
  const random = (() => {
    let seed = 7;
    return (below: number) => (seed = (seed * 48_271) % 2_147_483_647) % below;
  })();
  const editOf = (n: number) => {
    const setting = -1 - n / 10;
    const parameters = [
      { entry: gain!.id, parameter: "gainDb", setting },
      { entry: gain!.id, parameter: "invert", setting: n % 2 === 0 },
      { entry: compressor!.id, parameter: "thresholdDb", setting: -20 + setting },
      { entry: compressor!.id, parameter: "ratio", setting: 2 + n / 10 },
    ];
    const one = parameters[random(parameters.length)]!;
    return {
      path: `${one.entry}/${one.parameter}`,
      setting: one.setting,
      command: { type: "setParameter", item: item!.id, ...one },
    };
  };
  // Each window sends on the state that it knows, which the other has left behind again and again.
  const known = { one: (await projectOf(page, project)).head, two: (await projectOf(page, project)).head };
  const work = async (window: "one" | "two", on: Page) => {
    for (let n = 0; n < 30; n++) {
      const { path, setting, command } = editOf(n);
      const base = known[window];
      const { status, body } = await on.evaluate(
        async ([id, data]) => {
          const response = await fetch(`/api/projects/${id}/commands`, { method: "POST", body: JSON.stringify(data) });
          return { status: response.status, body: (await response.json()) as { head: number } };
        },
        [project, { id: crypto.randomUUID(), base, command }] as const,
      );
      if (status === 200) answered.push({ head: body.head, path, setting });
      else expect(status).toBe(409);
      if (status === 409 || n % 3 === 0) known[window] = (await projectOf(on, project)).head;
    }
  };
  await Promise.all([work("one", page), work("two", other)]);
  expect(answered.length).toBeGreaterThan(20);
  const { document: last, states } = await projectOf(page, project);
  const chain = last.items[0]!.chain;
  const newest = new Map<string, { head: number; setting: unknown }>();
  for (const { head, path, setting } of answered)
    if ((newest.get(path)?.head ?? 0) < head) newest.set(path, { head, setting });
  for (const [path, { setting }] of newest) {
    const [entry, parameter] = path.split("/");
    expect(chain.find(({ id }) => id === entry)![parameter!], path).toEqual(setting);
  }
  expect(new Set(answered.map(({ head }) => head)).size).toBe(answered.length);
  expect(states).toBeGreaterThan(answered.length);
});

test("a worker whose script does not come is started again, and nothing is left of it", async ({ page }) => {
  const project = await newProject(page, "Script lost", "Music release");
  await takeIn(page, [await recording("Lost.wav", programme(5, 0.5))]);
  let refused = 0;
  await page.route(/\/_next\/static\/.*\.js/, (route) => {
    const isWorker = route.request().resourceType() !== "script" || route.request().frame() === null;
    return isWorker && refused++ < 2 ? route.abort("connectionreset") : route.continue();
  });
  await page.goto(`/projects/${project}`);
  await expect(page.getByRole("button", { name: /^Play/ })).toBeEnabled({ timeout: 30_000 });
  await expect(page.getByRole("alert").filter({ hasText: "worker" })).toHaveCount(0);
});
