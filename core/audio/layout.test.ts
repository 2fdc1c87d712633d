import { describe, expect, it } from "vitest";
import { loudness } from "../measure/loudness";
import { emptyPlanar } from "./units";
import { measuredBy } from "../testing/measured";
import { sine } from "../testing/signals";
import { stereoDownmix } from "./downmix";
import {
  LAYOUTS,
  layoutForChannels,
  layoutFromMask,
  layoutNamed,
  loudnessWeight,
  maskOfLayout,
  speakerGroups,
} from "./layout";

describe("channel layouts", () => {
  it.each(LAYOUTS.map((layout) => [layout.name, layout] as const))(
    "%s: each channel alone reads its weight by BS.1770-5 Annex 3",
    (_, layout) => {
      const tone = sine(997, -20, 1, 16_000);
      const reads = (channel: number) => {
        const block = emptyPlanar(layout.speakers.length, tone.length);
        block[channel] = tone;
        return measuredBy(loudness, block, { sampleRate: 16_000, layout }).figures.integratedLufs;
      };
      const middle = reads(layout.speakers.findIndex((speaker) => loudnessWeight(speaker) === 1))!;
      layout.speakers.forEach((speaker, channel) => {
        const { azimuth, elevation, lfe, label } = speaker;
        const beside = Math.abs(azimuth) >= 60 && Math.abs(azimuth) <= 120 && Math.abs(elevation) < 30;
        const expected = lfe ? null : middle + (beside ? 10 * Math.log10(1.41) : 0);
        const read = reads(channel);
        if (expected === null) expect({ label, read }).toEqual({ label, read: null });
        else expect(Math.abs(read! - expected)).toBeLessThan(1e-6);
      });
    },
  );
  it("weigh what the standard weighs", () => {
    const weights = (name: string) => layoutNamed(name)!.speakers.map(loudnessWeight);
    expect(weights("5.1")).toEqual([1, 1, 1, 0, 1.41, 1.41]);
    expect(weights("7.1.4")).toEqual([1, 1, 1, 0, 1.41, 1.41, 1, 1, 1, 1, 1, 1]);
    expect(weights("22.2").filter((weight) => weight === 0)).toHaveLength(2);
  });
  it("come from a WAVE mask and go back to it", () => {
    for (const [mask, channels, name] of [
      [0x3, 2, "stereo"],
      [0x3f, 6, "5.1"],
      [0x60f, 6, "5.1"],
      [0x63f, 8, "7.1"],
      [0x4, 1, "mono"],
    ] as const) {
      expect(layoutFromMask(mask, channels)?.name).toBe(name);
    }
    expect(layoutFromMask(0x3f, 5)).toBeUndefined();
    expect(layoutFromMask(0, 0)).toBeUndefined();
    expect(maskOfLayout(layoutNamed("7.1")!)).toBe(0x63f);
    expect(maskOfLayout(layoutNamed("7.1.4")!)).toBe(0); // its order is not the mask's
  });
  it("are assumed by number where a file says nothing, numbered where none fits", () => {
    expect(layoutForChannels(12).name).toBe("7.1.4");
    expect(layoutForChannels(17).speakers.map(({ label }) => label)).toContain("17");
  });
});

describe("groups of speakers", () => {
  const groups = (name: string) =>
    speakerGroups(layoutNamed(name)!).map((group) => [group.name, group.channels.length]);
  it("stand where their speakers do, front first", () => {
    expect(groups("7.1.4")).toEqual([
      ["front", 3],
      ["surrounds", 4],
      ["heights", 4],
    ]);
    expect(groups("5.1")).toEqual([
      ["front", 3],
      ["surrounds", 2],
    ]);
  });
  it("are neither all channels nor one", () => {
    expect(groups("stereo")).toEqual([]);
    expect(groups("mono")).toEqual([]);
  });
});

describe("fold-down", () => {
  it("leaves mono and stereo as they are", () => {
    expect(stereoDownmix(layoutNamed("mono")!)).toEqual([[1, 1]]);
    expect(stereoDownmix(layoutNamed("stereo")!)).toEqual([
      [1, 0],
      [0, 1],
    ]);
  });
  it("is BS.775's for 5.1: centre and surrounds at −3 dB, LFE left out", () => {
    const half = Math.SQRT1_2;
    const expected = [1, 0, 0, 1, half, half, 0, 0, half, 0, 0, half];
    stereoDownmix(layoutNamed("5.1")!)
      .flat()
      .forEach((gain, i) => expect(gain).toBeCloseTo(expected[i]!, 12));
  });
});
