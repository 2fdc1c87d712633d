/** Whoever looks after a studio: its health, a backup from the page, and what a monitoring system reads. */
import { readdir, rm } from "node:fs/promises";
import { tmpdir } from "node:os";
import { join } from "node:path";
import { expect, test } from "@playwright/test";
import { accessibilityFaults } from "./accessibility";
import { newProject, programme, recording, saved, takeIn } from "./studio";

test("health is told, a backup is made from the page, and one in the studio's own folder is refused", async ({
  page,
}) => {
  // The studio runs as an account of its own, which makes the folder.
  const folder = join(tmpdir(), `resonum-page-backup-${Date.now()}`);
  try {
    await page.goto("/");
    await page.getByRole("link", { name: "Operations" }).click();
    const health = page.getByRole("region", { name: "Health" });
    await expect(health.getByRole("row", { name: /Database/ })).toContainText("PostgreSQL");
    await expect(health.getByRole("row", { name: /Store/ }).getByRole("img")).toHaveAccessibleName(/inside/i);
    await page.getByLabel("folder").fill(join(folder, "studio"));
    await page.getByRole("button", { name: "Back up now" }).click();
    const row = page.getByTestId("backups").getByRole("row", { name: new RegExp(folder) });
    await expect(row.first()).toContainText(/bytes|[kMG]B/, { timeout: 60_000 });
    expect(await readdir(join(folder, "studio", "snapshots"))).toHaveLength(1);
    const store = await health.getByRole("row", { name: /Store/ }).getByRole("cell").innerText();
    await page.getByLabel("folder").fill(join(store, "backups"));
    await page.getByRole("button", { name: "Back up now" }).click();
    await expect(page.getByText(/lies in the studio's own folder/)).toBeVisible();
    await page.getByLabel("folder").fill("relative");
    await page.getByRole("button", { name: "Back up now" }).click();
    await expect(page.getByText(/a folder by its whole path/)).toBeVisible();
  } finally {
    await rm(folder, { recursive: true });
  }
});

test("a monitoring system reads health, readiness and metrics; requests have ids", async ({ request }) => {
  expect(await (await request.get("/healthz")).json()).toEqual({ ok: true });
  const ready = await request.get("/readyz");
  expect([ready.status(), await ready.json()]).toEqual([200, { ok: true, problems: [] }]);
  const answer = await request.get("/api/status", { headers: { "X-Request-Id": "a-studio-1234" } });
  expect(answer.headers()["x-request-id"]).toBe("a-studio-1234");
  expect((await request.get("/api/status")).headers()["x-request-id"]).toMatch(/^[0-9a-f-]{36}$/);
  const text = await (await request.get("/metrics")).text();
  expect(text).toMatch(/resonum_request_seconds_count\{method="GET",route="\/api\/status",status="200"\} ([2-9]|\d\d)/);
  expect(text).toContain("resonum_disk_free_bytes");
});

test("a project is exported and imported again, and opens with its sound", async ({ page }) => {
  await newProject(page, "Ferry out and back", "Music");
  await takeIn(page, [await recording("Ferry out.wav", programme(4, 0.4))]);
  await saved(page);
  await page.goto("/");
  await page.getByRole("button", { name: "More for Ferry out and back" }).first().click();
  const download = page.waitForEvent("download");
  await page.getByRole("menuitem", { name: "Export with its recordings" }).click();
  const file = await download;
  expect(file.suggestedFilename()).toBe("Ferry out and back.resonum.zip");
  const path = join(tmpdir(), `resonum-${Date.now()}.zip`);
  await file.saveAs(path);
  await page.getByLabel("Project file").setInputFiles(path);
  await page.waitForURL(/projects\/[0-9a-f-]{36}/);
  await expect(page.getByTestId("programme")).toBeVisible();
  await expect(page.getByText("Ferry out.wav")).toBeVisible();
  await rm(path);
});

test("what is no project file is refused with the reason", async ({ page }) => {
  await page.goto("/");
  const buffer = Buffer.from("this is no zip file, whatever it is called");
  await page.getByLabel("Project file").setInputFiles({ name: "songs.zip", mimeType: "application/zip", buffer });
  await expect(page.getByText("“songs.zip” was not imported")).toBeVisible();
  await expect(page.getByText(/no project file, or it was cut off/)).toBeVisible();
});

test("operations, and what is found in the library, pass an accessibility check on both sheets", async ({ page }) => {
  await newProject(page, "Lantern for everyone", "Music");
  await takeIn(page, [await recording("Lantern for everyone.wav", programme(3, 0.4))]);
  const check = async (where: string) => {
    expect([where, ...(await accessibilityFaults(page))]).toEqual([where]);
  };
  for (const sheet of ["light", "dark"]) {
    await page.goto("/");
    if (sheet === "dark") await page.getByRole("button", { name: "Dark sheet" }).click();
    await page.getByLabel("Find a project, recording or master").fill("lantern everyone length over 1");
    await expect(page.getByRole("region", { name: "Recordings" }).getByText("Lantern for everyone.wav")).toBeVisible();
    await check(`${sheet}, library`);
    await page.goto("/operations");
    await expect(page.getByRole("row", { name: /Node.js/ })).toBeVisible();
    await check(`${sheet}, operations`);
  }
});
