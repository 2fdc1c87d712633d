import { describe, expect, it } from "vitest";
import fc from "fast-check";
import { DecimatingSeries, GrowableArray, GrowableTable, SlidingSum } from "./decimating-series";

describe("tables that grow", () => {
  it("keep what was put in, however long they get", () => {
    const series = new GrowableArray();
    const table = new GrowableTable(3);
    for (let i = 0; i < 5000; i++) {
      series.push(i);
      table.addRow().set([i, 2 * i, 3 * i]);
    }
    expect(series.values()).toHaveLength(5000);
    expect(series.values()[4999]).toBe(4999);
    expect(table.rows).toBe(5000);
    expect(Array.from(table.values().slice(-3))).toEqual([4999, 9998, 14_997]);
  });
});

describe("a folding table", () => {
  it("keeps the sum of all that was added, in no more rows than it may have", () => {
    fc.assert(
      fc.property(fc.integer({ min: 1, max: 400 }), fc.integer({ min: 1, max: 3 }), (count, columns) => {
        const table = new DecimatingSeries(columns, 16 * columns);
        for (let i = 0; i < count; i++) table.next()[columns - 1]! += i;
        const values = table.values();
        expect(values.length / columns).toBeLessThanOrEqual(16);
        expect(values.reduce((sum, v) => sum + v, 0)).toBe((count * (count - 1)) / 2);
        expect(values.length / columns).toBe(Math.ceil(count / table.fold));
      }),
    );
  });
  it("has rows of equal length: each sums as many steps as any other", () => {
    const table = new DecimatingSeries(1, 8);
    for (let i = 0; i < 32; i++) table.next()[0]! += 1;
    expect(Array.from(table.values())).toEqual(new Array(8).fill(4));
  });
});

describe("a sliding sum", () => {
  it("is the sum of the last numbers, and forgets what is louder by 200 dB", () => {
    const sum = new SlidingSum(40);
    const all: number[] = [];
    for (let i = 0; i < 500; i++) {
      const value = i < 100 ? 1e20 : 1 + (i % 7);
      all.push(value);
      sum.push(value);
      const expected = all.slice(-40).reduce((total, v) => total + v, 0);
      expect(Math.abs(sum.sum - expected)).toBeLessThanOrEqual(1e-12 * expected);
      expect(sum.full).toBe(i >= 39);
    }
  });
});
