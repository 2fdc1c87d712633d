import { describe, expect, it } from "vitest";
import { Measurer } from "../measure";
import { layoutNamed } from "../audio/layout";
import { CONFORMANCE_CASES } from "./cases";
import { runCase } from "./run";
import { toneOf } from "./signals";

// The lowest and the highest rate are run by tests/cli.spec.ts, all six by "resonum conformance".
describe.each([48_000])("the meter conforms at %i Hz", (sampleRate) => {
  it.each(CONFORMANCE_CASES.map((one) => [`${one.standard}: ${one.description}`, one] as const))("%s", (_, one) => {
    for (const result of runCase(one, sampleRate)) {
      expect({ ...result, pass: true }).toEqual(result);
      // The standards allow more; so much is promised here.
      const promised = result.unit === "LUFS" ? 0.05 : result.unit === "LU" ? 0.1 : 0.2;
      if (result.unit !== "dBTP") expect(Math.abs(result.measured! - result.expected)).toBeLessThanOrEqual(promised);
    }
  });
});

describe("the conformance run", () => {
  it("can fail: a meter that reads another signal does not pass", () => {
    const one = CONFORMANCE_CASES.find(({ id }) => id === "3341-1")!;
    const louder = { ...one, make: (_: number, rate: number) => [0, 0].map(() => toneOf([[-22.8, 20]], rate)) };
    expect(runCase(louder, 48_000).every(({ pass }) => !pass)).toBe(true);
    const silent = { ...one, make: () => [0, 0].map(() => new Float32Array(48_000)) };
    expect(runCase(silent, 48_000)[0]).toMatchObject({ measured: null, pass: false });
  });
  it("has a case for each synthesizable signal of the standards, and none twice", () => {
    const numbers = (standard: string) =>
      CONFORMANCE_CASES.filter(({ id }) => id.startsWith(standard)).map(({ id }) => Number(id.slice(5)));
    expect(numbers("3341")).toEqual([1, 2, 3, 4, 5, 6, 9, 10, 11, 12, 13, 14, 15, 16, 17, 18, 19, 20, 21, 22, 23]);
    expect(numbers("3342")).toEqual([1, 2, 3, 4]);
  });
  it("makes signals of the level that they name", () => {
    const measurer = new Measurer({ sampleRate: 48_000, layout: layoutNamed("mono")! });
    measurer.process([toneOf([[-20, 2]], 48_000)]);
    expect(measurer.result().figures.samplePeakDbfs).toBeCloseTo(-20, 2);
  });
});
