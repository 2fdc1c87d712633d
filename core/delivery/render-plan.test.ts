import { describe, expect, it } from "vitest";
import { layoutNamed } from "../audio/layout";
import { memoryFrames, noise } from "../testing/signals";
import { newTags } from "../files/tags";
import { newFormat, recipeSchema } from "./recipe";
import { foldWarning, masterLayout, planOf } from "./render-plan";

const RATE = 48_000;
const layout = (name: string) => layoutNamed(name)!;
const recipe = (format: Parameters<typeof newFormat>[0]) => ({ format: newFormat(format) });

describe("the channels of a master", () => {
  it.each([
    ["5.1", "wav", "all", "5.1"],
    ["5.1", "mp3", "all", "stereo"],
    ["5.1", "mp3", "5.1", "stereo"],
    ["5.1", "opus", "all", "5.1"],
    ["7.1.4", "flac", "all", "5.1"],
    ["7.1.4", "flac", "stereo", "stereo"],
    ["7.1.4", "bw64", "all", "7.1.4"],
    ["stereo", "mp3", "mono", "mono"],
    ["mono", "mp3", "all", "mono"],
  ] as const)("of %s in %s, asked for %s, are %s", (from, container, channels, to) => {
    expect(masterLayout(recipe({ container, channels }), layout(from)).name).toBe(to);
  });
  it("that are fewer though nobody asked for that are told, with the reason", () => {
    expect(foldWarning(recipe({ container: "mp3" }), layout("5.1"))).toBe(
      "Folded down from 5.1 to stereo: MP3 holds no more than 2 channels.",
    );
    expect(foldWarning(recipe({ container: "mp3", channels: "stereo" }), layout("5.1"))).toBeNull();
    expect(foldWarning(recipe({ container: "wav" }), layout("5.1"))).toBeNull();
  });
  it("are what is written, folded down by the matrix of its name", () => {
    const block = Array.from({ length: 6 }, (_, c) => noise(0.1, RATE, -20, c));
    const job = {
      source: memoryFrames(block, RATE),
      layout: layout("5.1"),
      sourceBits: null,
      recipe: recipeSchema.parse({ format: { container: "mp3" } }),
      tags: newTags({ title: "Weir" }),
    };
    const plan = planOf(job);
    expect(plan.format.layout.name).toBe("stereo");
    expect(plan.fold).not.toBeNull();
  });
});
