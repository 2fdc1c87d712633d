/** The programme in the browser: put together by keyboard, heard join by join, delivered whole and in files that join. */
import { execFileSync } from "node:child_process";
import { mkdirSync, readFileSync } from "node:fs";
import { join } from "node:path";
import { expect, test, type Page } from "@playwright/test";
import { openSoundFile } from "@core/files/open";
import { memorySource } from "@core/files/bytes";
import { newFormat } from "@core/delivery/recipe";
import type { Planar } from "@core/audio/units";
import { musicLike } from "@core/testing/degraded";
import { noise } from "@core/testing/signals";
import { placementOf } from "@core/programme/placement";
import {
  command,
  expectNoGaps,
  file,
  newProject,
  onlyDeliver,
  paper,
  programme,
  projectOf,
  recording,
  saved,
  takeIn,
} from "./studio";

const TITLES = ["Tin Lanterns", "Kestrel Weather", "Low Door"];

/** Titles that are not like one another. */
const tune = (n: number, gain = 1): Planar =>
  [0, 1].map(() => musicLike(7 + n, 44_100 * (0.9 + 0.09 * n), n + 1).map((v) => gain * v));

async function album(
  page: Page,
  name: string,
  sound = (n: number) => programme(6 + n, 0.2 + 0.2 * n),
): Promise<{ project: string; paths: string[] }> {
  const paths = [];
  for (const [n, title] of TITLES.entries()) paths.push(await recording(`${name}/${title}.wav`, sound(n), 44_100));
  const project = await newProject(page, name, "Music release");
  await takeIn(page, paths);
  await page.keyboard.press("5");
  await expect(page.getByTestId("order-table").getByRole("row")).toHaveCount(4);
  return { project, paths };
}
const items = async (page: Page, project: string) => (await projectOf(page, project)).document.items;
/** Goes to a field, as Tab does, and types. */
async function type(page: Page, label: string, words: string): Promise<void> {
  await page.getByLabel(label, { exact: true }).focus();
  await page.keyboard.type(words);
  await page.keyboard.press("Enter");
}

/** Tracks of a cue sheet: number, code, and its indices in sectors. Reads the open format, not our words. */
function parsedCue(text: string) {
  const sectors = (time: string) => {
    const [minutes, seconds, frames] = time.split(":").map(Number);
    return (minutes! * 60 + seconds!) * 75 + frames!;
  };
  const files = [...text.matchAll(/^FILE "(.*)" (\w+)$/gm)].map(([, name, kind]) => ({ name, kind }));
  const tracks = text
    .split(/^ {2}TRACK /m)
    .slice(1)
    .map((block) => ({
      number: Number(block.slice(0, 2)),
      title: /TITLE "(.*)"/.exec(block)?.[1],
      isrc: /ISRC (\w+)/.exec(block)?.[1],
      index: Object.fromEntries(
        [...block.matchAll(/INDEX (\d\d) ([\d:]+)/g)].map(([, n, time]) => [n, sectors(time!)]),
      ),
    }));
  return { files, tracks };
}

test("an album is put together by keyboard, heard, and delivered as one file and as files that join", async ({
  page,
}) => {
  test.setTimeout(300_000);
  const { project, paths } = await album(page, "Saltmarsh Hours");

  // Order, pauses and fades, without a pointer.
  await page.getByTestId("order-table").getByRole("button", { name: "Tin Lanterns", exact: true }).focus();
  await page.keyboard.press("Alt+ArrowDown");
  await expect
    .poll(async () => (await items(page, project)).map(({ name }) => name))
    .toEqual(["Kestrel Weather", "Tin Lanterns", "Low Door"]);
  await type(page, "Pause before, Tin Lanterns", "2");
  await type(page, "Pause before, Low Door", "-1.5");
  await type(page, "Fade in, Low Door", "1.5");
  await type(page, "Fade out, Tin Lanterns", "2");
  await page.getByLabel("Beginning of Low Door: the pause").focus();
  await page.keyboard.press("Shift+ArrowRight");
  await expect.poll(async () => placementOf((await items(page, project))[2]!).gapSeconds).toBe(-1.4);
  await page.keyboard.press("Control+z");
  await expect.poll(async () => placementOf((await items(page, project))[2]!).gapSeconds).toBe(-1.5);

  // The join in hand is heard from before to after, the render's rate kept, and nothing runs dry.
  await page.getByLabel("Seconds heard around a join").click();
  await page.getByLabel("Seconds heard before a join").fill("1");
  await page.getByLabel("Seconds heard after a join").fill("1");
  await page.getByLabel("Seconds heard after a join").press("Enter");
  await page.keyboard.press("Escape");
  await page.getByTestId("programme-clock").click();
  await page.keyboard.press("k");
  await expect(page.getByRole("button", { name: "join 2 → 3" })).toBeVisible();
  await expect(page.getByRole("button", { name: "join 2 → 3" })).toBeHidden({ timeout: 15_000 });
  await page.keyboard.press("Shift+k");
  await expect(page.getByRole("button", { name: "join 1 → 2, 1 of 2" })).toBeVisible();
  await expect(page.getByRole("button", { name: "join 2 → 3, 2 of 2" })).toBeVisible({ timeout: 15_000 });
  await page.keyboard.press("Space");
  await page.getByLabel("Engine read-out").click();
  await expectNoGaps(page);
  await page.keyboard.press("Escape");
  await saved(page);

  // One file with its cue sheet, and files that are the same samples one after the other.
  await onlyDeliver(page, project, "streaming-14");
  await command(page, project, {
    type: "addDeliverable",
    deliverable: {
      id: "side",
      spec: "streaming-14",
      format: newFormat({ sampleRate: 44100, bitDepth: "16" }),
      programme: "both",
    },
  });
  await command(page, project, { type: "setProgramme", changes: { cdRule: true, tailSeconds: 1 }, what: "CD" });
  await page.reload();
  await expect(page.getByTestId("join-step")).toBeVisible({ timeout: 20_000 });
  await page.keyboard.press("6");
  await expect(page.getByText("The whole programme", { exact: true })).toBeVisible();
  await page.getByRole("button", { name: /Render what changed · 7/ }).click();
  await expect(page.locator('[data-testid^="cell-"][data-state="verified"]')).toHaveCount(7, { timeout: 180_000 });

  const { masters } = await projectOf(page, project);
  const made = masters.filter(({ deliverable_id, state }) => deliverable_id === "side" && state === "done");
  const samples = async (item: string) => {
    const { id } = made.find(({ item_id }) => item_id === item)!;
    const bytes = await (await page.request.get(`/api/masters/${id}/file`)).body();
    const sound = (await openSoundFile(memorySource(new Uint8Array(bytes))))!;
    return Buffer.from(await sound.readEncoded(0, sound.frames));
  };
  const order = (await items(page, project)).map(({ id }) => id);
  const whole = await samples("programme");
  const parts = [];
  for (const item of order) parts.push(await samples(item));
  expect(Buffer.concat(parts).equals(whole)).toBe(true);

  const cue = parsedCue(await paper(page, project, "Cue sheet - Streaming -14 side.cue"));
  expect(cue.files).toEqual([{ name: "Saltmarsh Hours - Streaming -14.wav", kind: "WAVE" }]);
  expect(cue.tracks.map(({ number, title }) => [number, title])).toEqual([
    [1, "Kestrel Weather"],
    [2, "Tin Lanterns"],
    [3, "Low Door"],
  ]);
  const [first, second, third] = cue.tracks;
  expect(first!.index).toEqual({ "01": 0 });
  expect(second!.index["01"]! - second!.index["00"]!).toBeGreaterThanOrEqual(2 * 75);
  expect(third!.index["00"]).toBeUndefined();
  // Files begin where the cue sheet says, on whole sectors.
  expect(parts[0]!.length).toBe(second!.index["01"]! * 588 * 4);

  // The same bytes once more from the command line: by the manifest, and by the project itself.
  const manifest = await file("programme/Manifest.json", await paper(page, project, "Manifest.json"));
  const document = await file("programme/Project.json", await paper(page, project, "Project.json"));
  const run = (...given: string[]) =>
    JSON.parse(
      execFileSync("node", [
        "bin/resonum",
        "render",
        ...given,
        "--sources",
        join(paths[0]!, ".."),
        "--json",
      ]).toString(),
    );
  const out = join(manifest, "..");
  expect((run("--manifest", manifest, "--out", out) as { state: string }[]).map(({ state }) => state)).toEqual(
    Array<string>(7).fill("same"),
  );
  const again = join(out, "again");
  mkdirSync(again, { recursive: true });
  const rendered = run("--programme", document, "--out", again) as { file: string; sha256: string }[];
  expect(rendered).toHaveLength(4);
  expect(new Set(rendered.map(({ sha256 }) => sha256))).toEqual(new Set(made.map(({ file_hash }) => file_hash)));
  expect(readFileSync(join(again, rendered[0]!.file)).length).toBeGreaterThan(whole.length);
});

test("a pause that is dragged is drawn and heard at once, and kept when it is let go", async ({ page }) => {
  const { project } = await album(page, "Reed Hours");
  await page.getByTestId("order-table").getByRole("button", { name: "Kestrel Weather", exact: true }).click();
  const handle = page.getByLabel("Beginning of Kestrel Weather: the pause");
  const box = (await handle.boundingBox())!;
  await page.mouse.move(box.x + 6, box.y + 6);
  await page.mouse.down();
  await page.mouse.move(box.x + 66, box.y + 6, { steps: 5 });
  await expect(page.getByTestId("order-table").getByLabel("Pause before, Kestrel Weather")).not.toHaveValue("0.00");
  expect(placementOf((await items(page, project))[1]!).gapSeconds).toBe(0);
  await page.mouse.up();
  await expect.poll(async () => placementOf((await items(page, project))[1]!).gapSeconds).toBeGreaterThan(0.5);
  // Rows are dragged, too.
  const row = page.getByLabel("Move Low Door");
  const from = (await row.boundingBox())!;
  const to = (await page.getByLabel("Move Tin Lanterns").boundingBox())!;
  await page.mouse.move(from.x + 5, from.y + 5);
  await page.mouse.down();
  await page.mouse.move(from.x + 5, from.y - 15, { steps: 4 });
  await page.mouse.move(to.x + 5, to.y + 2, { steps: 8 });
  await page.mouse.up();
  await expect.poll(async () => (await items(page, project)).map(({ name }) => name)[0]).toBe("Low Door");
});

test("three late mixes are taken in at once, found by their sound, and nothing is lost", async ({ page }) => {
  test.setTimeout(180_000);
  const { project, paths } = await album(page, "Late Hours", tune);
  const [first] = await items(page, project);
  await command(page, project, {
    type: "addMarkers",
    item: first!.id,
    markers: [{ id: "m1", kind: "mark", name: "chorus", start: 44_100 }],
  });
  await type(page, "Fade out, Tin Lanterns", "2");
  // Other names, 3 dB lower, begun 12,345 samples later: only the sound tells which is which.
  const later = [];
  for (const [n, which] of [2, 0, 1].entries()) {
    const block = tune(which, 0.708).map((x) => {
      const late = new Float32Array(x.length + 12_345);
      late.set(x, 12_345);
      return late;
    });
    later.push(await recording(`Late Hours/bounce ${n + 1}.wav`, block, 44_100));
  }
  expect(paths).toHaveLength(3);
  await page.getByRole("button", { name: /Replace recordings/ }).click();
  await page.getByTestId("replace-input").setInputFiles(later);
  const rows = page.getByTestId("replacements").getByRole("row");
  await expect(rows).toHaveCount(4, { timeout: 30_000 });
  const laid = page.getByRole("button", { name: "Lay them on each other" });
  await expect(laid).toBeEnabled({ timeout: 30_000 });
  const belongs = async (n: number) =>
    page
      .getByLabel(`What bounce ${n} belongs to`)
      .evaluate((select: HTMLSelectElement) => select.selectedOptions[0]!.text);
  expect([await belongs(1), await belongs(2), await belongs(3)]).toEqual([
    "Low Door",
    "Tin Lanterns",
    "Kestrel Weather",
  ]);
  await page.getByLabel(/Lay the earlier recordings beside/).check();
  await laid.click();
  await expect(page.getByTestId("replacements").getByText("+12345 samples")).toHaveCount(3, { timeout: 60_000 });
  await page.getByRole("button", { name: "Take in 3" }).click();
  await expect.poll(async () => (await items(page, project)).length).toBe(3);
  const after = await items(page, project);
  expect(after.map(({ name }) => name)).toEqual(TITLES);
  expect(after[0]!.markers[0]!.start).toBe(44_100 + 12_345);
  expect(after[0]!.clips).toEqual([{ kind: "recording", start: 12_345, end: expect.any(Number) }]);
  expect(placementOf(after[0]!).fadeOut!.seconds).toBe(2);
  // The earlier ones lie beside, on the same sound, and are heard with Q; out of place they are aligned by sound.
  const references = async () => (await projectOf(page, project)).document.programme.references;
  expect((await references()).map(({ atSeconds }) => atSeconds)).toEqual([0, 0, 0]);
  expect((await references()).map(({ item }) => item).sort()).toEqual(after.map(({ id }) => id).sort());
  await page.getByTestId("programme-clock").click();
  await page.keyboard.press("q");
  await expect(page.getByRole("radio", { name: "Reference", exact: true })).toBeChecked();
  await page.keyboard.press("q");
  const begins = page.getByLabel(/^Begins, /).first();
  await begins.fill("0.8");
  await begins.press("Enter");
  await expect.poll(async () => (await references())[0]!.atSeconds).toBe(0.8);
  await page.getByRole("button", { name: "Align by sound" }).first().click();
  await expect.poll(async () => (await references())[0]!.atSeconds, { timeout: 30_000 }).toBe(0);
  for (const atSeconds of [0.8, 0]) {
    await page.keyboard.press("Control+z");
    await expect.poll(async () => (await references())[0]!.atSeconds).toBe(atSeconds);
  }
  // One edit, and undone by one.
  await page.keyboard.press("Control+z");
  await expect.poll(async () => (await items(page, project)).length).toBe(6);
  expect((await items(page, project))[0]!.source).toBe(first!.source);
});

test("heads and tails of chapters get one length, with the room's own tone", async ({ page }) => {
  /** Half a second of room, speech, a second and more of room. */
  const chapter = (n: number): Planar => {
    const room = noise(6 + n, 44_100, -58, n);
    programme(4, 0.3, 44_100, 1)[0]!.forEach((v, i) => (room[22_050 + i]! += v));
    return [room];
  };
  const paths = [];
  for (let n = 1; n <= 2; n++) paths.push(await recording(`Ends/Chapter ${n}.wav`, chapter(n), 44_100));
  const project = await newProject(page, "The Weir Letters", "Audiobook");
  await takeIn(page, paths);
  await page.keyboard.press("5");
  await page.getByRole("button", { name: /Check items/ }).click();
  const panel = page.getByLabel("Heads and tails", { exact: true });
  await expect(panel.getByRole("listitem")).toHaveCount(2);
  await expect(panel.getByRole("listitem").first()).toContainText("head: put in 0.25 s of this room's tone");
  await panel.getByRole("button", { name: "Set 2" }).click();
  await expect.poll(async () => (await items(page, project))[0]!.clips?.length, { timeout: 30_000 }).toBe(3);
  const [one, two] = await items(page, project);
  expect(one!.clips!.map(({ kind }) => kind)).toEqual(["room-tone", "recording", "room-tone"]);
  // Measured as they are now: half a second and a quarter, of 50 ms parts.
  const head = (item: typeof one) => item!.clips![0]!.end / 44_100;
  expect(head(one)).toBeCloseTo(0.25, 1);
  expect(head(two)).toBeCloseTo(0.25, 1);
});

test("of six chapters the one that lies apart is told first, and proposals are heard before they are taken", async ({
  page,
}) => {
  const paths = [];
  for (let n = 1; n <= 6; n++)
    paths.push(
      await recording(`Book/Chapter ${n}.wav`, programme(4 + 0.2 * n, n === 4 ? 0.08 : 0.3, 44_100, 1), 44_100),
    );
  const project = await newProject(page, "The Lock Keeper", "Audiobook");
  await takeIn(page, paths);
  await page.keyboard.press("5");
  await page.getByRole("button", { name: /Check items/ }).click();
  const table = page.getByTestId("consistency").getByRole("row");
  await expect(table.nth(2)).toContainText("Chapter 4");
  await expect(table.nth(2)).toContainText("▲");
  await expect(table.nth(3)).not.toContainText("▲");
  await page.keyboard.press("Escape");
  await page.getByRole("button", { name: /Proposals/ }).click();
  const steps = page.getByTestId("proposal-steps");
  await expect(steps).toContainText("2 steps are larger than 4 LU");
  await steps.getByRole("button", { name: "Hear it" }).click();
  await expect(page.getByText(/^join \d → \d, 1 of/)).toBeVisible();
  expect((await items(page, project)).every((item) => placementOf(item).gainDb === 0)).toBe(true);
  await steps.getByRole("button", { name: "Take it" }).click();
  await expect.poll(async () => placementOf((await items(page, project))[3]!).gainDb).toBeGreaterThan(2);
});
