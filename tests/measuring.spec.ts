/** Measuring in the page: while a file uploads, in the views of Inspect, of many files at once, and the proof. */
import { readFileSync } from "node:fs";
import { expect, test, type Page } from "@playwright/test";
import { memorySource } from "@core/files/bytes";
import type { Figures } from "@core/measure";
import { measureFile } from "@core/delivery/verify-master";
import { layoutNamed } from "@core/audio/layout";
import { file, newProject, programme, projectOf, recording, takeIn } from "./studio";

const view = (page: Page, name: RegExp) => page.getByRole("tab", { name }).click();

test("figures and waveform are in the page before the upload ends, and the server's are the same", async ({ page }) => {
  const project = await newProject(page, "While it uploads", "Broadcast");
  const path = await recording("While.wav", programme(25, 0.5));
  // The upload waits until the page has measured: on loopback it would be there first.
  let release = () => {};
  const held = new Promise<void>((resolve) => (release = resolve));
  await page.route("**/api/uploads/**", async (route) => {
    if (route.request().method() === "PATCH") await held;
    await route.continue();
  });
  await page.getByTestId("file-input").setInputFiles(path);
  const glimpse = page.getByTestId("glimpse");
  await expect(glimpse).toHaveAttribute("data-done", "true", { timeout: 30_000 });
  await expect(page.getByTestId("sending")).toContainText("measured here");
  const shown = await glimpse.textContent();
  const wave = await glimpse.getByLabel(/Waveform/).evaluate((canvas: HTMLCanvasElement) => {
    const { data } = canvas.getContext("2d")!.getImageData(0, 0, canvas.width, canvas.height);
    return data.filter((_, i) => i % 4 === 3 && data[i]! > 0).length;
  });
  expect(wave).toBeGreaterThan(500);
  release();
  await expect(page.locator('[data-testid="source"][data-state="ready"]')).toBeVisible({ timeout: 60_000 });
  const [source] = (await projectOf(page, project)).sources;
  const own = await measureFile(memorySource(new Uint8Array(readFileSync(path))), layoutNamed("stereo")!);
  expect(source!.figures).toEqual(JSON.parse(JSON.stringify(own.figures)));
  expect(shown).toContain(Math.abs(source!.figures!.integratedLufs!).toFixed(1));
});

test.describe("Inspect", () => {
  test("leads from findings, figures and pairs to their places", async ({ page }) => {
    await newProject(page, "Findings", "Broadcast");
    const [left, right] = programme(12, 0.5);
    left!.fill(1, 48_000 * 4, 48_000 * 4 + 40);
    const path = await recording("Findings.wav", [left!, right!.map((v) => -0.9 * v + 0.02)]);
    await takeIn(page, [path]);
    await page.keyboard.press("2");
    await view(page, /Findings/);
    const findings = page.getByTestId("findings");
    await expect(findings).toContainText("Clipped at 1 place");
    await expect(findings).toContainText("DC offset in channel 2");
    await findings.getByRole("button", { name: "0:04.00" }).click();
    await expect(page.getByTestId("selection")).toBeVisible();
    await expect(page.getByTestId("clock")).toHaveText("00:00:03.995");
    await view(page, /Channels/);
    await expect(page.getByTestId("channels")).toContainText("L");
    await page.getByLabel("Correlation of L – R over time").click({ position: { x: 20, y: 8 } });
    await expect(page.getByTestId("selection")).toBeVisible();
    await page.getByLabel("When a pair is judged").selectOption("Infinity");
    await expect(page.getByText(/opposed ▲/)).toBeVisible();
  });

  test("measures a selection in every view", async ({ page }) => {
    await newProject(page, "Stretch", "Broadcast");
    const block = programme(12, 0.5);
    await takeIn(page, [await recording("Stretch.wav", block)]);
    await page.keyboard.press("2");
    const box = (await page.getByTestId("programme").boundingBox())!;
    await page.mouse.move(box.x + box.width / 4, box.y + 120);
    await page.mouse.down();
    await page.mouse.move(box.x + box.width / 2, box.y + 120, { steps: 4 });
    await page.mouse.up();
    await expect(page.getByText(/selection, 3\.\d\d s, as it came/)).toBeVisible();
    await view(page, /Spectrum/);
    await expect(page.getByTestId("spectrum").locator("path.recharts-curve").first()).toBeVisible();
    await expect(page.getByText(/selection, 3\.\d\d s, as it came · tilt/)).toBeVisible();
    await page.getByRole("button", { name: "1/24" }).click();
    await expect(page.getByRole("button", { name: "1/24" })).toHaveAttribute("aria-pressed", "true");
    await view(page, /Loudness/);
    await expect(page.getByTestId("distribution").locator("path.recharts-rectangle").first()).toBeVisible();
  });

  test("lays references under the spectrum, and aligns what it compares to the sample", async ({ page }) => {
    const project = await newProject(page, "Compare", "Broadcast");
    const block = programme(9, 0.4);
    const later = block.map((x) => {
      const y = new Float32Array(x.length);
      y.set(
        x.subarray(0, x.length - 1234).map((v) => -0.5 * v),
        1234,
      );
      return y;
    });
    await takeIn(page, [await recording("Compare one.wav", block), await recording("Compare two.wav", later)]);
    expect((await projectOf(page, project)).sources).toHaveLength(2);
    await page.keyboard.press("2");
    await view(page, /Spectrum/);
    await page.getByRole("checkbox", { name: "Compare two.wav" }).check();
    await expect(page.getByTestId("spectrum").locator("path.recharts-curve")).toHaveCount(3);
    await view(page, /Compare/);
    await expect(
      page.getByText(/lies 1234 samples .* later, −6\.02 dB, polarity inverted · 100\.0 % of the waveform alike/),
    ).toBeVisible({
      timeout: 30_000,
    });
    const rms = await page.getByTestId("difference").textContent();
    expect(Number(/RMS −(\d+)/.exec(rms!)![1])).toBeGreaterThan(25); // only the end, where the other is cut off
    await expect(page.getByTestId("side-by-side")).toContainText("Integrated");
  });

  test("shows directions and fold-downs of immersive sound", async ({ page }) => {
    await newProject(page, "Round", "Immersive");
    await takeIn(page, [await recording("Round.wav", programme(5, 0.3, 48_000, 6))]);
    await page.keyboard.press("2");
    await view(page, /Directions/);
    await expect(page.getByLabel("Azimuth over time")).toBeVisible();
    const folds = page.getByTestId("folds");
    await expect(folds.getByRole("columnheader", { name: "stereo" })).toBeVisible();
    await expect(folds).not.toContainText("…", { timeout: 30_000 });
    const before = await folds.textContent();
    await page.getByLabel("centre").selectOption("0");
    await expect(folds).not.toContainText("…", { timeout: 30_000 });
    expect(await folds.textContent()).not.toBe(before);
  });
});

test.describe("many at once", () => {
  test("fills while it works, tells what cannot be read, orders, filters and exports", async ({ page }) => {
    const good = await recording("Many loud.wav", programme(6, 0.9));
    const quiet = await recording("Many quiet.wav", programme(6, 0.05));
    const cut = await file("Many cut.wav", readFileSync(good).subarray(0, 100_000));
    const bad = await file("Many bad.wav", "RIFFnope");
    const empty = await file("Many empty.wav", "");
    const words = await file("Many words.txt", "no sound");
    await page.goto("/measure");
    await expect(page.getByText("Drop files or folders")).toBeVisible();
    await page.getByTestId("many-files").setInputFiles([good, quiet, cut, bad, empty, words]);
    await expect(page.getByText("1 file was passed over")).toBeVisible();
    await expect(page.getByTestId("batch-status")).toContainText("5 of 5", { timeout: 30_000 });
    const row = (name: string) => page.getByTestId("many-row").filter({ hasText: name });
    await expect(row("Many empty.wav")).toContainText("The file is empty");
    await expect(row("Many bad.wav")).toContainText("unreadable");
    await expect(row("Many cut.wav")).toContainText(/99\d+ bytes were found and read/);
    await page.getByLabel("held against").selectOption("ebu-r128");
    await expect(row("Many loud.wav")).toContainText("fails");
    const names = () => page.getByTestId("many-row").locator("[role=cell]:nth-child(2)").allInnerTexts();
    await page.getByRole("button", { name: "Integrated" }).click();
    expect((await names()).indexOf("Many quiet.wav")).toBeLessThan((await names()).indexOf("Many loud.wav"));
    await page.getByRole("button", { name: "Integrated" }).click();
    expect((await names()).indexOf("Many loud.wav")).toBeLessThan((await names()).indexOf("Many quiet.wav"));
    await page.getByLabel("Find by name").fill("loud");
    await expect.poll(names).toEqual(["Many loud.wav"]);
    const saved = async (kind: string) => {
      const [download] = await Promise.all([
        page.waitForEvent("download"),
        page.getByRole("button", { name: kind, exact: true }).click(),
      ]);
      return readFileSync(await download.path());
    };
    const json = JSON.parse((await saved("JSON")).toString()) as Record<string, Figures>;
    const own = await measureFile(memorySource(new Uint8Array(readFileSync(good))), layoutNamed("stereo")!);
    expect(json["Many loud.wav"]!.integratedLufs).toBe(own.figures.integratedLufs);
    const csv = (await saved("CSV")).toString().split("\n");
    expect(csv[0]).toContain("Integrated LUFS");
    expect(csv[1]).toContain(String(own.figures.integratedLufs));
    expect((await saved("HTML")).toString()).toContain("▲ outside a limit");
    expect((await saved("PDF")).subarray(0, 5).toString()).toBe("%PDF-");
  });

  test("asks the server for formats that it does not read itself", async ({ page }) => {
    await page.goto("/measure");
    await page.getByTestId("many-files").setInputFiles("demo/speech/01.flac");
    const row = page.getByTestId("many-row");
    await expect(row).toHaveAttribute("data-state", "done", { timeout: 30_000 });
    await expect(row).toContainText("−20.5");
  });

  test("stays responsive with 2,000 rows", async ({ page }) => {
    const bytes = readFileSync(await recording("Row.wav", programme(0.05, 0.5, 8000, 1), 8000));
    await page.goto("/measure");
    // Files made in the page: two thousand on the disk would say no more.
    await page.evaluate(
      ({ content }) => {
        const input = document.querySelector<HTMLInputElement>('[data-testid="many-files"]')!;
        const transfer = new DataTransfer();
        for (let i = 0; i < 2000; i++)
          transfer.items.add(new File([new Uint8Array(content)], `Row ${(i * 7919) % 2000}.wav`));
        input.files = transfer.files;
        input.dispatchEvent(new Event("change", { bubbles: true }));
      },
      { content: Array.from(bytes) },
    );
    await expect(page.getByTestId("batch-status")).toContainText("of 2000");
    const times = await page.evaluate(async () => {
      const frame = () => new Promise((resolve) => requestAnimationFrame(resolve));
      const settled = async () => {
        await frame();
        await frame();
      };
      const button = [...document.querySelectorAll("button")].find(({ textContent }) =>
        textContent?.startsWith("recording"),
      )!;
      let began = performance.now();
      button.click();
      await settled();
      const sort = performance.now() - began;
      const table = document.querySelector('[data-testid="many-table"]')!;
      const frames: number[] = [];
      for (let i = 0; i < 60; i++) {
        began = performance.now();
        table.scrollTop += 800;
        await frame();
        frames.push(performance.now() - began);
      }
      frames.sort((a, b) => a - b);
      return {
        sort,
        scroll: frames[Math.floor(frames.length / 2)]!,
        rows: document.querySelectorAll('[data-testid="many-row"]').length,
      };
    });
    test.info().annotations.push({
      type: "2,000 rows",
      description: `sort ${times.sort.toFixed(0)} ms, scroll ${times.scroll.toFixed(0)} ms a frame (median), while measuring`,
    });
    expect(times.rows).toBeLessThan(80); // only what is seen is there
    await page.getByRole("button", { name: "Stop" }).click();
    await expect(page.getByRole("button", { name: "Clear" })).toBeVisible();
  });
});

test("the meter is proven in the page, and its signals can be had", async ({ page }) => {
  await page.goto("/proof");
  await page.getByRole("button", { name: "Prove at 48 kHz" }).click();
  await expect(page.getByTestId("proof-status")).toContainText("29 of 29 within tolerance", { timeout: 90_000 });
  await expect(page.getByTestId("proof").getByLabel("outside")).toHaveCount(0);
  const [download] = await Promise.all([
    page.waitForEvent("download"),
    page.getByRole("button", { name: "Save the signal of 3341-15" }).click(),
  ]);
  const { figures } = await measureFile(
    memorySource(new Uint8Array(readFileSync(await download.path()))),
    layoutNamed("stereo")!,
  );
  expect(Math.abs(figures.truePeakDbtp! + 6)).toBeLessThan(0.1);
});
