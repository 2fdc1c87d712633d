import { execFileSync } from "node:child_process";
import { join } from "node:path";
import { expect, test } from "@playwright/test";
import pg from "pg";
import { file, newProject, programme, projectOf, recording, takeIn } from "./studio";

test("takes in WAV, FLAC, MP3 and the sound of a video, many at once, and stores the same file once", async ({
  page,
}) => {
  const wav = await recording("Meadow.wav", programme(6, 0.5));
  const made = (name: string, args: string[]) => {
    const path = join(wav, "..", name);
    execFileSync("ffmpeg", ["-v", "error", "-y", ...args, path]);
    return path;
  };
  const flac = made("Meadow.flac", ["-i", wav]);
  const mp3 = made("Meadow.mp3", ["-i", wav, "-b:a", "192k"]);
  const video = made("Meadow.mp4", [
    "-f",
    "lavfi",
    "-i",
    "testsrc=size=64x64:rate=10:duration=6",
    "-i",
    wav,
    "-c:a",
    "aac",
    "-shortest",
  ]);
  const project = await newProject(page, "Many kinds", "Podcast");
  await takeIn(page, [wav, flac, mp3, video]);
  const { sources, document } = await projectOf(page, project);
  expect(document.items).toHaveLength(4);
  const loudness = sources.map(({ figures }) => figures!.integratedLufs!);
  for (const lufs of loudness) expect(Math.abs(lufs - loudness[0]!)).toBeLessThan(0.3);
  const [inWav, inFlac] = ["Meadow.wav", "Meadow.flac"].map((name) => sources.find((source) => source.name === name)!);
  expect(inFlac!.pcm_hash).toBe(inWav!.pcm_hash);

  // The same once more: said, and an item only when one is wanted.
  await page.getByTestId("file-input").setInputFiles(wav);
  const same = page.getByTestId("duplicate");
  await expect(same).toContainText("In the project already, as “Meadow”");
  expect((await projectOf(page, project)).document.items).toHaveLength(4);
  await same.getByRole("button", { name: "Add a second item" }).click();
  await expect.poll(async () => (await projectOf(page, project)).document.items.length).toBe(5);
  await expect(same).toHaveCount(0);
  expect((await projectOf(page, project)).document.sources).toHaveLength(4);
  await page.getByTestId("file-input").setInputFiles(wav);
  await same.getByRole("button", { name: "Dismiss" }).click();
  await expect(same).toHaveCount(0);
  expect((await projectOf(page, project)).document.items).toHaveLength(5);
});

test("says what is wrong with a file, keeps the rest, and goes on", async ({ page }) => {
  const broken = await file("Broken.wav", "RIFF but not really a wave file at all");
  const letter = await file("Letter.txt", "Dear Odda");
  const empty = await file("Empty.wav", "");
  const good = await recording("Good.wav", programme(3, 0.5));
  const playlist = await file("Song.mp3", `#EXTM3U\n#EXT-X-TARGETDURATION:3\n#EXTINF:3,\n${good}\n#EXT-X-ENDLIST\n`);
  const project = await newProject(page, "Bad input", "Podcast");
  await page.getByTestId("file-input").setInputFiles([letter, empty, broken, playlist, good]);
  await expect(page.getByText("“Letter.txt” was not taken in")).toBeVisible();
  await expect(page.getByText("“Empty.wav” was not taken in")).toBeVisible();
  const failed = page.locator('[data-testid="source"][data-state="failed"]');
  await expect(failed).toHaveCount(2);
  await expect(failed.filter({ hasText: "Broken.wav" })).toContainText(/sound|damaged|read/i);
  // A list that names another file of this machine plays nothing of it.
  await expect(failed.filter({ hasText: "Song.mp3" })).toContainText("This is a playlist");
  await expect(page.locator('[data-testid="source"][data-state="ready"]')).toHaveCount(1);
  // What cannot be read is no item.
  await expect
    .poll(async () => (await projectOf(page, project)).document.items.map(({ name }) => name))
    .toEqual(["Good"]);
});

test("a surround recording is metered channel by channel, and its layout can be set", async ({ page }) => {
  const path = await recording("Orchard.wav", programme(4, 0.4, 48_000, 8));
  const project = await newProject(page, "Round", "Immersive programme");
  await takeIn(page, [path]);
  const before = (await projectOf(page, project)).sources[0]!;
  expect(before.figures!.truePeakPerChannelDbtp).toHaveLength(8);
  await page.getByRole("button", { name: "7.1", exact: true }).click();
  await page.getByLabel("Layout", { exact: true }).selectOption("5.1.2");
  await page.getByRole("button", { name: "Apply and measure" }).click();
  await expect
    .poll(async () => (await projectOf(page, project)).sources[0]?.figures?.layout, { timeout: 30_000 })
    .toBe("5.1.2");
  const after = (await projectOf(page, project)).sources[0]!;
  expect(after.figures!.integratedLufs).not.toBe(before.figures!.integratedLufs);
});

test("figures of an older core are made anew", async ({ page }) => {
  const project = await newProject(page, "Older core", "Podcast");
  await takeIn(page, [await recording("Older.wav", programme(3, 0.5))]);
  const [source] = (await projectOf(page, project)).sources;
  const database = new pg.Client({ connectionString: process.env.RESONUM_DATABASE_URL });
  await database.connect();
  const old =
    "update source set core_version = 'old', figures = jsonb_set(figures, '{integratedLufs}', '1') where hash = $1";
  await database.query(old, [source!.hash]);
  await database.end();
  await expect
    .poll(async () => (await projectOf(page, project)).sources[0]?.figures?.integratedLufs, { timeout: 60_000 })
    .toBe(source!.figures!.integratedLufs);
});

test("a selection, and an item that uses a stretch, are measured as what they are", async ({ page }) => {
  const block = programme(12, 0.8);
  // The second half is 20 dB lower.
  const halves = block.map((x) => x.map((v, i) => (i < x.length / 2 ? v : v / 10)));
  const project = await newProject(page, "Stretches", "Podcast");
  await takeIn(page, [await recording("Halves.wav", halves)]);
  await page.keyboard.press("2");
  const box = (await page.getByTestId("programme").boundingBox())!;
  await page.mouse.move(box.x + box.width * 0.6, box.y + 120);
  await page.mouse.down();
  await page.mouse.move(box.x + box.width * 0.95, box.y + 120, { steps: 6 });
  await page.mouse.up();
  const panel = page.getByTestId("stage-panel");
  await expect(panel).toContainText(/selection, 4\.\d+ s/);
  const whole = (await projectOf(page, project)).sources[0]!.figures!.integratedLufs!;
  const level = async () =>
    Number((await panel.getByRole("row", { name: /^Integrated/ }).innerText()).match(/−(\d+\.\d)/)![1]) * -1;
  expect(await level()).toBeLessThan(whole - 10);
  const ofSelection = await level();

  await page.keyboard.press("3");
  await page.getByRole("tab", { name: "Cuts and crossfades" }).click();
  await page.getByRole("button", { name: "Trim to the selection" }).click();
  await page.keyboard.press("2");
  await expect(panel).toContainText("whole item, as it came");
  expect(Math.abs((await level()) - ofSelection)).toBeLessThan(0.2);
  await page.keyboard.press("Control+z");
  await expect.poll(level).toBeCloseTo(whole, 0);
});

test("a table of one's own says which channel is which, and what is wrong with it", async ({ page }) => {
  const project = await newProject(page, "Own table", "Immersive");
  await takeIn(page, [await recording("Own table.wav", programme(4, 0.3, 48_000, 3))]);
  const before = (await projectOf(page, project)).sources[0]!.figures!.integratedLufs!;
  await page.getByRole("button", { name: /LCR/ }).click();
  await page.getByLabel("Label of channel 3").fill("L");
  await expect(page.getByText("Two channels are called L.")).toBeVisible();
  await expect(page.getByRole("button", { name: "Apply and measure" })).toBeDisabled();
  await page.getByLabel("Label of channel 3").fill("Rear");
  await page.getByLabel("Azimuth of channel 3").fill("110");
  await page.getByRole("button", { name: "Channel 3 earlier" }).click();
  await page.getByRole("button", { name: "Apply and measure" }).click();
  await expect
    .poll(async () => (await projectOf(page, project)).sources[0]?.layout?.speakers.map(({ label }) => label))
    .toEqual(["L", "Rear", "R"]);
  // The channel at the side weighs more.
  await expect
    .poll(async () => (await projectOf(page, project)).sources[0]?.figures?.integratedLufs ?? -99)
    .toBeGreaterThan(before + 0.2);
});
