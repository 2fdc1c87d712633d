/** Damaged files through the page that measures many: each row ends with figures or a sentence. */
import { mkdirSync, readdirSync, rmSync, writeFileSync } from "node:fs";
import { join } from "node:path";
import type { Page } from "@playwright/test";
import { Random } from "@core/math/random";
import { below, mutated } from "@core/testing/damage";
import { corpus, isSentence } from "./files";
import { ADDRESS, Studio } from "./studio";

export interface PageReport {
  files: number;
  measured: number;
  refused: number;
  /** Of the slowest batch, a file. */
  seconds: number;
  faults: string[];
}

const AT_ONCE = 100;
const BOUND_SECONDS = 10;

export async function pageTest(count: number, tell: (words: string) => void): Promise<PageReport> {
  const { chromium } = await import("@playwright/test");
  const studio = new Studio();
  await studio.start(true);
  const browser = await chromium.launch({
    executablePath: "/usr/bin/chromium",
    args: ["--no-sandbox", "--disable-dev-shm-usage"],
  });
  const page = await browser.newPage();
  const report: PageReport = { files: 0, measured: 0, refused: 0, seconds: 0, faults: [] };
  page.on("pageerror", (error) => report.faults.push(`The page failed: ${error.message}`));
  const kinds = corpus();
  const random = new Random(count + 1);
  const folder = join(process.cwd(), ".build", "bench", "page");
  while (report.files < count) {
    rmSync(folder, { recursive: true, force: true });
    mkdirSync(folder, { recursive: true });
    const size = Math.min(AT_ONCE, count - report.files);
    for (let n = 0; n < size; n++) {
      const { name, bytes } = kinds[below(random, kinds.length)]!;
      let out = bytes;
      for (let changes = 1 + below(random, 4); changes > 0; changes--) out = mutated(out, random);
      writeFileSync(join(folder, `${n}-${name}`), out);
    }
    await page.goto(`${ADDRESS}/measure`);
    const began = Date.now();
    await page.getByTestId("many-files").setInputFiles(readdirSync(folder).map((name) => join(folder, name)));
    const status = page.getByTestId("batch-status").filter({ hasText: `${size} of ${size}` });
    await status.waitFor({ timeout: size * BOUND_SECONDS * 1000 }).catch(() => {
      report.faults.push(`A batch of ${size} was not done after ${size * BOUND_SECONDS} s.`);
    });
    report.seconds = Math.max(report.seconds, (Date.now() - began) / 1000 / size);
    report.files += size;
    for (const [text, state] of await allRows(page)) {
      if (state === "done") report.measured++;
      else report.refused++;
      if (!isSentence(text) && report.faults.length < 30) report.faults.push(`Raw words: ${text.slice(0, 300)}`);
    }
    tell(`${report.files} files, ${report.faults.length} faults`);
  }
  await browser.close();
  await studio.stop();
  return report;
}

/** The words and the state of every row; the table holds only those in sight, so it is scrolled through. */
async function allRows(page: Page): Promise<Map<string, string>> {
  const rows = new Map<string, string>();
  await page.getByTestId("many-row").first().hover();
  for (let idle = 0; idle < 3; idle++) {
    const before = rows.size;
    for (const row of await page.getByTestId("many-row").all())
      rows.set(await row.innerText(), (await row.getAttribute("data-state")) ?? "");
    if (rows.size > before) idle = 0;
    await page.mouse.wheel(0, 400);
    await page.waitForTimeout(100);
  }
  return rows;
}
