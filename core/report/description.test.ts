import { describe, expect, it } from "vitest";
import { newFormat } from "../delivery/recipe";
import { specNamed } from "../delivery/specs";
import { newChainEntry, type ChainEntry } from "../processors";
import { newRepairStep } from "../repair";
import { layoutNamed } from "../audio/layout";
import { Measurer } from "../measure";
import { noise, sine } from "../testing/signals";
import { describeReport, type Block } from "./description";
import { entryOf, failedEntry, type ReportEntry } from "./entry";
import { dayWords, headForNext, PLAIN_HEAD } from "../project/report-head";
import { htmlReport } from "./html";
import { besidePlot, responsePlot } from "./plots";
import { responseOf, workDone } from "./work-done";

const RATE = 8000;
const spec = specNamed("ebu-r128");
const measurer = new Measurer({ sampleRate: RATE, layout: layoutNamed("stereo")! });
measurer.process([sine(1000, -22.9, 8, RATE), noise(8, RATE, -60, 9)]);
const measured = measurer.result();
const entry = (more: Partial<ReportEntry> = {}): ReportEntry => ({ ...entryOf("Tern.wav", measured, spec), ...more });
const options = { title: "Checked", date: "1 December 2026" };

const tables = (blocks: Block[]) => blocks.filter((block) => block.kind === "table");
const headings = (blocks: Block[]) => blocks.flatMap((block) => (block.kind === "subheading" ? [block.text] : []));

describe("what a report says", () => {
  it("of one that its title names does not name it twice", () => {
    const heading = (isNamed: boolean) =>
      describeReport([entry()], spec, { ...options, isNamed }).sections[0]!.blocks.find(
        ({ kind }) => kind === "heading",
      );
    expect(heading(false)).toMatchObject({ text: "Tern.wav" });
    expect(heading(true)).toMatchObject({ text: "" });
    expect(heading(true)).toMatchObject({ words: "outside a limit" });
  });

  it("of several is a table of all first, then a section each; of one that section alone", () => {
    const several = describeReport([entry(), failedEntry("Broken.wav", "It is damaged.")], spec, options);
    expect(several.sections).toHaveLength(3);
    const [all] = tables(several.sections[0]!.blocks);
    expect(all!.rows.map(([number, standing]) => [number!.text, standing!.text, standing!.tone])).toEqual([
      ["1", "fails", "fail"],
      ["2", "unreadable", "unknown"],
    ]);
    expect(several.sections[2]!.blocks).toContainEqual({ kind: "words", text: "It is damaged.", tone: "fail" });
    expect(describeReport([entry()], spec, options).sections).toHaveLength(1);
  });

  it("tells of each limit the figure by its full name, what is asked, the margin with its unit, and the clause", () => {
    const [limits] = tables(describeReport([entry()], spec, options).sections[0]!.blocks);
    const [loudness, peak] = limits!.rows;
    expect(loudness!.map(({ text }) => text)).toEqual([
      "Integrated loudness",
      expect.stringMatching(/^−2\d\.\d\d LUFS$/),
      "−23.5 to −22.5 LUFS",
      expect.stringMatching(/^outside, \d\.\d LU under$/),
      "EBU R 128, programme loudness",
    ]);
    expect(peak!.map(({ text }) => text)).toContain("at most −1 dBTP");
  });

  it("names no figure twice, and gives what there is not no unit", () => {
    const { blocks } = describeReport([entry()], spec, options).sections[0]!;
    const facts = blocks.flatMap((block) => (block.kind === "facts" ? block.facts : []));
    expect(facts.some(([name]) => name === "True peak")).toBe(false);
    expect(facts).toContainEqual(["Loudness of speech, estimated", "—"]);
    expect(facts.map(([name]) => name)).toContain("Loudness range");
  });

  it("has a heading for what was done, channels and file only where there is something of it", () => {
    expect(headings(describeReport([entry()], spec, options).sections[0]!.blocks)).not.toContain("What was done");
    const work = [{ part: "chain" as const, name: "Gain", settings: "−3.0 dB" }];
    const done = describeReport([entry({ work, facts: [["File", "WAV"]] })], spec, options).sections[0]!.blocks;
    expect(headings(done)).toEqual(expect.arrayContaining(["What was done", "File"]));
    expect(headings(done)).not.toContain("Channels");
  });

  it("says at its head whose it is, for whom, of when and held against what, each once", () => {
    const head = { ...PLAIN_HEAD, studio: "Marsh Room", client: "Saltmarsh Press", engineer: "I. Varga" };
    const { facts } = describeReport([entry(), entry()], spec, { ...options, head });
    expect(facts).toEqual([
      ["Client", "Saltmarsh Press"],
      ["Engineer", "I. Varga"],
      ["Date", "1 December 2026"],
      ["Held against", "EBU R 128, version 5, 2023"],
      ["Result", "0 of 2 inside all limits"],
      ["Measured by", "ITU-R BS.1770-5, EBU Tech 3341 and 3342"],
    ]);
    expect(headForNext(head)).toEqual({ ...head, client: "" });
    expect(dayWords(new Date("2026-12-01T23:59:00Z"))).toBe("1 December 2026");
  });
});

describe("a report in HTML", () => {
  it("carries the head, the logo as data, and the size of the paper", () => {
    const head = { ...PLAIN_HEAD, studio: "Marsh <Room>", contact: "Quay 4\nWeir", paper: "Letter" as const };
    const html = htmlReport(describeReport([entry()], spec, { ...options, head }), "data:image/png;base64,AA==");
    expect(html).toContain("Marsh &lt;Room&gt;");
    expect(html).toContain('<img src="data:image/png;base64,AA=="');
    expect(html).toContain("@page{size:612pt 792pt");
    expect(htmlReport(describeReport([entry()], spec, options))).not.toContain("<header>");
  });
});

describe("what was done", () => {
  const result = { gainDb: 2.5, limiterCeilingDbtp: -1.05, limitingDb: 1.2, levelling: null, dithered: true } as never;
  const eq = (bands: object[]): ChainEntry => ({ ...newChainEntry("equaliser", "e"), bands }) as never;
  const band = { shape: "bell", hertz: 1000, gainDb: 6, q: 1, slope: "12", on: true, sides: "all" };

  it("is told in the order of the signal, without what is switched off", () => {
    const recipe = {
      repairs: [
        { ...newRepairStep("clicks", "r"), regions: [{ start: 0, end: 9 }] },
        { ...newRepairStep("hum", "h"), enabled: false },
      ],
      chain: [newChainEntry("gain", "g"), { ...newChainEntry("limiter", "l"), bypass: true }],
      spec,
      format: newFormat(),
    };
    const clips = [0, 1].map((i) => ({ kind: "recording" as const, start: i * 100, end: i * 100 + 50 }));
    const steps = workDone(recipe as never, clips as never, result);
    expect(steps.map(({ part, name }) => `${part}: ${name}`)).toEqual([
      "repair: Clicks",
      "edit: Cuts",
      "chain: Gain",
      "delivery: Gain",
      "delivery: True-peak limiter",
      "delivery: Dither",
    ]);
    expect(steps[0]!.settings).toMatch(/, in 1 region$/);
    expect(steps[1]!.settings).toBe("2 stretches");
    expect(steps[4]!.settings).toBe("ceiling −1.05 dBTP, reduces by 1.2 dB at most");
  });

  it("to the frequencies is the sum of equalisers and filters of the same sides, in dB", () => {
    const chain = [eq([band]), eq([band, { ...band, sides: "mid" }]), { ...eq([band]), bypass: true }];
    const [all, mid] = responseOf(chain);
    const at = (response: typeof all) => Math.max(...response!.points.map(([, db]) => db));
    expect([all!.sides, mid!.sides]).toEqual(["all", "mid"]);
    expect(at(all)).toBeCloseTo(12, 1);
    expect(at(mid)).toBeCloseTo(6, 1);
    expect(responseOf([newChainEntry("gain", "g")])).toEqual([]);
    expect(responsePlot([all!, mid!], 300, 90).paths.filter(({ dashed }) => dashed)).toHaveLength(1);
    const [low] = responseOf([newChainEntry("filter", "f")]);
    expect(low!.points[0]![1]).toBeLessThan(-3);
  });
});

describe("recordings beside one another", () => {
  it("have a bar for what they have, and a place for what could not be read", () => {
    const plot = besidePlot([measured.figures, null, measured.figures], spec.limits, 300, 100);
    expect(plot.paths.filter(({ filled, ink }) => filled && ink === "ink")).toHaveLength(2);
    expect(plot.texts.slice(-3).map(({ text }) => text)).toEqual(["1", "2", "3"]);
    expect(JSON.stringify(plot)).not.toMatch(/NaN|null/);
  });
});
