import { describe, expect, it } from "vitest";
import type { Curves } from "../measure";
import { specNamed } from "./specs";
import { limitViolations } from "./limit-violations";
import { deliverySpecSchema } from "./spec";
import { albumFigures, check, checkAlbum } from "./compliance";

const file = {
  container: "wav",
  sampleRate: 44100,
  depth: "16",
  layout: "stereo",
  bitrateKbps: null,
  variable: false,
} as const;

describe("demands on files", () => {
  it("are each told, with what was asked for", () => {
    const spec = specNamed("cd-44-16");
    const figures = { truePeakDbtp: -1, durationSeconds: 200 };
    expect(check(spec, figures, file).pass).toBe(true);
    const wrong = check(spec, figures, { ...file, sampleRate: 48000, depth: "24", container: "mp3", layout: "5.1" });
    expect(wrong).toMatchObject({ pass: false, status: "fail" });
    expect(wrong.fileRequirements.filter(({ met }) => !met).map(({ what }) => what)).toEqual([
      "Sample rate",
      "Kind of file",
      "Channels",
    ]);
  });
  it("ask for a constant rate of lossy files alone", () => {
    const spec = specNamed("audiobook-retail");
    const figures = { rmsDbfs: -20, samplePeakDbfs: -4, noiseFloorDbfs: -70, durationSeconds: 60 };
    const mp3 = { ...file, container: "mp3", layout: "mono", bitrateKbps: 128, variable: true } as const;
    const missed = check(spec, figures, mp3).fileRequirements.filter(({ met }) => !met);
    expect(missed.map(({ value }) => value)).toEqual(["128 kbit/s", "variable"]);
    expect(
      check(spec, figures, { ...mp3, bitrateKbps: 192, variable: false }).fileRequirements.every(({ met }) => met),
    ).toBe(true);
  });
});

describe("limits of a whole order and of each channel", () => {
  it("take the loudest item, and the sum of lengths", () => {
    const items = [
      { integratedLufs: -16, durationSeconds: 100 },
      { integratedLufs: -14.1, durationSeconds: 200 },
    ];
    expect(albumFigures(items)).toEqual({ integratedLufs: -14.1, durationSeconds: 300 });
    expect(checkAlbum(specNamed("aes77-music-album"), items, []).pass).toBe(true);
    expect(checkAlbum(specNamed("aes77-music-album"), [{ integratedLufs: -16 }], []).pass).toBe(false);
    expect(checkAlbum(specNamed("audiobook-retail"), items, ["mono", "stereo"]).fileRequirements).toMatchObject([
      { met: false },
    ]);
    expect(checkAlbum(specNamed("audiobook-retail"), items, ["mono", "mono"]).pass).toBe(true);
  });
  it("name the worst channel", () => {
    const verdict = check(specNamed("immersive-18"), {
      integratedLufs: -20,
      truePeakDbtp: -0.5,
      truePeakPerChannelDbtp: [-3, -0.5, -9],
    });
    expect(verdict.limits.at(-1)).toMatchObject({ channel: 1, value: -0.5, status: "fail" });
  });
});

describe("places where limits are broken", () => {
  it("are told from beginning to end, with the worst", () => {
    const curve = (values: number[], hopSeconds: number) => ({
      hopSeconds,
      columns: 1,
      values: Float32Array.from(values),
    });
    const quiet = curve([], 0.1);
    const curves = {
      shortTermLufs: curve([-20, -17, -16.5, -19, -19, -17.9], 1),
      momentaryLufs: quiet,
      samplePeakDbfs: quiet,
    } as unknown as Curves;
    const places = limitViolations(specNamed("ebu-r128-s1"), curves);
    expect(places).toEqual([
      { figure: "shortTermMaxLufs", startSeconds: 1, endSeconds: 3, worst: -16.5 },
      { figure: "shortTermMaxLufs", startSeconds: 5, endSeconds: 6, worst: Math.fround(-17.9) },
    ]);
  });
});

describe("specs of one's own", () => {
  const spec = specNamed("ebu-r128");
  it("are the same after JSON", () => expect(deliverySpecSchema.parse(JSON.parse(JSON.stringify(spec)))).toEqual(spec));
  it("are refused with what is wrong", () => {
    const problem = (change: object) =>
      deliverySpecSchema
        .safeParse({ ...spec, ...change })
        .error?.issues.map(({ message }) => message)
        .join() ?? "";
    expect(problem({ id: "Own Spec" })).toMatch(/small letters/);
    expect(problem({ limits: [{ figure: "rmsDbfs", close: 0, clause: "" }] })).toMatch(/lowest or a highest/);
    expect(problem({ limits: [{ figure: "rmsDbfs", min: -10, max: -20, close: 0, clause: "" }] })).toMatch(
      /above its highest/,
    );
  });
});
