import { describe, expect, it } from "vitest";
import type { ChainEntry } from "../processors";
import { newChainEntry } from "../processors";
import { layoutNamed } from "../audio/layout";
import { joinedPlanar, type Planar } from "../audio/units";
import { memoryFrames, noise, sameBits } from "../testing/signals";
import { RENDER_SEGMENT, processedSource, renderSegments } from "./processed-source";

const RATE = 8000;
const FRAMES = (RENDER_SEGMENT + 20) * RATE;
const mono = layoutNamed("mono")!;
const source = memoryFrames([noise(RENDER_SEGMENT + 20, RATE, -6, 3)], RATE);
const chain: ChainEntry[] = [
  { ...newChainEntry("compressor", "c"), thresholdDb: -24, ratio: 3 },
  {
    ...newChainEntry("equaliser", "e"),
    bands: [{ shape: "bell", hertz: 300, gainDb: 6, q: 2, slope: "12", on: true, sides: "all" }],
  },
];
const work = { repairs: [], chain };

async function all(block: number): Promise<Planar> {
  const worked = processedSource(source, work, mono);
  const parts: Planar[] = [];
  for (let at = 0; at < FRAMES; at += block) parts.push(await worked.read(at, block));
  return joinedPlanar(parts, 1);
}

describe("work in segments", () => {
  it("covers all of an item, without gaps", () => {
    expect(renderSegments(FRAMES, RATE)).toEqual([
      { start: 0, end: RENDER_SEGMENT * RATE },
      { start: RENDER_SEGMENT * RATE, end: FRAMES },
    ]);
    expect(renderSegments(10, RATE)).toEqual([{ start: 0, end: 10 }]);
  });

  it("gives the same bits in blocks of any size, and by segments that are made apart, in any order", async () => {
    const whole = await all(65_536);
    expect(sameBits(await all(50_001), whole)).toBe(true);
    const [first, second] = renderSegments(FRAMES, RATE);
    const apart = processedSource(source, work, mono);
    const late = await apart.read(second!.start, second!.end - second!.start);
    const early = await apart.read(first!.start, first!.end - first!.start);
    expect(sameBits(joinedPlanar([early, late], 1), whole)).toBe(true);
    // And from the middle of one.
    const at = second!.start + 4321;
    const [part] = await processedSource(source, work, mono).read(at, 1000);
    expect(part).toEqual(whole[0]!.subarray(at, at + 1000));
  });

  it("goes over a joint below −140 dB of what one run would give", async () => {
    const { ChainStage } = await import("./chain-stage");
    const stage = new ChainStage(chain, { sampleRate: RATE, layout: mono });
    const run = stage.push(await source.read(0, FRAMES));
    const rest = stage.finish();
    const [plain] = joinedPlanar(rest.length > 0 ? [run, rest] : [run], 1);
    const [segmented] = await all(65_536);
    let worst = 0;
    for (let i = RENDER_SEGMENT * RATE; i < FRAMES; i++) worst = Math.max(worst, Math.abs(plain![i]! - segmented![i]!));
    expect(20 * Math.log10(worst || 1e-12)).toBeLessThan(-140);
  });
});
