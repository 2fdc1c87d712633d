import { describe, expect, it } from "vitest";
import { entryOf, failedEntry } from "@core/report/entry";
import { specNamed } from "@core/delivery/specs";
import { Measurer } from "@core/measure";
import { layoutNamed } from "@core/audio/layout";
import { sine } from "@core/testing/signals";
import type { BatchRow } from "./batch";
import { shownRows } from "./order";

const spec = specNamed("ebu-r128");
function rowAt(key: number, name: string, peakDb: number): BatchRow {
  const measurer = new Measurer({ sampleRate: 8000, layout: layoutNamed("stereo")! });
  const x = sine(997, peakDb, 1, 8000);
  measurer.process([x, x.map((v) => v * 0.9)]);
  return { ...entryOf(name, measurer.result(), spec), key, state: "done", bytes: 1 };
}
const rows: BatchRow[] = [
  rowAt(0, "Tern.wav", -23),
  rowAt(1, "heron.wav", -10),
  { ...failedEntry("Avocet.wav", "damaged"), key: 2, state: "failed", bytes: 1 },
  { ...failedEntry("Curlew.wav", ""), problem: null, key: 3, state: "waiting", bytes: 1 },
];
const names = (filter: Partial<Parameters<typeof shownRows>[1]>, column: string, descending = false) =>
  shownRows(rows, { words: "", onlyFailing: false, ...filter }, { column, descending }).map(({ name }) => name);

describe("the table of many recordings", () => {
  it("is ordered by name without regard to capitals, either way", () => {
    expect(names({}, "name")).toEqual(["Avocet.wav", "Curlew.wav", "heron.wav", "Tern.wav"]);
    expect(names({}, "name", true)).toEqual(["Tern.wav", "heron.wav", "Curlew.wav", "Avocet.wav"]);
  });
  it("is ordered by a figure; what has none comes last either way", () => {
    expect(names({}, "integratedLufs").slice(0, 2)).toEqual(["Tern.wav", "heron.wav"]);
    expect(names({}, "integratedLufs", true).slice(0, 2)).toEqual(["heron.wav", "Tern.wav"]);
  });
  it("brings what fails to the top, and shows nothing else if asked", () => {
    expect(names({}, "standing")).toEqual(["Avocet.wav", "heron.wav", "Tern.wav", "Curlew.wav"]);
    expect(names({ onlyFailing: true }, "name")).toEqual(["Avocet.wav", "heron.wav"]);
  });
  it("is narrowed by words", () => expect(names({ words: " ER" }, "name")).toEqual(["heron.wav", "Tern.wav"]));
});
