import { describe, expect, it } from "vitest";
import { newTags } from "../files/tags";
import { newChainEntry } from "../processors";
import { masterNames, unknownTokens } from "../project/filename-pattern";
import { newProject } from "../project/templates";
import type { Item } from "../project/document";
import { newFormat } from "../delivery/recipe";
import { layoutNamed } from "../audio/layout";
import { chaptersJson, chaptersText, cueSheet, equaliserCsv, markersCsv } from "./lists";

const item = (id: string, name: string, more: Partial<Item> = {}): Item => ({
  id,
  name,
  source: "a".repeat(64),
  repairs: [],
  chain: [],
  markers: [],
  ...more,
});

describe("lists that go with masters", () => {
  it("a cue sheet with codes, one file a track", () => {
    const tags = newTags({
      title: "One",
      artist: "A",
      album: "Album",
      albumArtist: "A",
      isrc: "ZZS1H2600001",
      catalogue: "LSP 1",
      barcode: "4006381333931",
    });
    const sheet = cueSheet(tags, [
      { file: "01 One.wav", kind: "WAVE", tags },
      { file: '02 "Two".wav', kind: "WAVE", tags: newTags({ title: 'Two "2"' }) },
    ]);
    expect(sheet).toBe(
      [
        'REM CATALOGUE "LSP 1"',
        "CATALOG 4006381333931",
        'PERFORMER "A"',
        'TITLE "Album"',
        'FILE "01 One.wav" WAVE',
        "  TRACK 01 AUDIO",
        '    TITLE "One"',
        '    PERFORMER "A"',
        "    ISRC ZZS1H2600001",
        "    INDEX 01 00:00:00",
        "FILE \"02 'Two'.wav\" WAVE",
        "  TRACK 02 AUDIO",
        "    TITLE \"Two '2'\"",
        "    INDEX 01 00:00:00",
        "",
      ].join("\r\n"),
    );
  });
  it("markers and chapters as players read them", () => {
    const marked = item("a", "Reel, one", {
      markers: [{ id: "m", kind: "chapter", name: "Water", start: 48_000, end: 96_000 }],
    });
    const known = () => ({ layout: layoutNamed("mono")!, sampleRate: 48000, frames: 480_000 });
    expect(markersCsv({ items: [marked] }, known)).toBe(
      'item,start,end,kind,name\n"Reel, one",1.000000,2.000000,chapter,Water\n',
    );
    const tags = newTags({ title: "T", chapters: [{ title: "Water", startSeconds: 3661.5 }] });
    expect(chaptersText(tags)).toBe("01:01:01.500 Water\n");
    expect(JSON.parse(chaptersJson(tags))).toMatchObject({
      version: "1.2.0",
      chapters: [{ startTime: 3661.5, title: "Water" }],
    });
  });
  it("what equalisers do, in dB", () => {
    const bell = { shape: "bell", hertz: 1000, gainDb: 6, q: 1, slope: "12", on: true, sides: "all" };
    const shaped = item("a", "One", { chain: [{ ...newChainEntry("equaliser", "e"), bands: [bell] }] });
    const rows = equaliserCsv({ items: [shaped] })
      .trim()
      .split("\n")
      .map((row) => row.split(","));
    const near = rows
      .slice(1)
      .reduce((a, b) => (Math.abs(Number(b[3]) - 1000) < Math.abs(Number(a[3]) - 1000) ? b : a));
    expect(Number(near[4])).toBeCloseTo(6, 1);
  });
});

describe("names of masters", () => {
  const project = {
    ...newProject("Saltmarsh / Hours", "music"),
    items: [item("a", "Low: Door"), item("b", "Low? Door")],
    sources: [{ hash: "a".repeat(64), name: "reel.MOV" }],
  };
  const [deliverable] = project.deliverables;
  const first = (of: typeof project) => masterNames(of)[0]!.name;
  it("follow the pattern, and are safe anywhere", () => {
    expect(first(project)).toBe("01 Low- Door - Streaming -14.wav");
    expect(first({ ...project, naming: "{album} {nothing}" })).toBe("Saltmarsh - Hours {nothing}.wav");
    const video = { ...deliverable!, format: newFormat({ container: "video" }) };
    expect(first({ ...project, deliverables: [video] })).toMatch(/\.mov$/);
    expect(unknownTokens("{title} {nothing}")).toEqual(["nothing"]);
  });
  it("that clash are told, whatever their capitals, and get numbers", () => {
    expect(masterNames(project).some(({ clashes }) => clashes)).toBe(false);
    const same = { ...project, naming: "{album}" };
    expect(masterNames(same).every(({ clashes }) => clashes)).toBe(true);
    const names = masterNames(same).map(({ name }) => name);
    expect(new Set(names).size).toBe(project.items.length * project.deliverables.length);
    expect(names.slice(0, 2)).toEqual(["Saltmarsh - Hours.wav", "Saltmarsh - Hours (2).wav"]);
  });
});
