import { describe, expect, it } from "vitest";
import { ChainStage } from "../render/chain-stage";
import { layoutNamed } from "../audio/layout";
import { newChainEntry, type ChainEntry } from "../processors";
import { speechLike } from "../testing/degraded";
import { joined, memoryFrames, noise } from "../testing/signals";
import { align, alignedAt } from "./alignment";

const RATE = 16_000;
const MONO = { sampleRate: RATE, layout: layoutNamed("mono")! };
const music = noise(9, RATE, -12, 5).map((v, i, all) => 0.7 * v + 0.3 * (all[i - 40] ?? 0));
const speech = speechLike(9, RATE, 3);

function through(x: Float32Array, ...chain: ChainEntry[]): Float32Array {
  const stage = new ChainStage(chain, MONO);
  return joined(stage.push([x])[0]!, ...stage.finish());
}
const entry = (type: string, settings: object): ChainEntry => ({ ...newChainEntry(type, type), ...settings });

/** Crossovers of the fourth order turn the phase by a whole turn at each corner; levels stay as they were. */
const crossovers = entry("multiband", {
  bands: [200, 800, 3000, 18_000].map((crossoverHz, n) => ({
    crossoverHz,
    thresholdDb: 0,
    ratio: 1,
    kneeDb: 0,
    attackMs: 10,
    releaseMs: 100,
    gainDb: n === 1 ? 0.1 : 0,
    solo: false,
  })),
});
const tone = entry("equaliser", {
  bands: [
    { shape: "low shelf", hertz: 300, gainDb: -12, q: 0.7, slope: "12", on: true, sides: "all" },
    { shape: "high shelf", hertz: 2500, gainDb: 12, q: 0.7, slope: "12", on: true, sides: "all" },
  ],
});

/** A quarter of a turn at all frequencies: the waveform has nothing in common with what it was. */
function quarterTurned(x: Float32Array): Float32Array {
  const reach = 400;
  return x.map((_, i) => {
    let sum = 0;
    for (let k = 1; k <= reach; k += 2) sum += ((x[i - k] ?? 0) - (x[i + k] ?? 0)) / k;
    return (2 / Math.PI) * sum;
  });
}

describe("recordings whose phases or tone were changed", () => {
  it.each([
    ["music", music],
    ["speech", speech],
  ] as const)("%s behind crossovers of four bands lies where it lay, to three samples", async (_, x) => {
    const later = joined(new Float32Array(1234), through(x, crossovers));
    const found = await align(memoryFrames([x], RATE), memoryFrames([later], RATE));
    // Crossovers delay by as much themselves.
    expect(Math.abs(found.shift - 1234)).toBeLessThanOrEqual(3);
    expect(found.likeness).toBeGreaterThan(0.6);
  });

  it("a turn by a quarter leaves nothing of the waveform, and is found to the sample", async () => {
    const later = joined(new Float32Array(777), quarterTurned(speech));
    const found = await align(memoryFrames([speech], RATE), memoryFrames([later], RATE));
    expect(found.by).toBe("octaves");
    expect(found.shift).toBe(777);
    expect(found.likeness).toBeGreaterThan(0.95);
    expect(Math.abs(found.gainDb)).toBeLessThan(0.3);
  });

  it("an equaliser does not make it another recording", async () => {
    const found = await alignedAt(memoryFrames([speech], RATE), memoryFrames([through(speech, tone)], RATE), 0);
    expect(found.likeness).toBeGreaterThan(0.7);
  });

  it("polarity is told where phases are left", async () => {
    const found = await alignedAt(
      memoryFrames([speech], RATE),
      memoryFrames([through(speech, tone).map((v) => -v)], RATE),
      0,
    );
    expect(found.inverted).toBe(true);
  });

  it("another recording stays another one", async () => {
    const other = speechLike(9, RATE, 11);
    const found = await align(memoryFrames([speech], RATE), memoryFrames([other], RATE));
    expect(found.likeness).toBeLessThan(0.45);
  });
});
