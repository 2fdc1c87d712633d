import { describe, expect, it } from "vitest";
import { powerAt } from "../dsp/analogue-filter";
import { powerToDb } from "../audio/decibel";
import { biquadsOfBand, type EqualiserBand } from "./equaliser";
import { fittedBands } from "./fit-bands";

const levelAt = (bands: EqualiserBand[], hertz: number): number =>
  powerToDb(bands.flatMap(biquadsOfBand).reduce((product, one) => product * powerAt(one, hertz), 1));
const PLACES = Array.from({ length: 60 }, (_, n) => 25 * 2 ** (n / 6.3));

describe("bands for a drawn curve", () => {
  it("follow two hills and a dip within half a decibel", () => {
    const curve = PLACES.map((hertz): [number, number] => {
      const hill = (at: number, db: number, width: number) => db * Math.exp(-((Math.log2(hertz / at) / width) ** 2));
      return [hertz, hill(120, 4, 1) + hill(900, -5, 0.8) + hill(6000, 3, 1.4)];
    });
    const bands = fittedBands(curve, 8);
    expect(bands.length).toBeLessThanOrEqual(8);
    for (const [hertz, db] of curve) expect(Math.abs(levelAt(bands, hertz) - db)).toBeLessThan(0.5);
  });
  it("find the very bands that a curve was made of", () => {
    const made: EqualiserBand[] = [
      { shape: "bell", hertz: 200, gainDb: -6, q: 1.5, slope: "12", on: true, sides: "all" },
      { shape: "bell", hertz: 3000, gainDb: 5, q: 0.8, slope: "12", on: true, sides: "all" },
    ];
    const found = fittedBands(
      PLACES.map((hertz): [number, number] => [hertz, levelAt(made, hertz)]),
      6,
    );
    expect(found).toHaveLength(2);
    expect(found[0]!.gainDb).toBeCloseTo(-6, 0);
    expect(found[1]!.hertz / 3000).toBeCloseTo(1, 1);
  });
  it("are none for a flat line", () => {
    expect(fittedBands([[20, 0]], 8)).toEqual([]);
  });
});
