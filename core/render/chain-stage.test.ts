import { newTags } from "../files/tags";
import { newFormat } from "../delivery/recipe";
import { describe, expect, it } from "vitest";
import { newChainEntry, processorNamed, PROCESSORS, type ChainEntry } from "../processors";
import { layoutNamed } from "../audio/layout";
import { joined, memoryFrames, noise } from "../testing/signals";
import { MemorySink, memorySource } from "../files/bytes";
import { ChainStage } from "./chain-stage";
import { renderMaster } from "../delivery/render-master";

const FORMAT = { sampleRate: 48000, layout: layoutNamed("stereo")! };
const gain = (gainDb: number, id = "g"): ChainEntry => ({ type: "gain", id, bypass: false, gainDb });

describe("a processor that fails", () => {
  const loud = [noise(0.1, 48000, 0, 1), noise(0.1, 48000, 0, 2)];
  it("is muted within the block, named, and lets the others go on", () => {
    const stage = new ChainStage([gain(60, "first"), gain(60, "second"), gain(0, "third")], FORMAT);
    const out = stage.push(loud);
    expect(out.every((x) => x.every((v) => v === 0))).toBe(true);
    expect(stage.failures).toEqual([{ entry: "second", why: "Gain ran away." }]);
  });
  it("is not seen where there is none", () => {
    const stage = new ChainStage([gain(6)], FORMAT);
    stage.push(loud);
    expect(stage.failures).toEqual([]);
  });
  it("ends a render with a sentence that names it", async () => {
    const sink = new MemorySink();
    const job = {
      source: memoryFrames(loud, 48000),
      layout: FORMAT.layout,
      sourceBits: null,
      recipe: { repairs: [], chain: [gain(60), gain(60)], format: newFormat() },
      tags: newTags({ title: "Runaway" }),
    };
    const target = { open: async () => sink, readBack: async () => memorySource(sink.bytes()) };
    await expect(renderMaster(job, target)).rejects.toThrow(/Gain ran away. Bypass it/);
  });
});

/** Lag of `y` behind `x` at which they are most alike, within ±600 frames. */
function lagOf(x: Float32Array, y: Float32Array): number {
  let [best, most] = [0, -Infinity];
  for (let lag = -600; lag <= 600; lag++) {
    let sum = 0;
    for (let i = 700; i < 3000; i++) sum += x[i]! * (y[i + lag] ?? 0);
    if (sum > most) [best, most] = [lag, sum];
  }
  return best;
}

describe("every processor", () => {
  it.each(PROCESSORS.map(({ id }) => id))("%s gives back what went in at its own time", (id) => {
    // A loop whose round trip was measured; all others as they begin.
    const { neutral } = processorNamed(id);
    const entry = { ...newChainEntry(id, "e"), ...(id === "outboard" ? neutral : {}) };
    const x = [noise(0.1, 48000, -30, 3), noise(0.1, 48000, -30, 4)];
    const stage = new ChainStage([entry], FORMAT);
    const [pushed, rest] = [stage.push(x), stage.finish()];
    // Crossovers without delay turn the phase, which looks like a few frames.
    x.forEach((own, c) =>
      expect(Math.abs(lagOf(own, joined(pushed[c]!, rest[c] ?? new Float32Array(0))))).toBeLessThanOrEqual(5),
    );
  });
});
