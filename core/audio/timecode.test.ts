import fc from "fast-check";
import { describe, expect, it } from "vitest";
import {
  formatBars,
  formatIn,
  formatTimecode,
  gridOf,
  parseTimecode,
  TIMECODE_RATES,
  type TimecodeName,
} from "./timecode";

const names = Object.keys(TIMECODE_RATES) as TimecodeName[];
const drop = TIMECODE_RATES["29.97 drop"];

describe("timecode (SMPTE ST 12-1)", () => {
  it("drops two numbers each minute but every tenth, at 29.97", () => {
    const at = (frame: number) => formatTimecode(frame / drop.exact, drop);
    expect(at(1799)).toBe("00:00:59;29");
    expect(at(1800)).toBe("00:01:00;02");
    expect(at(17_981)).toBe("00:09:59;29");
    expect(at(17_982)).toBe("00:10:00;00");
    expect(at(17_982 + 1800)).toBe("00:11:00;02");
    // An hour of frames is an hour of the clock.
    expect(at(107_892)).toBe("01:00:00;00");
  });
  it("drops four numbers at 59.94", () => {
    const fast = TIMECODE_RATES["59.94 drop"];
    expect(formatTimecode(3599 / fast.exact, fast)).toBe("00:00:59;59");
    expect(formatTimecode(3600 / fast.exact, fast)).toBe("00:01:00;04");
  });
  it("keeps with the clock within a frame over a day where numbers are dropped, and falls behind where not", () => {
    expect(formatTimecode(86_399.9, drop)).toBe("23:59:59;29");
    expect(formatTimecode(3600, TIMECODE_RATES["29.97"])).toBe("00:59:56:12");
  });
  it.each(names)("names each frame once and reads its name back, at %s", (name) => {
    const format = TIMECODE_RATES[name];
    fc.assert(
      fc.property(fc.integer({ min: 0, max: 24 * 3600 * format.nominal - 20_000 }), (frame) => {
        const text = formatTimecode(frame / format.exact, format);
        expect(Math.round(parseTimecode(text, format)! * format.exact)).toBe(frame);
      }),
    );
  });
  it("counts from where the recording begins, and its grid lies on whole frames of that", () => {
    const context = { sampleRate: 48_000, tempo: null, startSeconds: 36_000.02 };
    expect(formatIn("25", 1.5, context)).toBe("10:00:01:13");
    expect(formatIn("clock", 1.5, context)).toBe("0:01.500");
    const { origin, step } = gridOf("25", 0.9, context);
    const lines = (36_000.02 + origin) / step;
    expect(Math.abs(lines - Math.round(lines))).toBeLessThan(1e-9);
    expect(origin).toBeGreaterThanOrEqual(0);
    expect(origin).toBeLessThan(step);
    expect(gridOf("25", 0.9, { ...context, startSeconds: 0 }).origin).toBe(0);
  });
  it("refuses numbers that are left out, and what is no timecode", () => {
    expect(parseTimecode("00:01:00;00", drop)).toBeNull();
    expect(parseTimecode("00:01:00;01", drop)).toBeNull();
    expect(parseTimecode("00:10:00;00", drop)).toBeCloseTo(600, 1);
    for (const text of ["", "1:2", "00:60:00:00", "00:00:00:25", "x"])
      expect(parseTimecode(text, TIMECODE_RATES["25"])).toBeNull();
  });
});

describe("blocks of samples", () => {
  const time = { sampleRate: 48_000, tempo: null, blockSamples: 512 };
  it("tell the block from 0 and the sample in it, with as many digits as a block needs", () => {
    expect(formatIn("blocks", 0, time)).toBe("0.000");
    expect(formatIn("blocks", 511 / 48_000, time)).toBe("0.511");
    expect(formatIn("blocks", 512 / 48_000, time)).toBe("1.000");
    expect(formatIn("blocks", 1, time)).toBe("93.384");
    expect(formatIn("blocks", -1 / 48_000, time)).toBe("−1.511");
    expect(formatIn("blocks", 1025 / 48_000, { sampleRate: 48_000, tempo: null })).toBe("1.0001");
  });
  it("have lines where blocks begin, and no finer ones", () => {
    for (const wanted of [1e-6, 0.003, 0.05, 1, 60]) {
      const { origin, step, parts } = gridOf("blocks", wanted, time);
      const blocks = (step * 48_000) / 512;
      expect(origin).toBe(0);
      expect(Math.abs(blocks - Math.round(blocks))).toBeLessThan(1e-9);
      expect(blocks % parts).toBe(0);
      expect(step).toBeGreaterThanOrEqual(wanted * 0.99);
    }
    expect((gridOf("blocks", 1e-6, time).step * 48_000) / 512).toBe(1);
  });
});

describe("bars", () => {
  const tempo = { beatsPerMinute: 120, beatsPerBar: 4, startSeconds: 1 };
  it("count from one, with hundredths of a beat", () => {
    expect(formatBars(1, tempo)).toBe("1.1.00");
    expect(formatBars(1.25, tempo)).toBe("1.1.50");
    expect(formatBars(3.5, tempo)).toBe("2.2.00");
    expect(formatBars(0.5, tempo)).toBe("0.4.00");
  });
});

describe("times in a format", () => {
  const time = { sampleRate: 48_000, tempo: null };
  it("are samples, seconds, clock, frames", () => {
    expect(formatIn("samples", 1.5, time)).toBe("72000");
    expect(formatIn("seconds", 61.25, time)).toBe("61.250");
    expect(formatIn("clock", 61.25, time, 2)).toBe("1:01.25");
    expect(formatIn("25", 1.52, time)).toBe("00:00:01:13");
    expect(formatIn("bars", 61, time, 0)).toBe("1:01");
  });
  it.each(["clock", "seconds", "samples", "blocks", "bars", ...names] as const)(
    "have grids at least as wide as asked for: %s",
    (format) => {
      const context = { sampleRate: 44_100, tempo: { beatsPerMinute: 97, beatsPerBar: 3, startSeconds: 0.2 } };
      for (const wanted of [0.00001, 0.004, 0.3, 2, 47, 900]) {
        const { step, parts } = gridOf(format, wanted, context);
        expect(step).toBeGreaterThan(wanted * 0.99);
        expect(Number.isInteger(parts)).toBe(true);
        expect(parts).toBeGreaterThanOrEqual(1);
      }
    },
  );
  it("have lines at whole frames and whole samples", () => {
    expect(gridOf("25", 0.001, time).step).toBe(0.04);
    expect(gridOf("samples", 1e-6, time).step).toBeCloseTo(1 / 48_000, 12);
    expect(gridOf("clock", 4, time)).toMatchObject({ step: 5, decimals: 0 });
    expect(gridOf("clock", 0.0017, time)).toMatchObject({ step: 0.002, decimals: 3 });
  });
});
