import fc from "fast-check";
import { describe, expect, it } from "vitest";
import { dbToGain, finiteOrNull, gainToDb, powerToDb } from "./decibel";
import { formatBytes, formatClock, formatDb, formatRate, formatTime } from "./format";

describe("numbers as people read them", () => {
  it("have a true minus, and −∞ for silence", () => {
    expect(formatDb(-23.04)).toBe("−23.0");
    expect(formatDb(3, { sign: true })).toBe("+3.0");
    expect(formatDb(-0.04)).toBe("0.0");
    expect(formatDb(null)).toBe("−∞");
    expect(formatDb(-Infinity)).toBe("−∞");
    expect(formatDb(NaN)).toBe("—");
    expect(formatDb(-1.005, { digits: 2 })).toBe("−1.00");
  });
  it("tell time as long as it is, and never sixty seconds", () => {
    expect(formatTime(3)).toBe("0:03");
    expect(formatTime(59.96, 1)).toBe("1:00.0");
    expect(formatTime(3849.25, 2)).toBe("1:04:09.25");
    expect(formatTime(-1)).toBe("0:00");
    expect(formatClock(3849.2504)).toBe("01:04:09.250");
    expect(formatClock(59.9996)).toBe("00:01:00.000");
    fc.assert(
      fc.property(fc.double({ min: 0, max: 200_000, noNaN: true }), (seconds) => {
        const parts = formatTime(seconds, 1).split(":").map(Number);
        expect(parts.slice(1).every((part) => part < 60)).toBe(true);
        const total = parts.reduce((sum, part) => sum * 60 + part, 0);
        expect(Math.abs(total - seconds)).toBeLessThanOrEqual(0.051);
      }),
    );
  });
  it("tell rates and sizes", () => {
    expect(formatRate(44100)).toBe("44.1 kHz");
    expect(formatRate(48000)).toBe("48 kHz");
    expect(formatBytes(0)).toBe("0 bytes");
    expect(formatBytes(3_400_000)).toBe("3.4 MB");
    expect(formatBytes(69_120_000)).toBe("69 MB");
  });
});

describe("decibels", () => {
  it("are exact where they must be", () => {
    expect(dbToGain(0)).toBe(1);
    expect(dbToGain(-Infinity)).toBe(0);
    expect(gainToDb(0)).toBe(-Infinity);
    expect(finiteOrNull(gainToDb(0))).toBeNull();
    expect(powerToDb(100)).toBeCloseTo(20, 12);
  });
  it("go there and back", () => {
    fc.assert(
      fc.property(fc.double({ min: -200, max: 60, noNaN: true }), (db) => {
        expect(Math.abs(gainToDb(dbToGain(db)) - db)).toBeLessThan(1e-9);
      }),
    );
  });
});
