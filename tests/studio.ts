/** What the end-to-end tests share: recordings made on the spot, projects, and the studio's processes. */
import { readdirSync, readFileSync } from "node:fs";
import { mkdir, writeFile } from "node:fs/promises";
import { dirname, join } from "node:path";
import { expect, type Page } from "@playwright/test";
import { MemorySink } from "@core/files/bytes";
import { WavWriter } from "@core/files/wav-writer";
import { Random } from "@core/math/random";
import { TEMPLATES } from "@core/project/templates";
import type { ProjectView } from "@core/project/views";
import { Quantiser } from "@core/dsp/quantise";
import { layoutForChannels } from "@core/audio/layout";
import type { Planar } from "@core/audio/units";

const folder = join(process.cwd(), ".build", "test-recordings");

/** Tones that swell over a floor of noise, with hits: as loud as `level` says. */
export function programme(seconds: number, level: number, sampleRate = 48_000, channels = 2): Planar {
  return Array.from({ length: channels }, (_, c) => {
    const random = new Random(c + 1);
    const x = new Float32Array(Math.round(seconds * sampleRate));
    for (let i = 0; i < x.length; i++) {
      const t = i / sampleRate;
      const tones =
        Math.sin(2 * Math.PI * (220 + c) * t) +
        0.6 * Math.sin(2 * Math.PI * 587 * t) +
        0.3 * Math.sin(2 * Math.PI * 1490 * t);
      const hit = Math.exp(-((t * 1.5) % 1) * 45) * Math.sin(2 * Math.PI * 90 * t);
      x[i] = level * (0.25 * tones * (0.5 + 0.5 * Math.sin(t * 0.9) ** 2) + 0.7 * hit) + 0.0004 * random.between(-1, 1);
    }
    return x;
  });
}

/** Writes a 24-bit WAV file and gives its path. */
export async function recording(name: string, block: Planar, sampleRate = 48_000): Promise<string> {
  const sink = new MemorySink();
  const writer = await WavWriter.open(sink, { sampleRate, layout: layoutForChannels(block.length), format: "24" });
  await writer.writeIntegers(
    new Quantiser(block.length, 24, { dither: "flat", sampleRate }).next(block),
    block[0]!.length,
  );
  await writer.finish();
  return file(name, sink.bytes());
}

export async function file(name: string, bytes: Uint8Array | string): Promise<string> {
  const path = join(folder, name);
  await mkdir(dirname(path), { recursive: true });
  await writeFile(path, bytes);
  return path;
}

/** Makes a project and opens it. */
export async function newProject(page: Page, name: string, template: string): Promise<string> {
  const { id } = TEMPLATES.find((one) => one.name.startsWith(template))!;
  const answer = await page.request.post("/api/projects", { data: { name, template: id } });
  expect(answer.ok(), await answer.text()).toBe(true);
  const project = ((await answer.json()) as { id: string }).id;
  await page.goto(`/projects/${project}`);
  await expect(page.getByRole("heading", { name })).toBeVisible();
  return project;
}

/** Makes a project by the library's own dialog and opens it. */
export async function newProjectByHand(page: Page, name: string, template: string): Promise<string> {
  await page.goto("/");
  await page.getByRole("button", { name: "New project" }).click();
  await page.getByRole("textbox", { name: "Name" }).fill(name);
  await page.getByRole("radio", { name: new RegExp(template) }).check();
  await page.getByRole("button", { name: "Create project" }).click();
  await page.waitForURL(/\/projects\//);
  await expect(page.getByRole("heading", { name })).toBeVisible();
  return page.url().split("/").pop()!;
}

/** Chooses files and waits until they are read and measured. */
export async function takeIn(page: Page, paths: string[]): Promise<void> {
  const before = await page.locator('[data-testid="source"][data-state="ready"]').count();
  await page.getByTestId("file-input").setInputFiles(paths);
  await expect(page.locator('[data-testid="source"][data-state="ready"]')).toHaveCount(before + paths.length, {
    timeout: 60_000,
  });
  // Keys for listening and looking do something from then on.
  await expect(page.getByTestId("lanes")).toBeVisible({ timeout: 20_000 });
}

/** Waits until the server has answered all edits. */
export const saved = (page: Page): Promise<void> => expect(page.getByText(/^Saved .* ago$/)).toBeVisible();

/** The project as the server has it; waits while the server or its database is starting again. */
export async function projectOf(page: Page, id: string): Promise<ProjectView> {
  const get = () => page.request.get(`/api/projects/${id}`).catch(() => undefined);
  let answer = await get();
  await expect.poll(async () => answer?.ok() || (answer = await get())?.ok()).toBe(true);
  return answer!.json();
}

/** Leaves a project one deliverable, so that a test need not wait for the others' masters. */
export async function onlyDeliver(page: Page, project: string, spec: string): Promise<void> {
  for (const { id } of (await projectOf(page, project)).document.deliverables.filter((one) => one.spec !== spec)) {
    await command(page, project, { type: "removeDeliverable", deliverable: id });
  }
  await page.reload();
}

/** Processes of this studio whose command line holds `words`. */
export function processes(words: string): number[] {
  return readdirSync("/proc")
    .map(Number)
    .filter((pid) => {
      if (!pid) return false;
      try {
        const command = readFileSync(`/proc/${pid}/cmdline`, "utf8");
        const environment = readFileSync(`/proc/${pid}/environ`, "utf8");
        return command.includes(words) && environment.includes(`RESONUM_DATA=${process.env.RESONUM_DATA}\0`);
      } catch {
        return false; // ended meanwhile, or another's
      }
    });
}

/** Adds a processor to the chain of the item in hand, found by what is typed. */
export async function addProcessor(page: Page, typed: string): Promise<void> {
  await page.getByRole("button", { name: "Add processor" }).click();
  await page.getByPlaceholder(/what should it do/).fill(typed);
  await page.getByRole("dialog").getByRole("option").first().click();
}

/** The text of a paper of a project's delivery. */
export async function paper(page: Page, project: string, name: string): Promise<string> {
  const answer = await page.request.get(`/api/projects/${project}/documents/${encodeURIComponent(name)}`);
  expect(answer.ok()).toBe(true);
  return answer.text();
}

/** An edit without the page. */
export async function command(
  page: Page,
  project: string,
  edit: { type: string } & Record<string, unknown>,
): Promise<void> {
  const { head } = await projectOf(page, project);
  const answer = await page.request.post(`/api/projects/${project}/commands`, { data: { base: head, command: edit } });
  expect(answer.ok(), await answer.text()).toBe(true);
}

/** While the engine's read-out is open: other work on the machine may cost a block; a hundredth of them would be heard. */
export async function expectNoGaps(page: Page): Promise<void> {
  const [underruns, quanta] = await Promise.all(
    [page.getByTestId("underruns"), page.getByTestId("quanta")].map(async (read) => Number(await read.innerText())),
  );
  expect(underruns! / quanta!).toBeLessThan(0.01);
}
