/** Masters and the files behind them, asked for as the page asks. */
import { createHash } from "node:crypto";
import { expect, test, type Page } from "@playwright/test";
import type { Master } from "@core/project/views";
import { addProcessor, newProject, programme, projectOf, recording, takeIn } from "./studio";

const ask = async (page: Page, project: string, masters: { item: string; deliverable: string }[]) =>
  page.request.post(`/api/projects/${project}/masters`, { data: { masters } });

async function prepared(page: Page, name: string, seconds: number) {
  const project = await newProject(page, name, "Broadcast programme");
  await takeIn(page, [await recording(`${name}.wav`, programme(seconds, 0.7))]);
  const { document } = await projectOf(page, project);
  return { project, wanted: { item: document.items[0]!.id, deliverable: document.deliverables[0]!.id } };
}

const done = (page: Page, project: string, count = 1) =>
  expect
    .poll(async () => (await projectOf(page, project)).masters.filter(({ state }) => state === "done").length, {
      timeout: 60_000,
    })
    .toBe(count);

test("the same settings are rendered once; a change asks anew, and going back finds the old master", async ({
  page,
}) => {
  const { project, wanted } = await prepared(page, "Once", 5);
  const [first] = (await (await ask(page, project, [wanted])).json()) as Master[];
  await done(page, project);
  const [again] = (await (await ask(page, project, [wanted])).json()) as Master[];
  expect(again!.id).toBe(first!.id);

  await page.keyboard.press("4");
  await addProcessor(page, "Gain");
  await page.keyboard.press("6");
  const cell = page.locator('[data-testid^="cell-"]').first();
  await expect(cell).toHaveAttribute("data-state", "predicted");
  await page.getByRole("button", { name: /Render what changed · 1/ }).click();
  await done(page, project, 2);
  await page.keyboard.press("Control+z");
  await expect(cell).toHaveAttribute("data-state", "verified");
  await expect(page.getByRole("button", { name: /Render what changed · 0/ })).toBeDisabled();

  // A neutral gain changes no byte of the sound.
  const { masters } = await projectOf(page, project);
  expect(new Set(masters.map(({ file_hash }) => file_hash)).size).toBe(1);
});

test("a render can be stopped and asked for again", async ({ page }) => {
  const { project, wanted } = await prepared(page, "Halt", 200);
  // The board is open before the render begins: it takes no longer than a slow page does to open.
  await page.keyboard.press("6");
  await ask(page, project, [wanted]);
  await page.getByRole("button", { name: "stop", exact: true }).click();
  await expect.poll(async () => (await projectOf(page, project)).masters[0]?.state).toBe("cancelled");
  await page.waitForTimeout(2500);
  expect((await projectOf(page, project)).masters[0]!.state).toBe("cancelled");
  await page.getByRole("button", { name: /Render what changed · 1/ }).click();
  await done(page, project);
});

test("files answer by ranges, and a download carries its title", async ({ page }) => {
  const { project, wanted } = await prepared(page, "Größe “quer”", 3);
  const [{ id }] = (await (await ask(page, project, [wanted])).json()) as [Master];
  await done(page, project);
  const { file_hash: hash, file_bytes: bytes } = (await projectOf(page, project)).masters[0]!;
  const whole = await page.request.get(`/api/masters/${id}/file`);
  const body = await whole.body();
  expect(body.length).toBe(bytes);
  expect(createHash("sha256").update(body).digest("hex")).toBe(hash);
  expect(whole.headers()["content-disposition"]).toContain("filename*=UTF-8''01%20Gr%C3%B6%C3%9Fe%20");

  const part = (range: string) => page.request.get(`/api/blobs/${hash}`, { headers: { Range: range } });
  const middle = await part("bytes=100-199");
  expect(middle.status()).toBe(206);
  expect(middle.headers()["content-range"]).toBe(`bytes 100-199/${bytes}`);
  expect((await middle.body()).equals(body.subarray(100, 200))).toBe(true);
  expect((await (await part("bytes=-50")).body()).equals(body.subarray(body.length - 50))).toBe(true);
  expect((await (await part(`bytes=${bytes! - 10}-`)).body()).length).toBe(10);
  expect((await part(`bytes=${bytes}-`)).status()).toBe(416);
  const head = await page.request.head(`/api/blobs/${hash}`);
  expect(head.headers()["x-size"]).toBe(String(bytes));
});

test("a deliverable can be added in another format, and taken away again", async ({ page }) => {
  const { project } = await prepared(page, "Another", 4);
  await page.keyboard.press("6");
  await page.getByRole("button", { name: "Deliverable", exact: true }).click();
  await page.getByRole("radio", { name: /Streaming −16/ }).check();
  await page.getByLabel("Depth").selectOption("16");
  await page.getByLabel("Sample rate").selectOption("44100");
  await page.getByRole("button", { name: "Add it" }).click();
  const cell = page.locator('[data-testid$="streaming-16"]');
  await expect(cell).toContainText("−16.0");
  await cell.click();
  await page.getByTestId("cell-detail").getByRole("button", { name: "Render" }).click();
  await expect(cell).toHaveAttribute("data-state", "verified", { timeout: 60_000 });
  const master = (await projectOf(page, project)).masters[0]!;
  expect(master.result!.figures).toMatchObject({ sampleRate: 44100 });
  expect(master.result!.dithered).toBe(true);
  expect(Math.abs(master.result!.figures.integratedLufs! + 16)).toBeLessThanOrEqual(0.05);
  await page.getByRole("button", { name: "Remove deliverable Streaming −16" }).click();
  await expect(cell).toHaveCount(0);
});

test("what cannot be rendered is said so", async ({ page }) => {
  const { project, wanted } = await prepared(page, "Cannot", 3);
  expect((await ask(page, project, [{ ...wanted, item: "nobody" }])).status()).toBe(404);
  expect((await ask(page, project, [])).status()).toBe(400);
  const unfinished = await page.request.get("/api/masters/00000000-0000-4000-8000-000000000000/file");
  expect(unfinished.status()).toBe(404);
});
