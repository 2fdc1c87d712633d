import { describe, expect, it } from "vitest";
import { DOWNMIX_TARGETS, downmixed, downmixMatrix, STANDARD_DOWNMIX } from "./downmix";
import { LAYOUTS, layoutNamed } from "./layout";

const of = (name: string) => layoutNamed(name)!;

describe("folding (ITU-R BS.775)", () => {
  it("of 5.1 to stereo takes centre and surrounds at −3 dB and leaves the LFE out", () => {
    const [left, right] = downmixMatrix(of("5.1"), "stereo")!;
    [1, 0, 0.7071, 0, 0.7071, 0].forEach((gain, c) => expect(left![c]).toBeCloseTo(gain, 4));
    [0, 1, 0.7071, 0, 0, 0.7071].forEach((gain, c) => expect(right![c]).toBeCloseTo(gain, 4));
  });
  it("of stereo to mono halves the sum", () => expect(downmixMatrix(of("stereo"), "mono")).toEqual([[0.5, 0.5]]));
  it("takes other coefficients", () => {
    const [left] = downmixMatrix(of("7.1.4"), "stereo", {
      ...STANDARD_DOWNMIX,
      centreDb: -6.0206,
      heightDb: -Infinity,
    })!;
    const gainScope = (label: string) => left![of("7.1.4").speakers.findIndex((speaker) => speaker.label === label)];
    expect(gainScope("C")).toBeCloseTo(0.5, 4);
    expect(gainScope("Ltf")).toBe(0);
  });
  it("keeps the LFE and the sides apart in 5.1", () => {
    const matrix = downmixMatrix(of("7.1.4"), "5.1")!;
    expect(matrix[3]!.filter((gain) => gain > 0)).toEqual([1]);
    expect(matrix[0]!.indexOf(1)).toBe(0);
    expect(matrix[4]!.filter((gain) => gain > 0).length).toBeGreaterThan(1);
  });
  it("has nothing to fold where there are no more channels", () => {
    expect(downmixMatrix(of("stereo"), "stereo")).toBeNull();
    expect(downmixMatrix(of("5.1"), "5.1")).toBeNull();
  });
  it.each(LAYOUTS.filter(({ speakers }) => speakers.length > 6).map((layout) => [layout.name, layout] as const))(
    "of %s loses no channel but the LFE, and treats left and right alike",
    (_, layout) => {
      for (const target of DOWNMIX_TARGETS) {
        const matrix = downmixMatrix(layout, target)!;
        layout.speakers.forEach(({ lfe }, channel) => {
          const power = matrix.reduce((sum, gains) => sum + gains[channel]! ** 2, 0);
          if (!lfe) expect(power).toBeGreaterThan(0.05);
        });
        if (target === "mono") continue;
        const sum = (row: number) => matrix[row]!.reduce((total, gain) => total + gain, 0);
        expect(sum(0)).toBeCloseTo(sum(1), 12);
      }
    },
  );
  it("adds up samples", () => {
    const block = [Float32Array.of(1, 0), Float32Array.of(0, 1)];
    expect(Array.from(downmixed(block, [[0.5, 0.5]], 2)[0]!)).toEqual([0.5, 0.5]);
  });
});
