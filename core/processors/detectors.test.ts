import { describe, expect, it } from "vitest";
import { ChainStage } from "../render/chain-stage";
import { layoutNamed } from "../audio/layout";
import { joined, noise, sameBits, sine } from "../testing/signals";
import { chainEntrySchema, createProcessor, newChainEntry, PROCESSORS, settingsOf, type ChainEntry } from ".";

const FORMAT = { sampleRate: 48000, layout: layoutNamed("stereo")! };
const LOUD = [noise(1, 48000, -6, 1), noise(1, 48000, -6, 2)];

const heard = (entry: ChainEntry, block: Float32Array[]) => new ChainStage([entry], FORMAT).push(block);
const powerOf = (x: Float32Array) => x.reduce((sum, v) => sum + v * v, 0) / x.length;

describe("gain reductions", () => {
  it.each(PROCESSORS.map((definition) => [definition.id, definition] as const))(
    "of %s have as many names as values, whatever it is set to",
    (id, definition) => {
      for (const settings of [{}, ...definition.presets.map((preset) => preset.settings)]) {
        const entry = { ...newChainEntry(id, "x"), ...settings } as ChainEntry;
        const processor = createProcessor(entry, FORMAT, 0);
        processor.process(
          LOUD.map((x) => x.slice()),
          48000,
        );
        const told = processor.takeGainReduction?.().length ?? 0;
        const names = definition.reductionNames?.(settingsOf(entry)) ?? [];
        expect(told).toBe(names.length);
        expect(new Set(names).size).toBe(names.length);
      }
    },
  );
});

describe("what detectors listen to", () => {
  it("is the sound between the corners of a side chain", () => {
    const block = [100, 1000, 10_000].map((hertz) => sine(hertz, -20, 1, 48000));
    const [low, mid, high] = block.map((tone) => {
      const entry = { ...newChainEntry("compressor", "x"), sidechainHighPassHz: 500, sidechainLowPassHz: 3000 };
      return powerOf(heard({ ...entry, monitored: "detector" }, [tone, tone])[0]!.subarray(24000)) / powerOf(tone);
    });
    expect(mid).toBeGreaterThan(0.9);
    expect(low).toBeLessThan(0.01);
    expect(high).toBeLessThan(0.05);
  });

  it("is the whole sound where nothing is filtered, and the settings stay what they were", () => {
    const entry = newChainEntry("compressor", "x");
    expect(sameBits(heard({ ...entry, monitored: "detector" }, LOUD), LOUD)).toBe(true);
    expect(sameBits(heard(entry, LOUD), LOUD)).toBe(false);
  });

  it("can never be kept in a document", () => {
    expect(chainEntrySchema.safeParse({ ...newChainEntry("compressor", "x"), monitored: "detector" }).success).toBe(
      false,
    );
  });
});

describe("the band of a de-esser", () => {
  const deEsser = (settings: object) => ({
    ...newChainEntry("de-esser", "x"),
    fromHz: 2500,
    toHz: 11_000,
    aboveDb: -30,
    maxReductionDb: 12,
    ...settings,
  });
  const lowered = (entry: ChainEntry, hertz: number) => {
    const tone = sine(hertz, -12, 1, 48000);
    const out = joined(heard(entry, [tone, tone])[0]!);
    return 10 * Math.log10(powerOf(out.subarray(24000)) / powerOf(tone.subarray(24000)));
  };

  it("is held back between its edges, and nothing above the upper one", () => {
    expect(lowered(deEsser({}), 5200)).toBeLessThan(-10);
    expect(Math.abs(lowered(deEsser({}), 19_000))).toBeLessThan(1);
    expect(lowered(deEsser({ toHz: 20_000 }), 19_000)).toBeLessThan(-10);
  });

  it("adds up to the level that came where nothing is held back", () => {
    for (const hertz of [500, 2500, 5200, 11_000, 17_000])
      expect(Math.abs(lowered(deEsser({ aboveDb: 6 }), hertz))).toBeLessThan(0.05);
  });

  it("is what its detector lets through", () => {
    const through = (hertz: number) => {
      const tone = sine(hertz, -12, 1, 48000);
      return (
        powerOf(heard({ ...deEsser({}), monitored: "detector" }, [tone, tone])[0]!.subarray(24000)) / powerOf(tone)
      );
    };
    expect(through(5200)).toBeGreaterThan(0.7);
    expect(through(500)).toBeLessThan(1e-4);
    expect(through(20_000)).toBeLessThan(0.01);
  });

  it("reads settings of earlier versions, without the listening that could be left on", () => {
    const { toHz: _, ...earlier } = deEsser({ listen: true });
    expect(chainEntrySchema.parse(earlier)).toMatchObject({ fromHz: 2500, toHz: 20_000 });
    expect(chainEntrySchema.parse(earlier)).not.toHaveProperty("listen");
    expect(chainEntrySchema.parse({ ...earlier, alternateSettings: { listen: true } })).toMatchObject({
      alternateSettings: {},
    });
  });
});
