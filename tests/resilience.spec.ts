import { createHash } from "node:crypto";
import { execFileSync } from "node:child_process";
import { readFile } from "node:fs/promises";
import { join } from "node:path";
import { expect, test } from "@playwright/test";
import type { Manifest } from "@core/project/manifest";
import { addProcessor, file, newProject, paper, processes, programme, projectOf, recording, takeIn } from "./studio";

const sha = (bytes: Uint8Array) => createHash("sha256").update(bytes).digest("hex");

test("a worker killed in the middle of a render: the job is taken up again and gives the same bytes", async ({
  page,
}) => {
  const path = await recording("Long Watch.wav", programme(90, 0.95));
  const project = await newProject(page, "Kill the worker", "Broadcast programme");
  await takeIn(page, [path]);
  await page.keyboard.press("6");
  await page.getByRole("button", { name: /Render what changed/ }).click();
  await expect.poll(async () => (await projectOf(page, project)).masters[0]?.state).toBe("rendering");
  await page.waitForTimeout(300);
  const killed = processes("dist/worker.mjs");
  expect(killed.length).toBeGreaterThan(0);
  for (const pid of killed) process.kill(pid, "SIGKILL");
  const cell = page.locator('[data-testid^="cell-"]').first();
  await expect(cell).toHaveAttribute("data-state", "verified", { timeout: 80_000 });
  expect(processes("dist/worker.mjs").some((pid) => !killed.includes(pid))).toBe(true);

  // The command line renders the same from its manifest, undisturbed.
  const [master] = (await projectOf(page, project)).masters;
  const manifest = await file("kill/Manifest.json", await paper(page, project, "Manifest.json"));
  const out = join(manifest, "..");
  execFileSync("node", ["bin/resonum", "render", "--manifest", manifest, "--sources", join(path, ".."), "--out", out]);
  const { masters } = JSON.parse(await readFile(manifest, "utf8")) as Manifest;
  expect(sha(await readFile(join(out, masters[0]!.file)))).toBe(master!.file_hash);
});

test("the server killed in the middle of an upload: it goes on, and the original is whole", async ({ page }) => {
  const path = await recording("Wide River.wav", programme(150, 0.5));
  const project = await newProject(page, "Kill the server", "Music release");
  // Slowed down, so that there is a middle.
  const session = await page.context().newCDPSession(page);
  await session.send("Network.emulateNetworkConditions", {
    offline: false,
    latency: 5,
    downloadThroughput: -1,
    uploadThroughput: 6_000_000,
  });
  await page.getByTestId("file-input").setInputFiles(path);
  await expect
    .poll(async () =>
      Number((await page.getByTestId("sending").getByRole("progressbar").getAttribute("aria-valuenow")) ?? 0),
    )
    .toBeGreaterThan(10);
  const killed = processes("next").filter((pid) => pid !== process.pid);
  for (const pid of killed) process.kill(pid, "SIGKILL");
  await session.send("Network.emulateNetworkConditions", {
    offline: false,
    latency: 0,
    downloadThroughput: -1,
    uploadThroughput: -1,
  });
  await expect(page.locator('[data-testid="source"][data-state="ready"]')).toHaveCount(1, { timeout: 80_000 });
  const { sources } = await projectOf(page, project);
  expect(sources[0]!.hash).toBe(sha(await readFile(path)));
});

test("a page closed in the middle of an upload: the same file goes on where it stopped", async ({ page, context }) => {
  const path = await recording("Half Way.wav", programme(100, 0.5));
  const project = await newProject(page, "Close the page", "Music release");
  const session = await context.newCDPSession(page);
  await session.send("Network.emulateNetworkConditions", {
    offline: false,
    latency: 5,
    downloadThroughput: -1,
    uploadThroughput: 5_000_000,
  });
  await page.getByTestId("file-input").setInputFiles(path);
  await expect
    .poll(async () =>
      Number((await page.getByTestId("sending").getByRole("progressbar").getAttribute("aria-valuenow")) ?? 0),
    )
    .toBeGreaterThan(15);
  await page.close({ runBeforeUnload: false });

  const again = await context.newPage();
  await again.goto(`/projects/${project}`);
  await expect(again.getByTestId("interrupted")).toContainText(/Interrupted at \d+ %/);
  await again.getByTestId("file-input").setInputFiles(path);
  await expect(again.locator('[data-testid="source"][data-state="ready"]')).toHaveCount(1, { timeout: 60_000 });
  await expect(again.getByTestId("interrupted")).toHaveCount(0);
  expect((await projectOf(again, project)).sources[0]!.hash).toBe(sha(await readFile(path)));
});

test("the database killed: nothing that was saved is lost, and the page goes on by itself", async ({ page }) => {
  const project = await newProject(page, "Kill the database", "Music release");
  await takeIn(page, [await recording("Safe.wav", programme(4, 0.5))]);
  await page.keyboard.press("4");
  await addProcessor(page, "Gain");
  await expect.poll(async () => (await projectOf(page, project)).document.items[0]?.chain.length).toBe(1);
  const postmaster = await readFile(join(process.env.RESONUM_TEST_CLUSTER!, "postmaster.pid"), "utf8");
  process.kill(Number(postmaster.split("\n")[0]), "SIGKILL");
  await expect.poll(async () => (await page.request.get("/api/status")).status(), { timeout: 40_000 }).toBe(200);
  expect((await projectOf(page, project)).document.items[0]!.chain).toHaveLength(1);
  const gain = page.getByRole("textbox", { name: "Gain" });
  await gain.fill("-6");
  await gain.press("Enter");
  await expect.poll(async () => (await projectOf(page, project)).document.items[0]?.chain[0]?.gainDb).toBe(-6);
  // Work goes on as well: a recording is read, a master rendered.
  await page.keyboard.press("6");
  await page.getByRole("button", { name: /Render what changed/ }).click();
  await expect(page.locator('[data-testid^="cell-"]').first()).toHaveAttribute("data-state", "verified", {
    timeout: 60_000,
  });
});

test("the database restarted while masters are being rendered: all of them are, once", async ({ page }) => {
  const project = await newProject(page, "Under load", "Music release");
  await takeIn(page, [
    await recording("Load/a.wav", programme(30, 0.9)),
    await recording("Load/b.wav", programme(30, 0.4)),
    await recording("Load/c.wav", programme(30, 0.2)),
  ]);
  await page.keyboard.press("6");
  await page.getByRole("button", { name: /Render what changed · 6/ }).click();
  await expect
    .poll(async () => {
      const { masters } = await projectOf(page, project);
      return masters.length === 6 && masters.some(({ state }) => state === "rendering");
    })
    .toBe(true);
  const postmaster = await readFile(join(process.env.RESONUM_TEST_CLUSTER!, "postmaster.pid"), "utf8");
  process.kill(Number(postmaster.split("\n")[0]), "SIGINT"); // a fast shutdown; the studio starts it again
  await expect(page.locator('[data-testid^="cell-"][data-state="verified"]')).toHaveCount(6, { timeout: 150_000 });
  const { masters } = await projectOf(page, project);
  expect(masters.map(({ state }) => state)).toEqual(Array<string>(6).fill("done"));
});
