import { newTags } from "../files/tags";
import { newFormat } from "../delivery/recipe";
import { describe, expect, it } from "vitest";
import { newChainEntry, processorNamed, PROCESSORS, type ChainEntry } from "../processors";
import { layoutNamed } from "../audio/layout";
import { joined, memoryFrames, noise, sameBits, sine } from "../testing/signals";
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

describe("an external key", () => {
  const RATE = 48_000;
  const layout = layoutNamed("mono")!;
  const keyed = { sampleRate: RATE, layout, keys: ["voice"] };
  const tone = sine(440, -20, 1, RATE);
  /** Silent, but for a burst from 0.5 s on. */
  const key = noise(1, RATE, -6, 5).map((v, i) => (i < RATE / 2 ? 0 : v));
  const compressor = (changes: object = {}): ChainEntry => ({
    ...newChainEntry("compressor", "c"),
    ratio: 8,
    thresholdDb: -30,
    attackMs: 0.1,
    ...changes,
  });
  const through = (chain: ChainEntry[], format: typeof keyed = keyed, carried = [tone, key]) => {
    const stage = new ChainStage(chain, format);
    return joined(stage.push(carried)[0]!, stage.finish()[0] ?? new Float32Array(0));
  };

  it.each(["compressor", "expander", "de-esser"])("is what a %s listens to in the place of its own sound", (type) => {
    const entry = { ...newChainEntry(type, "c"), key: "voice" };
    const [quiet, loud] = [new Float32Array(RATE), noise(1, RATE, -3, 5)];
    const [one, other] = [through([entry], keyed, [tone, quiet]), through([entry], keyed, [tone, loud])];
    expect(one.some((v, i) => Math.abs(v - other[i]!) > 1e-4)).toBe(true);
    const { key: _, ...own } = entry;
    expect(sameBits([through([own], keyed, [tone, quiet])], [through([own], keyed, [tone, loud])])).toBe(true);
  });
  it("holds back from the key's first sample on, whatever delays the stream before", () => {
    for (const lookAheadMs of [0, 5]) {
      const before = compressor({ ratio: 1, lookAheadMs });
      const y = through([before, compressor({ key: "voice" })]);
      expect(y).toHaveLength(RATE);
      const differs = y.findIndex((v, i) => Math.abs(v - tone[i]!) > 1e-6);
      expect(differs).toBeGreaterThanOrEqual(RATE / 2);
      expect(differs).toBeLessThan(RATE / 2 + 60);
    }
  });
  it("that the stream does not carry is its own sound, as it is without one", () => {
    const own = through([compressor()]);
    expect(sameBits([through([compressor({ key: "gone" })])], [own])).toBe(true);
    expect(
      sameBits([through([compressor({ key: "voice" })], { sampleRate: RATE, layout, keys: [] }, [tone])], [own]),
    ).toBe(true);
  });
  it("is left alone, and is not among what comes out", () => {
    const kept = key.slice();
    const stage = new ChainStage([compressor({ key: "voice" })], keyed);
    expect(stage.push([tone, key])).toHaveLength(1);
    expect(new ChainStage([], keyed).push([tone, key])).toHaveLength(1);
    expect(sameBits([key], [kept])).toBe(true);
  });
  it("of one side is that side of the key", () => {
    const stereo = { sampleRate: RATE, layout: layoutNamed("stereo")!, keys: ["voice"] };
    const entry = compressor({ key: "voice", sides: "left" });
    const silent = new Float32Array(RATE);
    const [left] = new ChainStage([entry], stereo).push([tone, tone, key, silent]);
    const [same] = new ChainStage([entry], stereo).push([tone, tone, silent, key]);
    expect(sameBits([same!], [tone])).toBe(true);
    expect(sameBits([left!], [tone])).toBe(false);
  });
});
