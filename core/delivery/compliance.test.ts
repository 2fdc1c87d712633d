import { describe, expect, it } from "vitest";
import { specNamed, SPECS } from "./specs";
import { deliverySpecSchema } from "./spec";
import { check, marginWords, partSpec } from "./compliance";

describe("delivery specs", () => {
  it.each(SPECS.map((spec) => [spec.id, spec] as const))("%s is well-formed, and its own target passes", (_, spec) => {
    expect(deliverySpecSchema.parse(spec)).toEqual(spec);
    const file = {
      container: spec.fileRequirements?.containers?.[0] ?? "wav",
      sampleRate: spec.fileRequirements?.sampleRates?.[0] ?? 48000,
      depth: spec.fileRequirements?.depths?.[0] ?? "24",
      layout: spec.fileRequirements?.layouts?.[0] ?? "stereo",
      bitrateKbps: null,
      variable: false,
    } as const;
    const verdict = check(
      spec,
      {
        integratedLufs: spec.target,
        dialogueLufs: spec.target,
        headRoomToneSeconds: 0.7,
        tailRoomToneSeconds: 2,
        headSilenceSeconds: 0,
        tailSilenceSeconds: 0,
        truePeakPerChannelDbtp: [spec.ceilingDbtp - 1, spec.ceilingDbtp - 2],
        truePeakDbtp: spec.ceilingDbtp - 1,
        samplePeakDbfs: spec.ceilingDbtp - 1,
        rmsDbfs: -20,
        noiseFloorDbfs: -70,
        shortTermMaxLufs: -30,
        durationSeconds: 30,
      },
      file,
    );
    expect(verdict.pass).toBe(true);
  });
  it("are refused by name when unknown", () => expect(() => specNamed("x")).toThrow(/there are: ebu-r128/));
});

describe("verdicts", () => {
  const spec = specNamed("ebu-r128");
  const [loudness, peak] = spec.limits;
  it("give margins with their sign and the nearest limit", () => {
    const { limits, status, pass } = check(spec, { integratedLufs: -21.6, truePeakDbtp: -1.05 });
    expect(limits[0]!.margin).toBeCloseTo(-0.9, 9);
    expect(limits.map((limit) => limit.status)).toEqual(["fail", "marginal"]);
    expect({ status, pass }).toEqual({ status: "fail", pass: false });
  });
  it("say it in words, and never round a miss away", () => {
    expect(marginWords(loudness, -23.2)).toBe("0.3 LU to spare");
    expect(marginWords(loudness, -21.6)).toBe("0.9 LU over");
    expect(marginWords(loudness, -25)).toBe("1.5 LU under");
    expect(marginWords(peak, -0.98)).toBe("0.02 dB over");
    expect(marginWords(undefined, -3)).toBe("no limit");
    expect(marginWords(peak, null)).toBe("silent");
  });
  it("take silence as under every maximum and under every minimum", () => {
    expect(check(spec, { integratedLufs: null, truePeakDbtp: null }).limits.map(({ status }) => status)).toEqual([
      "fail",
      "pass",
    ]);
  });
  it("do not call unknown what was not measured inside", () => {
    expect(check(spec, { integratedLufs: -23 }).pass).toBe(false);
  });
});

describe("a file that is cut from a programme", () => {
  const spec = SPECS.find(({ id }) => id === "streaming-14")!;
  it("need not be as loud as the whole, and must hold the limit of peaks", () => {
    const part = partSpec(spec);
    expect(check(part, { integratedLufs: -27, truePeakDbtp: -3 }).pass).toBe(true);
    expect(check(part, { integratedLufs: -14, truePeakDbtp: 0.4 }).pass).toBe(false);
    expect(check(spec, { integratedLufs: -27, truePeakDbtp: -3 }).pass).toBe(false);
  });
});
