import { describe, expect, it } from "vitest";
import { Measurer, type Measured } from "../measure";
import { layoutNamed } from "../audio/layout";
import { specNamed } from "../delivery/specs";
import { joined, noise, sine } from "../testing/signals";
import { FIGURE_COLUMNS, figureWords } from "./columns";
import { csvRows } from "./csv";
import { distributionOf, drawingsOf } from "./drawings";
import { entryOf, entryStanding, failedEntry } from "./entry";
import { describeReport } from "./description";
import { htmlReport } from "./html";
import { frameOf, lineOf } from "./plot";
import { distributionPlot, loudnessPlot, spectrumPlot } from "./plots";

const spec = specNamed("ebu-r128");
function measuredOf(x: Float32Array): Measured {
  const measurer = new Measurer({ sampleRate: 8000, layout: layoutNamed("stereo")! });
  measurer.process([x, noise(x.length / 8000, 8000, -60, 9).map((v, i) => v + x[i]!)]);
  return measurer.result();
}
const passing = measuredOf(sine(1000, -22.9, 8, 8000));
const failing = measuredOf(joined(sine(1000, -10, 5, 8000), new Float32Array(16_000)));

describe("entries of a report", () => {
  it("stand by their verdict, or by their faults where there is none", () => {
    expect(entryStanding(entryOf("a", passing, spec))).toBe("passes");
    expect(entryStanding(entryOf("b", failing, spec))).toBe("fails");
    expect(entryStanding(entryOf("a", passing, null))).toBe("measured");
    expect(entryStanding(failedEntry("c", "damaged"))).toBe("unreadable");
    const clipped = sine(440, 6, 4, 8000).map((v) => Math.max(-1, Math.min(1, v)));
    expect(entryStanding(entryOf("d", measuredOf(clipped), null))).toBe("faults");
  });
  it("keep drawings that are small however long the recording", () => {
    const { momentaryLufs, averageDbfs } = drawingsOf(measuredOf(noise(200, 8000, -20, 1)).curves);
    expect(momentaryLufs).toHaveLength(1200);
    expect(averageDbfs).toHaveLength(62);
    expect(JSON.stringify(momentaryLufs).length).toBeLessThan(10_000);
  });
  it("count the time at each loudness, and no silence", () => {
    const bins = distributionOf(failing.curves.shortTermLufs);
    expect(bins.reduce((sum, { share }) => sum + share, 0)).toBeCloseTo(1, 9);
    expect(bins.find(({ lufs }) => lufs === -10)!.share).toBeGreaterThan(0.3);
    const silence = { hopSeconds: 0.1, columns: 1, values: new Float32Array(50).fill(-Infinity) };
    expect(distributionOf(silence).every(({ share }) => share === 0)).toBe(true);
  });
});

describe("a report as CSV", () => {
  it("has a row each, numbers with full precision, and nothing for what there is not", () => {
    const [head, first, second, third] = csvRows([
      entryOf("Tern.wav", passing, spec),
      entryOf("Heron.wav", failing, spec),
      failedEntry("Broken.wav", "It is damaged."),
    ]);
    const at = (row: string[], name: string) => row[head!.indexOf(name)];
    expect(Number(at(first!, "Integrated LUFS"))).toBe(passing.figures.integratedLufs);
    expect(at(second!, "misses")).toContain("integratedLufs");
    expect(at(second!, "findings")).toContain("R is the same as L");
    expect(at(third!, "Integrated LUFS")).toBe("");
    expect(at(third!, "findings")).toBe("It is damaged.");
    expect(third).toHaveLength(head!.length);
  });
});

describe("a report as HTML", () => {
  const entries = [entryOf('<Tern> & "co".wav', passing, spec), failedEntry("x", "y")];
  const html = htmlReport(describeReport(entries, spec, { title: "Checked", date: "1 December 2026" }));
  it("stands by itself, counts what passes, and lets no name become markup", () => {
    expect(html).toContain("1 of 2 inside all limits");
    expect(html).not.toContain("<Tern>");
    expect(html).toContain("&lt;Tern&gt; &amp; &quot;co&quot;.wav");
    expect(html).not.toMatch(/<script|src=|href=/);
  });
  it("draws all beside one another and three plots of a recording, with numbers that are numbers", () => {
    expect(html.match(/<svg/g)).toHaveLength(4);
    expect(html).not.toMatch(/NaN|Infinity|undefined/);
  });
});

describe("plots", () => {
  it("put values where the scale says, and break the line at silence", () => {
    const frame = frameOf(100, 50, { from: 0, to: 10 }, { from: -60, to: 0 });
    expect(frame.x(5)).toBeCloseTo((frame.left + frame.right) / 2, 9);
    expect(frame.y(-60)).toBe(frame.bottom);
    expect(frame.y(6)).toBe(frame.top); // clamped
    expect(
      lineOf([
        [0, 0],
        [1, 1],
        [2, NaN],
        [3, 3],
      ]),
    ).toBe("M0.0 0.0L1.0 1.0M3.0 3.0");
  });
  it("of silence are empty and whole", () => {
    const silent = drawingsOf(measuredOf(new Float32Array(16_000)).curves);
    for (const plot of [
      loudnessPlot(silent, spec.limits, 300, 100),
      distributionPlot(silent, 300, 100),
      spectrumPlot(silent, 300, 100),
    ])
      expect(JSON.stringify(plot)).not.toMatch(/null|NaN/);
  });
  it("draw the target as a band and limits over time as dashed lines", () => {
    const plot = loudnessPlot(drawingsOf(passing.curves), specNamed("ebu-r128-s1").limits, 300, 100);
    expect(plot.paths.some(({ ink, filled }) => ink === "band" && filled)).toBe(true);
    expect(plot.paths.some(({ ink, dashed }) => ink === "outside" && dashed)).toBe(true);
  });
});

describe("figures in words", () => {
  it("tell silence from what there is not", () => {
    const silent = measuredOf(new Float32Array(16_000)).figures;
    const words = (id: string, figures = silent) =>
      figureWords(
        FIGURE_COLUMNS.find((column) => column.id === id)!,
        figures,
      );
    const still = { ...silent, integratedLufs: null, truePeakDbtp: null };
    expect(words("integratedLufs", still)).toBe("−∞");
    expect(words("loudnessRangeLu", { ...silent, loudnessRangeLu: null })).toBe("—");
    expect(words("noiseFloorDbfs", { ...silent, noiseFloorDbfs: null })).toBe("—");
    expect(words("clippedRuns")).toBe("0");
  });
});
