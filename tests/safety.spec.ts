import { expect, test } from "@playwright/test";
import { accessibilityFaults } from "./accessibility";
import { newProject, programme, recording, takeIn } from "./studio";

test("other sites can neither ask for changes nor frame the page", async ({ page, request, baseURL }) => {
  const foreign = await request.post("/api/projects", {
    headers: { Origin: "http://elsewhere.invalid" },
    data: { name: "x", template: "music" },
  });
  expect(foreign.status()).toBe(403);
  expect(foreign.headers()["content-type"]).toContain("application/problem+json");
  const rebound = await request.get("/api/projects", { headers: { Host: "studio.invalid" } });
  expect(rebound.status()).toBe(421);

  const answer = await page.goto("/");
  const policy = answer!.headers()["content-security-policy"]!;
  expect(policy).toContain("frame-ancestors 'none'");
  expect(policy).toMatch(/script-src 'self' 'nonce-/);
  expect(policy.match(/script-src[^;]*/)![0]).not.toContain("unsafe-inline");
  expect(await page.evaluate(() => crossOriginIsolated)).toBe(true);
  // A script that did not come with the application does not run.
  await page.evaluate(() => {
    const script = document.createElement("script");
    script.textContent = "window.intruder = true";
    document.body.append(script);
  });
  expect(await page.evaluate(() => "intruder" in window)).toBe(false);
  expect(new URL(baseURL!).hostname).toBe("127.0.0.1");
});

test("bad requests are answered with what was wrong and where", async ({ request }) => {
  const bad = await request.post("/api/projects", { data: { name: "", template: "opera" } });
  expect(bad.status()).toBe(400);
  const problem = await bad.json();
  expect(problem.errors.map(({ where }: { where: string }) => where).sort()).toEqual(["name", "template"]);
  expect(
    (await request.post("/api/projects", { data: "{", headers: { "Content-Type": "application/json" } })).status(),
  ).toBe(400);
  expect((await request.get("/api/projects/not-an-id")).status()).toBe(400);
  expect((await request.get("/api/projects/00000000-0000-4000-8000-000000000000")).status()).toBe(404);
  expect((await request.get("/api/blobs/..%2F..%2Fpostgres-password")).status()).toBe(400);
  expect((await request.get(`/api/blobs/${"0".repeat(64)}`)).status()).toBe(404);
});

test("uploads are checked before they begin", async ({ page, request }) => {
  const project = await newProject(page, "Checked", "Podcast");
  const begin = (name: string, bytes: number, into = project) =>
    request.post("/api/uploads", {
      headers: {
        "Tus-Resumable": "1.0.0",
        "Upload-Length": String(bytes),
        "Upload-Metadata": `filename ${Buffer.from(name).toString("base64")},project ${Buffer.from(into).toString("base64")}`,
      },
    });
  expect((await begin("program.exe", 1000)).status()).toBe(415);
  expect((await begin("vast.wav", 10 ** 15)).status()).toBe(413);
  expect((await begin("lost.wav", 1000, "00000000-0000-4000-8000-000000000000")).status()).toBe(404);
  expect((await begin("fine.wav", 1000)).status()).toBe(201);
});

const STAGE = "[data-testid=stage-panel]";
/** Views of a stage besides the one that it opens with. */
const VIEWS: Record<number, string[]> = {
  2: ["Findings", "Loudness", "Spectrum", "Channels", "Compare"],
  3: ["Lists", "Cuts and crossfades", "Channels, rate, tempo"],
  6: ["Names and tags", "One recipe for many", "Documents and submission"],
};

test("library and stages pass an accessibility check, on both sheets", async ({ page }) => {
  test.setTimeout(420_000);
  /** Checks the page, or only what changed on it since it was checked. */
  const checkPage = async (where: string, part?: string) => {
    // The dark sheet differs by its colours alone.
    const rules = where.startsWith("dark") ? { rules: ["color-contrast"] } : {};
    expect([where, ...(await accessibilityFaults(page, { part, ...rules }))]).toEqual([where]);
  };
  /** Editors of every kind: with a drawing beside them, over them, and none. */
  const checkEditors = async (sheet: string) => {
    const shown = page.getByTestId("chain");
    if (sheet === "light") await page.getByRole("button", { name: /^Add all/ }).click();
    for (const name of ["Filter", "Leveller", "Compressor", "Limiter"]) {
      await shown.getByText(name, { exact: true }).click();
      await checkPage(`${sheet}, ${name}`, STAGE);
    }
  };
  const checkPicked = async (sheet: string) => {
    await page.keyboard.press("ControlOrMeta+a");
    await expect(page.getByRole("toolbar", { name: "2 items are selected" })).toBeVisible();
    await checkPage(`${sheet}, picked`, STAGE);
    await page.getByRole("button", { name: "Deselect all" }).click();
  };
  await newProject(page, "For everyone", "Broadcast programme");
  await takeIn(page, [
    await recording("Everyone.wav", programme(4, 0.6)),
    await recording("Somebody.wav", programme(3, 0.3)),
  ]);
  for (const sheet of ["light", "dark"]) {
    for (const stage of [1, 2, 3, 4, 5, 6]) {
      await page.keyboard.press(String(stage));
      await page.waitForTimeout(150);
      await checkPage(`${sheet}, stage ${stage}`, stage === 1 ? undefined : STAGE);
      for (const view of VIEWS[stage] ?? []) {
        await page.getByRole("tab", { name: new RegExp(`^${view}`) }).click();
        await page.waitForTimeout(250);
        await checkPage(`${sheet}, ${view}`, STAGE);
      }
      if (stage === 2) await page.getByRole("tab", { name: "Figures" }).click();
      if (stage === 3) await page.getByRole("tab", { name: "Proposals" }).click();
      if (stage === 4) await checkEditors(sheet);
      if (stage === 5) await checkPicked(sheet);
    }
    // What is laid over the workspace, or beside it, and the menus of the programme view.
    await page.keyboard.press("1");
    for (const [key, words] of [
      ["k", "markers"],
      ["a", "compare"],
      ["Shift+Slash", "keys"],
      ["Shift+R", "record"],
      ["i", "listen"],
    ] as const) {
      await page.keyboard.press(key);
      await page.waitForTimeout(250);
      await checkPage(`${sheet}, ${words}`, "[role=dialog]");
      await page.keyboard.press("Escape");
    }
    await page.getByRole("button", { name: "Lanes", exact: true }).click();
    await checkPage(`${sheet}, lanes`);
    await page.keyboard.press("Escape");
    await page.getByRole("button", { name: /^Meters:/ }).click();
    await checkPage(`${sheet}, arrangements`);
    await page.keyboard.press("Escape");
    await page.keyboard.press("Shift+D");
  }
  await page.goto("/");
  await expect(page.getByRole("table")).toBeVisible();
  await checkPage("library");
  for (const path of ["/measure", "/proof", "/keys", "/meters", "/reference"]) {
    await page.goto(path);
    await expect(page.getByRole("heading", { level: 1 })).toBeVisible();
    await checkPage(path);
  }
});
