import { describe, expect, it } from "vitest";
import { layoutNamed } from "../audio/layout";
import { newTags } from "../files/tags";
import { newChainEntry } from "../processors";
import { newFade } from "../programme/fade";
import { PLAIN_PROGRAMME } from "../programme/programme";
import { timelineOf } from "../programme/timeline";
import { itemSchema, type Item } from "../project/document";
import { programmeCueSheet, programmeSheet, programmeTitles, sectorTime, titleListCsv } from "./programme-lists";

const RATE = 44_100;
const item = (id: string, name: string, more: object = {}): Item =>
  itemSchema.parse({ id, name, source: "a".repeat(64), repairs: [], chain: [], ...more });
const items = [
  item("a", "Tin Lanterns", { placement: { fadeOut: newFade(3, "exponential") } }),
  item("b", 'Kestrel "Weather"', { placement: { gapSeconds: 2 }, chain: [newChainEntry("limiter", "l")] }),
  item("c", "Low Door", { placement: { gapSeconds: -1.5, gainDb: -2 } }),
];
const titlesOf = (given: Item[], programme = PLAIN_PROGRAMME) => {
  const timeline = timelineOf(given, programme, () => ({
    frames: 30 * RATE,
    sampleRate: RATE,
    layout: layoutNamed("stereo")!,
  }))!;
  const tags = (one: Item) =>
    newTags({ title: one.name, artist: "The Quiet Sluices", isrc: one.id === "b" ? "ZZS1H2600002" : "" });
  return { timeline, titles: programmeTitles(timeline, given, tags) };
};
const album = newTags({ album: "Saltmarsh Hours", albumArtist: "The Quiet Sluices", barcode: "4012345678901" });

describe("times in sectors", () => {
  it.each([
    [0, "00:00:00"],
    [587, "00:00:00"],
    [588, "00:00:01"],
    [44_100 * 61 + 588 * 74, "01:01:74"],
    [44_100 * 3600, "60:00:00"],
  ])("frame %i is %s", (frame, time) => expect(sectorTime(frame, RATE)).toBe(time));
  it("are those of other rates, too", () => expect(sectorTime(48_000 + 640, 48_000)).toBe("00:01:01"));
});

describe("a cue sheet of one file", () => {
  const cue = (given = items, programme = PLAIN_PROGRAMME) =>
    programmeCueSheet(album, { file: "side.wav", kind: "WAVE" }, titlesOf(given, programme).titles, RATE).split("\r\n");
  it("has one file and its tracks, with codes, pauses and beginnings", () => {
    const lines = cue();
    expect(lines.filter((line) => line.startsWith("FILE"))).toEqual(['FILE "side.wav" WAVE']);
    expect(lines.slice(0, 3)).toEqual([
      "CATALOG 4012345678901",
      'PERFORMER "The Quiet Sluices"',
      'TITLE "Saltmarsh Hours"',
    ]);
    const second = lines.indexOf("  TRACK 02 AUDIO");
    expect(lines.slice(second, second + 6)).toEqual([
      "  TRACK 02 AUDIO",
      "    TITLE \"Kestrel 'Weather'\"",
      '    PERFORMER "The Quiet Sluices"',
      "    ISRC ZZS1H2600002",
      "    INDEX 00 00:30:00",
      "    INDEX 01 00:32:00",
    ]);
  });
  it("has no pause where titles overlap", () => {
    const lines = cue();
    const third = lines.slice(lines.indexOf("  TRACK 03 AUDIO"));
    expect(third.some((line) => line.includes("INDEX 00"))).toBe(false);
    expect(third).toContain("    INDEX 01 01:00:37");
  });
  it("makes what lies hidden before the first title its pause", () => {
    const hidden = [
      item("h", "Whisper", { placement: { hidden: true } }),
      item("a", "Tin Lanterns", { placement: { gapSeconds: 1 } }),
    ];
    const lines = cue(hidden);
    expect(lines.filter((line) => line.includes("TRACK"))).toEqual(["  TRACK 01 AUDIO"]);
    expect(lines).toEqual(expect.arrayContaining(["    INDEX 00 00:00:00", "    INDEX 01 00:31:00"]));
  });
  it("makes silence at the head the first title's pause", () => {
    expect(cue(items, { ...PLAIN_PROGRAMME, headSeconds: 2 })).toContain("    INDEX 01 00:02:00");
  });
});

it("a title list has a row for each point, with its length and code", () => {
  const rows = titleListCsv(titlesOf(items).titles, RATE).trim().split(/\r?\n/);
  expect(rows).toHaveLength(1 + 1 + 2 + 1);
  expect(rows[2]).toBe('2,0,00:30:00,30.000000,00:02:00,ZZS1H2600002,"Kestrel ""Weather""",The Quiet Sluices');
  expect(rows[3]).toContain("2,1,00:32:00,32.000000,00:30:00");
});

it("a programme sheet tells times, fades, levels and what was done", () => {
  const { titles, timeline } = titlesOf(items);
  const sheet = programmeSheet("Saltmarsh Hours", titles, timeline, (id) =>
    id === "b" ? { integratedLufs: -12.4, truePeakDbtp: -1.2 } : null,
  );
  expect(sheet).toContain("3 titles, 90.50 s in all, 44100 Hz");
  expect(sheet).toContain("fade-out 3 s, exponential");
  expect(sheet).toContain("−12.4 LUFS integrated, −1.2 dBTP");
  expect(sheet).toContain("done: limiter");
  expect(sheet.match(/done: as it came/g)).toHaveLength(2);
});
