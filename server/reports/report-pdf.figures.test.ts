import { join } from "node:path";
import { describe, expect, it } from "vitest";
import { Measurer } from "@core/measure";
import { layoutNamed } from "@core/audio/layout";
import { specNamed } from "@core/delivery/specs";
import { describeReport, type ReportDescription } from "@core/report/description";
import { entryOf, failedEntry, type ReportEntry } from "@core/report/entry";
import { PLAIN_HEAD, type ReportHead } from "@core/project/report-head";
import { sine } from "@core/testing/signals";
import { makePng } from "./png";
import { pdfReport } from "./report-pdf";

const spec = specNamed("ebu-r128");
const measurer = new Measurer({ sampleRate: 8000, layout: layoutNamed("mono")! });
measurer.process([sine(1000, -22.9, 8, 8000)]);
const tern: ReportEntry = entryOf("Tern.wav", measurer.result(), spec);

const described = (entries: ReportEntry[], head: Partial<ReportHead> = {}): ReportDescription =>
  describeReport(entries, spec, { title: "Checked", date: "1 December 2026", head: { ...PLAIN_HEAD, ...head } });

/** Pages and their size: the structure of a PDF is text, though what is drawn is packed. */
async function pagesOf(report: ReportDescription, logo: Uint8Array | null = null) {
  const text = (await pdfReport(report, join(process.cwd(), "node_modules"), logo)).toString("latin1");
  const boxes = [...text.matchAll(/\/MediaBox \[0 0 ([\d.]+) ([\d.]+)\]/g)];
  return { text, sizes: boxes.map(([, width, height]) => [Number(width), Number(height)]) };
}

describe("a report as a PDF", () => {
  it("of one master is one page, of several the table of all and those that fit below it", async () => {
    expect((await pagesOf(described([tern]))).sizes).toHaveLength(1);
    // What could not be read takes little room.
    const broken = failedEntry("Broken.wav", "It is damaged.");
    expect((await pagesOf(described([broken, broken]))).sizes).toHaveLength(1);
    expect((await pagesOf(described([tern, tern, tern]))).sizes.length).toBeLessThanOrEqual(4);
  });

  it("is on the paper that its head says", async () => {
    expect((await pagesOf(described([tern]))).sizes[0]).toEqual([595.28, 841.89]);
    expect((await pagesOf(described([tern], { paper: "Letter" }))).sizes[0]).toEqual([612, 792]);
  });

  it("begins pages where a table is long, and never leaves one empty", async () => {
    const many = Array.from({ length: 120 }, (_, i) => failedEntry(`File ${i}.wav`, "It is damaged."));
    const { sizes } = await pagesOf(described(many));
    expect(sizes.length).toBeGreaterThanOrEqual(15);
    // 120 sections of 76 pt and rows of 16 pt on pages of 757 pt.
    expect(sizes.length).toBeLessThanOrEqual(16);
  });

  it("carries the studio's logo, and says who made it", async () => {
    const plain = await pagesOf(described([tern], { engineer: "I. Varga" }));
    const { text } = await pagesOf(described([tern]), makePng(16));
    expect(text).toContain("/Subtype /Image");
    expect(plain.text).not.toContain("/Subtype /Image");
    expect(plain.text).toContain("/Author");
    expect(text).not.toContain("/Author");
  });

  it("has letters of other alphabets in a face that holds them, which is left out where none are", async () => {
    const faces = async (studio: string) => {
      const { text } = await pagesOf(described([tern], { studio }));
      return new Set([...text.matchAll(/\/BaseFont \/\w+\+([\w-]+)/g)].map(([, name]) => name));
    };
    expect([...(await faces("Low Sluice Studio"))].some((name) => name!.startsWith("DejaVu"))).toBe(false);
    for (const studio of ["Студия Нижний Шлюз", "Στούντιο Υδατοφράκτης", "Śluza Dolna ŁĘ"])
      expect(await faces(studio)).toContain("DejaVuSans-Bold");
  });

  it("of a master with a chain, its steps and its file is still one page", async () => {
    const work = Array.from({ length: 5 }, (_, i) => ({
      part: "chain" as const,
      name: `Step ${i}`,
      settings: "as it was",
    }));
    const facts: [string, string][] = [["SHA-256 of the file", "f".repeat(64)]];
    const head = { studio: "Marsh Room", contact: "4 Sluice Quay\nOdda", client: "Lockhouse", engineer: "I. Varga" };
    const { sizes } = await pagesOf(described([{ ...tern, work, facts }], head));
    expect(sizes).toHaveLength(1);
  });

  it("of a very long name stays on its page", async () => {
    const { sizes } = await pagesOf(described([{ ...tern, name: "Reed ".repeat(60) }]));
    expect(sizes).toHaveLength(1);
  });
});
