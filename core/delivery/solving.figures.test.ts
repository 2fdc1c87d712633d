/** What the solver does with specs that ask for more than a programme loudness. */
import { describe, expect, it } from "vitest";
import { MemorySink, memorySource } from "../files/bytes";
import { newTags } from "../files/tags";
import { Measurer, type Measured } from "../measure";
import { downmixMatrix, downmixed } from "../audio/downmix";
import { layoutNamed } from "../audio/layout";
import type { Planar } from "../audio/units";
import { specNamed } from "./specs";
import { SPEC_DEFAULTS, type DeliverySpec } from "./spec";
import { exactTruePeakDb, memoryFrames, noise } from "../testing/signals";
import { openSoundFile } from "../files/open";
import { renderMaster } from "./render-master";
import { renderSound } from "./write-master";
import type { MasterJob } from "./master-job";
import { correctedGain, gainFor, type GainTry, type LimitingModel } from "./limiting-model";
import { albumGain, gainToTarget, rangeOf } from "./normalisation";
import { levelsOf } from "./predict-chain";
import { predictDelivery } from "./predict-delivery";
import { recipeSchema } from "./recipe";

const RATE = 48000;

/** Noise whose level goes up and down by steps of a few seconds. */
function steps(levelsDb: number[], seconds: number, channels = 2): Planar {
  return Array.from({ length: channels }, (_, c) => {
    const x = noise(seconds * levelsDb.length, RATE, 0, c + 1);
    const length = seconds * RATE;
    return x.map((v, i) => v * 10 ** (levelsDb[Math.min(levelsDb.length - 1, Math.floor(i / length))]! / 20));
  });
}

function measured(block: Planar, layout = "stereo"): Measured {
  const measurer = new Measurer({ sampleRate: RATE, layout: layoutNamed(layout)! });
  measurer.process(block);
  return measurer.result();
}

const own = (change: Partial<DeliverySpec>): DeliverySpec => ({
  ...SPEC_DEFAULTS,
  id: "own",
  name: "Own",
  help: "",
  source: "own",
  edition: "1",
  target: -23,
  normalise: "gain and limiter",
  ceilingDbtp: -1,
  limits: [],
  ...change,
});

async function render(block: Planar, recipe: unknown, more: Partial<MasterJob> = {}, layout = "stereo") {
  let sink = new MemorySink();
  const job: MasterJob = {
    source: memoryFrames(block, RATE),
    layout: layoutNamed(layout)!,
    sourceBits: null,
    recipe: recipeSchema.parse(recipe),
    tags: newTags({ title: "Test" }),
    ...more,
  };
  const target = { open: async () => (sink = new MemorySink()), readBack: async () => memorySource(sink.bytes()) };
  const result = await renderMaster(job, target);
  return { result, bytes: sink.bytes(), job };
}

describe("the solver", () => {
  it("aims at RMS where that is the anchor, and leaves what is in its range alone", async () => {
    const spec = specNamed("audiobook-retail");
    const { result } = await render(
      steps([-40, -95, -40, -95], 2, 1),
      { spec: spec.id, format: { sampleRate: 44100 } },
      {},
      "mono",
    );
    expect(Math.abs(result.figures.rmsDbfs! - spec.target!)).toBeLessThan(0.05);
    const inside = await render(
      steps([-14, -95, -14, -95], 2, 1),
      { spec: spec.id, format: { sampleRate: 44100 } },
      {},
      "mono",
    );
    expect(inside.result.gainDb).toBe(0);
  });

  it("does not lift a floor over its limit as long as the level stays in its range, and says when it must", () => {
    const spec = specNamed("audiobook-retail");
    const figures = { rmsDbfs: -30, noiseFloorDbfs: -70 };
    // All the way to −20.5 would put the floor at −60.5, which is within 0.3 dB of the limit's room.
    expect(gainToTarget(spec, figures)).toBeCloseTo(9.5, 6);
    expect(gainToTarget(spec, { rmsDbfs: -30, noiseFloorDbfs: -68.5 })).toBeCloseTo(8.2, 6);
    // Here no gain is right: the level is brought to the low end, and the obstacle is told.
    expect(gainToTarget(spec, { rmsDbfs: -30, noiseFloorDbfs: -60 })).toBeCloseTo(7.3, 6);
    const { figures: all, curves } = measured(steps([-30, -62], 4, 1), "mono");
    const prediction = predictDelivery({ ...all, noiseFloorDbfs: -55 }, curves, [], spec);
    expect(prediction.obstacles.join()).toMatch(/noise floor/);
  });

  it("keeps the relations of a running order: one gain, the loudest at the target", async () => {
    const spec = specNamed("aes77-music-album");
    const items = [steps([-30], 4), steps([-24], 4), steps([-36], 4)];
    const gain = albumGain(
      spec,
      items.map((item) => measured(item).figures),
    );
    const loudness: number[] = [];
    for (const item of items) {
      const { result } = await render(item, { spec: spec.id }, { albumGainDb: gain });
      expect(result.gainDb).toBe(gain);
      loudness.push(result.figures.integratedLufs!);
    }
    expect(loudness[1]).toBeCloseTo(-14, 1);
    expect(loudness[1]! - loudness[0]!).toBeCloseTo(6, 1);
    expect(loudness[0]! - loudness[2]!).toBeCloseTo(6, 1);
  });

  it("rides a range that is too wide where the spec has it do so", async () => {
    const wide = steps([-36, -33, -30, -27, -24, -27, -30, -33, -36, -33, -30, -26, -22, -26, -30, -34], 4);
    const before = measured(wide).figures.loudnessRangeLu!;
    const spec = own({
      adaptsRange: true,
      limits: [{ figure: "loudnessRangeLu", max: 6, required: true, marginalWithin: 0.5, clause: "own" }],
    });
    expect(before).toBeGreaterThan(9);
    const { result } = await render(wide, { spec });
    expect(result.levelling).not.toBeNull();
    expect(result.figures.loudnessRangeLu!).toBeLessThanOrEqual(6);
    expect(Math.abs(result.figures.integratedLufs! + 23)).toBeLessThanOrEqual(0.05);
    // Without being asked to, it says what is in the way.
    const { figures, curves } = measured(wide);
    expect(predictDelivery(figures, curves, [], { ...spec, adaptsRange: false }).obstacles.join()).toMatch(/range/);
  });

  it("tells the range of a programme from its momentary loudness within 1.5 LU", () => {
    const { figures, curves } = measured(steps([-40, -22, -38, -20, -42, -24, -39, -21], 5));
    expect(Math.abs(rangeOf(levelsOf(figures, curves))! - figures.loudnessRangeLu!)).toBeLessThan(1.5);
  });

  it("measures on a fold-down where the spec does", async () => {
    const layout = layoutNamed("7.1.4")!;
    const block = steps([-22], 4, layout.speakers.length);
    const { result } = await render(block, { spec: "immersive-18" }, {}, "7.1.4");
    const matrix = downmixMatrix(layout, "5.1")!;
    const down = downmixed(block, matrix, block[0]!.length).map((x) => x.map((v) => v * 10 ** (result.gainDb / 20)));
    expect(Math.abs(measured(down, "5.1").figures.integratedLufs! + 18.1)).toBeLessThan(0.1);
    expect(result.verdict!.limits.find(({ limit }) => limit.scope === "channel")).toMatchObject({ status: "pass" });
  });

  it("folds to stereo and to mono, and says which channels the file has", async () => {
    const { result, bytes } = await render(steps([-30], 2, 12), { format: { channels: "stereo" } }, {}, "7.1.4");
    expect((await openSoundFile(memorySource(bytes)))!.channels).toBe(2);
    expect(result.figures.layout).toBe("stereo");
    const mono = await render(steps([-30], 2), {
      spec: "audiobook-retail",
      format: { channels: "mono", sampleRate: 44100 },
    });
    expect(mono.result.verdict!.fileRequirements.every(({ met }) => met)).toBe(true);
  });

  it("finds the gain in few passes, however hard it must limit, and never goes over", async () => {
    const spiky = steps([-34], 6).map((x) => x.map((v, i) => (i % 24_000 < 60 ? v * 30 : v)));
    const spec = { ...specNamed("streaming-14")!, id: "own", maxLimitingDb: 60, maxLimitingLossLu: 60 };
    const { result, bytes } = await render(spiky, { spec, format: { sampleRate: 44100 } });
    expect(result.attempts).toBeLessThanOrEqual(3);
    expect(Math.abs(result.figures.integratedLufs! + 14)).toBeLessThanOrEqual(0.05);
    const file = (await openSoundFile(memorySource(bytes)))!;
    for (const x of await file.read(0, file.frames)) expect(exactTruePeakDb(x)).toBeLessThanOrEqual(-1 + 0.02);
  });

  it("once settled, gives the same sound in one pass", async () => {
    const { result, job, bytes } = await render(steps([-30], 3), { spec: "streaming-14", format: { bits: "32f" } });
    let sink = new MemorySink();
    await renderSound(job, result, { open: async () => (sink = new MemorySink()) });
    const [a, b] = [(await openSoundFile(memorySource(bytes)))!, (await openSoundFile(memorySource(sink.bytes())))!];
    expect(await a.readEncoded(0, a.frames)).toEqual(await b.readEncoded(0, b.frames));
  });

  it("says when there is no speech to take the level from", async () => {
    const { result } = await render(steps([-30], 3), { spec: "dialogue-27" });
    expect(result.gainDb).toBe(0);
    expect(result.warnings.join()).toMatch(/No speech/);
  });
});

describe("bounds of limiting", () => {
  /** Noise whose highest peaks stand `crestDb` above its steady level. */
  const spiked = (levelDb: number, crestDb: number) =>
    steps([levelDb], 6).map((x) => x.map((v, i) => (i % 24_000 < 40 ? v * 10 ** (crestDb / 20) : v)));
  const spec = own({ target: -14, maxLimitingDb: 8, maxLimitingLossLu: 4 });

  it("stop a target that only ruin would reach, and say what it needs and what is allowed", async () => {
    const { result } = await render(spiked(-30, 20), { spec });
    expect(result.limitingDb).toBeLessThanOrEqual(8.2);
    expect(result.figures.integratedLufs!).toBeLessThan(-15);
    expect(result.figures.truePeakDbtp!).toBeLessThanOrEqual(-1);
    expect(result.warnings.join()).toMatch(/would need 1\d\.\d dB of limiting; 8\.0 dB at the deepest and 4\.0 LU/);
    expect(result.attempts).toBeLessThanOrEqual(3);
  });
  it("are a person's to widen", async () => {
    const { result } = await render(spiked(-30, 20), { spec: { ...spec, maxLimitingDb: 40 } });
    expect(result.limitingDb).toBeGreaterThan(8.2);
    expect(Math.abs(result.figures.integratedLufs! + 14)).toBeLessThan(0.05);
    expect(result.warnings.join()).not.toMatch(/would need/);
  });
  it("hold for what limiting takes of the loudness as well", async () => {
    // Dense: all of it is above the ceiling, so that each decibel of gain is lost.
    const asked = { ...spec, target: -1.5, maxLimitingDb: 30, maxLimitingLossLu: 2 };
    const { result } = await render(steps([-8], 5), { spec: asked });
    expect(result.figures.integratedLufs!).toBeLessThan(-1.6);
    // It is told before anything is rendered as well.
    const { figures, curves } = measured(steps([-8], 5));
    expect(predictDelivery(figures, curves, [], asked).obstacles.join()).toMatch(/2\.0 LU lost are allowed/);
    expect(result.warnings.join()).toMatch(/2\.0 LU lost are allowed/);
  });
  it("keep the level of a constant, which has no loudness, where it can be heard of", async () => {
    const constant = [0, 1].map(() => new Float32Array(5 * RATE).fill(0.25));
    const { result } = await render(constant, { spec: "streaming-14" });
    expect(result.gainDb).toBeLessThan(20);
    expect(result.limitingDb).toBeLessThanOrEqual(8.2);
  });
});

describe("the search for a gain", () => {
  /** A limiter that takes two thirds of each decibel above 2. */
  const model: LimitingModel = {
    level: -20,
    headroomDb: 2,
    lossAt: (gainDb) => (2 / 3) * Math.max(0, gainDb - 2),
  };
  const bounds = (maxLimitingDb: number, maxLimitingLossLu: number) => own({ maxLimitingDb, maxLimitingLossLu });

  it("finds what gives the level after limiting", () => {
    const { gainDb, neededDb } = gainFor(model, bounds(60, 60), 5);
    expect(gainDb - model.lossAt(gainDb)).toBeCloseTo(5, 2);
    expect(neededDb).toBeNull();
  });
  it("finds it by tries as well, of a limiter that takes more than the model told", () => {
    const lossAt = (gainDb: number) => 0.7 * Math.max(0, gainDb - 1);
    const tries: GainTry[] = [];
    let gainDb = gainFor(model, bounds(60, 60), 5).gainDb;
    for (let pass = 0; pass < 3; pass++) {
      tries.push({ gainDb, lossDb: lossAt(gainDb) });
      ({ gainDb } = correctedGain(model, bounds(60, 60), tries, 5 - (gainDb - lossAt(gainDb))));
    }
    expect(gainDb - lossAt(gainDb)).toBeCloseTo(5, 2);
  });
  it("keeps to the bounds by what was measured", () => {
    const tries = [
      { gainDb: 4, lossDb: 1 },
      { gainDb: 6, lossDb: 2 },
    ];
    expect(correctedGain(model, bounds(60, 3), tries, 4)).toMatchObject({ gainDb: 8, neededDb: 14 });
    expect(correctedGain(model, bounds(5, 60), tries, 4)).toMatchObject({ gainDb: 7, neededDb: 14 });
    expect(correctedGain(model, bounds(60, 60), tries, -1)).toMatchObject({ gainDb: 4, neededDb: null });
  });
  it.each([
    [4, 60, 6],
    [60, 2, 5],
  ])("goes no further than %d dB deep and %d LU lost: %d dB", (deepest, lost, gain) => {
    const found = gainFor(model, bounds(deepest, lost), 9);
    expect(found.gainDb).toBeCloseTo(gain, 2);
    expect(found.neededDb).toBeCloseTo(23, 1);
  });
  it("goes through the curves a few times, and not at all where nothing is limited", () => {
    let looked = 0;
    const counting = { ...model, lossAt: (gainDb: number) => (looked++, model.lossAt(gainDb)) };
    gainFor(counting, bounds(60, 60), 2);
    expect(looked).toBe(0);
    gainFor(counting, bounds(60, 60), 5);
    expect(looked).toBeLessThanOrEqual(5);
    looked = 0;
    gainFor(counting, bounds(60, 2), 9);
    expect(looked).toBeLessThanOrEqual(26);
  });
  it("takes down without limits", () => {
    expect(gainFor(model, bounds(0, 0), -30).gainDb).toBeCloseTo(-30, 2);
  });
});
