/** From an album to masters with their documents, handed over: by the page, as a person does it. */
import { execFileSync } from "node:child_process";
import { mkdirSync, readdirSync, readFileSync, rmSync } from "node:fs";
import { join } from "node:path";
import { expect, test } from "@playwright/test";
import { makePng } from "@server/reports/png";
import {
  addProcessor,
  command,
  file,
  newProject,
  onlyDeliver,
  paper,
  programme,
  projectOf,
  recording,
  takeIn,
} from "./studio";

test("an album becomes masters with documents, and is handed over", async ({ page }) => {
  test.setTimeout(300_000);
  const paths = [];
  for (const [n, level] of [0.7, 0.3].entries())
    paths.push(await recording(`Album/Song ${n + 1}.wav`, programme(6, level)));
  const project = await newProject(page, "Two Songs", "Music release");
  await takeIn(page, paths);
  await onlyDeliver(page, project, "streaming-14");
  await expect(page.getByTestId("lanes")).toBeVisible({ timeout: 20_000 });
  const podcast = {
    id: "pod",
    spec: "streaming-16",
    format: await formatOf({ container: "mp3", sampleRate: 44100, bitrateKbps: 128 }),
  };
  const station = { id: "air", spec: "ebu-r128", format: await formatOf({ sampleRate: 48000 }) };
  await command(page, project, { type: "addDeliverable", deliverable: podcast });
  await command(page, project, { type: "addDeliverable", deliverable: station });
  await page.keyboard.press("6");

  // What masters say of themselves; a code with a fault is refused and told.
  await page.getByRole("tab", { name: "Names and tags" }).click();
  await page.getByLabel("Artist, author or speaker").fill("The Quiet Sluices");
  await page.getByLabel("Catalogue number").fill("LSP 014");
  await page.getByLabel("ISRC of item 1").fill("nonsense");
  await page.getByLabel("ISRC of item 2").focus();
  await expect(page.getByText(/an ISRC is two letters/)).toBeVisible();
  await page.getByLabel("ISRC of item 1").fill("ZZ-S1H-26-00001");
  await page.getByLabel("ISRC of item 1").press("Enter");
  await page
    .getByLabel("Cover", { exact: true })
    .setInputFiles({ name: "cover.png", mimeType: "image/png", buffer: makePng(32) });
  await expect(page.getByAltText("Cover", { exact: true })).toBeVisible();
  const pattern = page.getByLabel("Pattern of file names");
  await pattern.fill("{album}");
  await expect(page.getByTestId("names").getByRole("alert")).toContainText("come up more than once");
  await pattern.fill("{track} {title} - {id}");
  await pattern.press("Enter");
  await expect(page.getByTestId("names").getByText("01 Song 1 - streaming-14.wav")).toBeVisible();

  await page.getByRole("tab", { name: "Board" }).click();
  await page.getByRole("button", { name: /Render what changed · 6/ }).click();
  await expect(page.locator('[data-testid^="cell-"][data-state="verified"]')).toHaveCount(6, { timeout: 120_000 });
  await expect(page.getByText(/All masters are rendered/)).toBeVisible();

  // Documents: a report with its verdict, a cue sheet with the code, the manifest from which the bytes come again.
  await page.getByRole("tab", { name: "Documents and submission" }).click();
  const documents = page.getByTestId("documents");
  await expect(documents.getByText("Check report - EBU R 128.pdf")).toBeVisible();
  expect(await paper(page, project, "Check report - EBU R 128.html")).toContain("2 of 2 inside all limits");
  expect(await paper(page, project, "Cue sheet - Streaming -14.cue")).toMatch(/ISRC ZZS1H2600001/);
  expect((await paper(page, project, "Masters.csv")).trim().split("\n")).toHaveLength(7);
  const manifest = await file("replay/Manifest.json", await paper(page, project, "Manifest.json"));
  await file("Album/cover.png", makePng(32) as unknown as Uint8Array);
  const out = join(manifest, "..");
  const replayed = JSON.parse(
    execFileSync("node", [
      "bin/resonum",
      "render",
      "--manifest",
      manifest,
      "--sources",
      join(paths[0]!, ".."),
      "--out",
      out,
      "--json",
    ]).toString(),
  ) as { state: string }[];
  expect(replayed.map(({ state }) => state)).toEqual(Array<string>(6).fill("same"));

  const [download] = await Promise.all([
    page.waitForEvent("download"),
    documents.getByRole("link", { name: /as zip/ }).click(),
  ]);
  const names = namesInZip(readFileSync(await download.path()));
  expect(names).toContain("02 Song 2 - ebu-r128.wav");
  expect(names).toContain("Manifest.json");

  // The station takes what is right for it, and refuses the rest with reasons; the host publishes.
  const give = async (receiver: RegExp, deliverable: string) => {
    await page.getByLabel(new RegExp(`What ${receiver.source} is given`)).selectOption(deliverable);
    const row = page
      .getByTestId("receivers")
      .locator("div")
      .filter({ hasText: receiver })
      .filter({ has: page.getByRole("button") });
    await row.last().getByRole("button", { name: "Submit" }).click();
  };
  const log = page.getByTestId("submissions");
  await give(/Longshore Radio, ingest/, "air");
  await expect(log.getByText(/accepted/).first()).toBeVisible({ timeout: 30_000 });
  await give(/Longshore Radio, ingest/, "pod");
  await expect(log.getByText(/24-bit PCM is wanted/).first()).toBeVisible({ timeout: 30_000 });
  await give(/Tern Audio, podcast host/, "pod");
  await expect(log.getByText(/accepted/)).toHaveCount(2, { timeout: 30_000 });
  const { submissions } = await projectOf(page, project);
  expect(submissions.map(({ receiver, state }) => `${receiver} ${state}`).sort()).toEqual([
    "ingest accepted",
    "ingest refused",
    "podcast accepted",
  ]);
});

/** Names of the entries of a zip file, by its central directory. */
function namesInZip(bytes: Buffer): string[] {
  const names: string[] = [];
  const entry = "PK\u0001\u0002";
  for (let at = bytes.indexOf(entry, 0, "latin1"); at >= 0; at = bytes.indexOf(entry, at + 4, "latin1"))
    names.push(bytes.subarray(at + 46, at + 46 + bytes.readUInt16LE(at + 28)).toString("utf8"));
  return names;
}

const formatOf = async (given: object) => (await import("@core/delivery/recipe")).newFormat(given);

test("a specification of one's own, and what would make a master pass", async ({ page }) => {
  const project = await newProject(page, "Own rules", "Broadcast programme");
  await takeIn(page, [await recording("Own.wav", programme(6, 0.6))]);
  await page.keyboard.press("6");
  await page.getByRole("button", { name: "Deliverable", exact: true }).click();
  await page.getByRole("button", { name: "Make an own one from Streaming −16" }).click();
  await page.getByLabel("Name", { exact: true }).fill("House level");
  await page.getByLabel(/^Target, LUFS/).fill("-20");
  await page.getByLabel("Lowest of limit 1").fill("-20.5");
  await page.getByLabel("Highest of limit 1").fill("-30");
  await page.getByLabel("Highest of limit 1").press("Enter");
  await page.getByRole("button", { name: "Keep it" }).click();
  await expect(page.getByRole("alert").filter({ hasText: "above its highest" })).toBeVisible();
  await page.getByLabel("Highest of limit 1").fill("-19.5");
  await page.getByLabel("Highest of limit 1").press("Enter");
  await page.getByRole("button", { name: "Keep it" }).click();
  await expect(page.getByRole("radio", { name: /House level/ })).toBeChecked();
  const [saved] = await Promise.all([
    page.waitForEvent("download"),
    page.getByRole("button", { name: "Save House level as JSON" }).click(),
  ]);
  expect(JSON.parse(readFileSync(await saved.path(), "utf8"))).toMatchObject({ name: "House level", target: -20 });
  await page.getByRole("button", { name: "Add it" }).click();
  await expect(page.locator('[data-testid$="own-streaming-16"]')).toContainText("−20.0");

  // A compact disc at the wrong rate: the way to pass is taken.
  const wrong = { id: "cd", spec: "cd-44-16", format: await formatOf({ bits: "24", sampleRate: 48000 }) };
  await command(page, project, { type: "addDeliverable", deliverable: wrong });
  const cell = page.locator('[data-testid$="cd-44-16"]');
  await expect(cell).toContainText("sample rate");
  await cell.click();
  await page.getByRole("button", { name: "Take: Deliver as WAV 16 bit 44.1 kHz" }).click();
  await expect(cell).not.toContainText("sample rate");
  await expect(page.getByTestId("ways")).toHaveCount(0);
});

test("a way to pass is heard against what is, at one loudness", async ({ page }) => {
  const spiky = programme(8, 0.12).map((x) => x.map((v, i) => (i % 24_000 < 300 ? v * 12 : v)));
  const project = await newProject(page, "Deep limiting", "Music release");
  await takeIn(page, [await recording("Spiky.wav", spiky)]);
  await page.keyboard.press("6");
  const ways = page.getByTestId("ways");
  await expect(ways).toBeVisible({ timeout: 20_000 });
  await expect(page.getByText(/would need .* dB of limiting/).first()).toBeVisible();
  await ways
    .getByRole("button", { name: /^Hear: / })
    .first()
    .click();
  await expect(page.getByRole("button", { name: /Pause/ })).toBeVisible();
  await page.keyboard.press("Space");
  const work = async () => {
    const { repairs, chain } = (await projectOf(page, project)).document.items[0]!;
    return repairs.length + chain.length;
  };
  expect(await work()).toBe(0);
  await ways
    .getByRole("button", { name: /^Take: / })
    .first()
    .click();
  await expect.poll(work).toBe(1);
  await page.keyboard.press("4");
  await expect(page.getByTestId("chain")).toBeVisible();
});

test("one recipe for many, and what waits can go first or be stopped", async ({ page }) => {
  const project = await newProject(page, "Alike", "Broadcast programme");
  await takeIn(page, [
    await recording("Alike/a.wav", programme(5, 0.6)),
    await recording("Alike/b.wav", programme(5, 0.3)),
    await recording("Alike/c.wav", programme(5, 0.1)),
  ]);
  const { document } = await projectOf(page, project);
  const entry = { type: "gain", id: "g", bypass: false, gainDb: 2 };
  await command(page, project, { type: "addProcessor", item: document.items[0]!.id, entry });
  await page.keyboard.press("6");
  await page.getByRole("tab", { name: "One recipe for many" }).click();
  await page.getByRole("checkbox", { name: /^c/ }).uncheck();
  await page.getByRole("button", { name: /and render 2 masters/ }).click();
  await expect
    .poll(async () => (await projectOf(page, project)).masters.filter(({ state }) => state === "done").length, {
      timeout: 60_000,
    })
    .toBe(2);
  const { document: after } = await projectOf(page, project);
  expect(after.items.map(({ chain }) => chain.length)).toEqual([1, 1, 0]);
  await page.keyboard.press("Control+z");
  await expect.poll(async () => (await projectOf(page, project)).document.items[1]?.chain.length).toBe(0);
});

test("the sound of a film is worked on beside its picture, and goes back under it", async ({ page }) => {
  test.setTimeout(120_000);
  const folder = join(process.cwd(), ".build", "test-recordings", "Film");
  rmSync(folder, { recursive: true, force: true });
  mkdirSync(folder, { recursive: true });
  const film = join(folder, "Reel.mp4");
  execFileSync("ffmpeg", [
    ...[
      "-v",
      "error",
      "-f",
      "lavfi",
      "-i",
      "testsrc=s=320x180:r=25:d=6",
      "-f",
      "lavfi",
      "-i",
      "anoisesrc=d=6:r=48000:a=0.1:seed=2",
    ],
    ...["-ac", "2", "-c:v", "libx264", "-pix_fmt", "yuv420p", "-c:a", "aac", film],
  ]);
  const project = await newProject(page, "Reel", "Sound for a video");
  await takeIn(page, [film]);
  const picture = page.getByTestId("picture").locator("video");
  await expect(picture).toBeVisible();
  await page.keyboard.press("Space");
  await expect
    .poll(() => picture.evaluate((video: HTMLVideoElement) => video.currentTime), { timeout: 20_000 })
    .toBeGreaterThan(0.5);
  await page.keyboard.press("Space");
  await page.getByRole("button", { name: "Picture" }).click();
  await expect(picture).toHaveCount(0);

  for (const { id } of (await projectOf(page, project)).document.deliverables)
    await command(page, project, { type: "removeDeliverable", deliverable: id });
  const deliverable = { id: "film", spec: "ebu-r128", format: await formatOf({ container: "video" }) };
  await command(page, project, { type: "addDeliverable", deliverable });
  await page.keyboard.press("6");
  await page.getByRole("button", { name: /Render what changed · 1/ }).click();
  const cell = page.locator('[data-testid^="cell-"]').first();
  await expect(cell).toHaveAttribute("data-state", "verified", { timeout: 60_000 });
  const [download] = await Promise.all([
    page.waitForEvent("download"),
    page.getByRole("link", { name: /Download Video/ }).click(),
  ]);
  expect(download.suggestedFilename()).toMatch(/\.mp4$/);
  const hash = (path: string) =>
    execFileSync("ffmpeg", ["-v", "error", "-i", path, "-map", "0:v", "-c", "copy", "-f", "md5", "-"]).toString();
  expect(hash(await download.path())).toBe(hash(film));

  // Cut, it would not be in time: it is refused with what to do.
  const { document } = await projectOf(page, project);
  const clips = [{ kind: "recording", start: 48_000, end: 200_000 }];
  await command(page, project, { type: "setPieces", item: document.items[0]!.id, clips, what: "Cut the beginning" });
  await page.getByRole("button", { name: /Render what changed · 1/ }).click();
  await expect(cell).toContainText("This item was cut or moved", { timeout: 60_000 });
  await expect(page.getByTestId("queue").getByRole("button", { name: "try again" })).toBeVisible();
});

test("a deliverable is kept up to date by itself, always at the same path", async ({ page }) => {
  const project = await newProject(page, "Harbour Cut", "Music release");
  await takeIn(page, [await recording("Harbour/Reel.wav", programme(5, 0.4))]);
  await onlyDeliver(page, project, "streaming-14");
  await expect(page.getByTestId("lanes")).toBeVisible({ timeout: 20_000 });
  await page.keyboard.press("6");
  await page.getByRole("button", { name: /^Change deliverable/ }).click();
  await page.getByRole("checkbox", { name: "Automatic delivery" }).check();
  await page.getByLabel("To", { exact: true }).selectOption({ label: "Folder with the latest" });
  await page.getByRole("button", { name: "Keep it" }).click();
  const line = page.getByTestId("automatic");
  await expect(line).toHaveText(/stands still|rendered …|submitted …/);
  await expect(line).toHaveText(/^submitted at/, { timeout: 60_000 });

  const ofProject = join(process.env.RESONUM_DATA!, "handed over", `Harbour Cut ${project.slice(0, 8)}`);
  const [folder] = readdirSync(ofProject);
  const [master] = readdirSync(join(ofProject, folder!)).filter((name) => name.endsWith(".wav"));
  const before = readFileSync(join(ofProject, folder!, master!));
  await page.keyboard.press("4");
  await addProcessor(page, "Compressor");
  await page.keyboard.press("6");
  await expect(line).toHaveText(/stands still/);
  await expect(line).toHaveText(/^submitted at/, { timeout: 60_000 });
  expect(readdirSync(ofProject)).toEqual([folder]);
  expect(readFileSync(join(ofProject, folder!, master!)).equals(before)).toBe(false);
});
