import { describe, expect, it } from "vitest";
import { createProcessor, PROCESSORS, type ChainEntry } from "../process";
import { layoutNamed } from "../signal/layout";
import { memoryFrames, noise, sameBits } from "../testing/signals";
import { MemorySink, memorySource } from "../files/bytes";
import { ChainStage } from "./chain-stage";
import { renderMaster } from "./master";

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
      recipe: { repairs: [], chain: [gain(60), gain(60)], format: { bits: "24" as const } },
      title: "Runaway",
    };
    const target = { open: async () => sink, readBack: async () => memorySource(sink.bytes()) };
    await expect(renderMaster(job, target)).rejects.toThrow(/Gain ran away. Bypass it/);
  });
});

describe("every processor", () => {
  it.each(PROCESSORS.map(({ id }) => id))("%s keeps its latency when it is bypassed with others beside it", (id) => {
    const entry = { ...gain(0), type: id, bypass: false } as ChainEntry;
    const { latency } = createProcessor(entry, FORMAT, 0);
    const stage = new ChainStage([entry], FORMAT);
    expect(stage.latency).toBe(latency);
    const x = [noise(0.05, 48000, -12, 3), noise(0.05, 48000, -12, 4)];
    const through = new ChainStage([{ ...entry, bypass: true }], FORMAT);
    expect(sameBits(through.push(x), x)).toBe(true);
  });
});
