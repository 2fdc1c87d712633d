/** What encoding adds to peaks: read off, predicted with, and measured with an encoder that is known. */
import { describe, expect, it } from "vitest";
import { MemorySink, memorySource } from "../files/bytes";
import { openSoundFile } from "../files/open";
import { newTags } from "../files/tags";
import { WavWriter } from "../files/wav-writer";
import { layoutNamed } from "../audio/layout";
import type { Planar } from "../audio/units";
import { Measurer } from "../measure";
import { memoryFrames, noise, sine } from "../testing/signals";
import { overshootAt } from "./encoding-overshoot";
import { excerptClips } from "./loudest-excerpts";
import type { MasterTarget } from "./master-job";
import { encoderRoom, measureOvershoot } from "./measure-overshoot";
import { predictDelivery } from "./predict-delivery";
import { newFormat } from "./recipe";
import { planOf } from "./render-plan";
import { specNamed } from "./specs";
import { renderMaster } from "./render-master";
import { recipeSchema } from "./recipe";

const RATE = 48_000;
const layout = layoutNamed("stereo")!;
const curve = { limitingDb: [0, 3, 8], overshootDb: [0.2, 0.8, 1.8] };

/** Steady noise with strokes of a second's distance that rise to full scale. */
function strokes(seconds: number): Planar {
  return [1, 2].map((side) =>
    noise(seconds, RATE, -30, side).map((v, i) => v + (i % RATE < 400 ? 0.5 + i / (4 * seconds * RATE) : 0)),
  );
}

function measured(block: Planar) {
  const measurer = new Measurer({ sampleRate: RATE, layout });
  measurer.process(block);
  return measurer.result();
}

/** An encoder that makes what is written `gain` as large; counts the frames that it was given. */
function encoder(gain: number): MasterTarget & { encodedFrames: number[] } {
  let sink = new MemorySink();
  let encoded: Uint8Array = new Uint8Array();
  const encodedFrames: number[] = [];
  return {
    encodedFrames,
    async open() {
      return (sink = new MemorySink());
    },
    async encode() {
      const file = (await openSoundFile(memorySource(sink.bytes())))!;
      const out = new MemorySink();
      const writer = await WavWriter.open(out, { sampleRate: file.sampleRate, layout, format: "32f" });
      const block = await file.read(0, file.frames);
      await writer.writeFloat(
        block.map((x) => x.map((v) => v * gain)),
        file.frames,
      );
      await writer.finish();
      encoded = out.bytes();
      encodedFrames.push(file.frames);
    },
    readBack: async () => memorySource(encoded),
  };
}

const plan = (block: Planar) =>
  planOf({
    source: memoryFrames(block, RATE),
    layout,
    sourceBits: null,
    recipe: { repairs: [], chain: [], format: newFormat({ container: "mp3" }) },
    tags: newTags({ title: "Strokes" }),
  });

describe("the overshoot of an encoder", () => {
  it.each([
    [0, 0.2],
    [1.5, 0.5],
    [3, 0.8],
    [5.5, 1.3],
    [20, 1.8],
  ])("at %f dB of limiting lies between what was measured: %f dB", (depth, expected) => {
    expect(overshootAt(curve, depth)).toBeCloseTo(expected, 10);
  });

  it("is measured at each depth on the loudest eight seconds alone", async () => {
    const block = strokes(20);
    const target = encoder(10 ** (1.5 / 20));
    const found = (await measureOvershoot(plan(block), measured(block).curves, target))!;
    expect(found.limitingDb).toEqual([0, 3, 8]);
    for (const over of found.overshootDb) expect(over).toBeCloseTo(1.5, 1);
    expect(target.encodedFrames).toEqual([8 * RATE, 8 * RATE, 8 * RATE]);
  });

  it("is told of no silence", async () => {
    const silence = [new Float32Array(RATE), new Float32Array(RATE)];
    expect(await measureOvershoot(plan(silence), measured(silence).curves, encoder(1))).toBeNull();
  });

  it("is the room that is left for it, found without encoding the whole", async () => {
    const block = strokes(20);
    const target = encoder(10 ** (2 / 20));
    const settingsFor = (roomDb: number) => ({ gainDb: 6, limiterCeilingDbtp: -1 - roomDb });
    const room = await encoderRoom(plan(block), measured(block).curves, -1, settingsFor, target, {});
    expect(room).toBeGreaterThan(1.95);
    expect(room).toBeLessThan(2.35);
    expect(Math.max(...target.encodedFrames)).toBe(8 * RATE);
  });

  it("lets a master be inside at the first attempt, where a fixed room would not do", async () => {
    const block = strokes(20);
    const { figures } = measured(block);
    const own = specNamed("streaming-14")!;
    const spec = {
      ...own,
      id: "own",
      target: figures.integratedLufs! + 5,
      limits: [own.limits.find(({ figure }) => figure === "truePeakDbtp")!],
    };
    const result = await renderMaster(
      {
        source: memoryFrames(block, RATE),
        layout,
        sourceBits: null,
        recipe: recipeSchema.parse({ spec, format: newFormat({ container: "mp3" }) }),
        tags: newTags({ title: "Strokes" }),
      },
      encoder(10 ** (2.5 / 20)),
    );
    expect(result.figures.truePeakDbtp!).toBeLessThanOrEqual(-1);
    expect(result.limiterCeilingDbtp!).toBeLessThan(-3.4);
    // The second brings the loudness, which the encoder lifts as well, to its target.
    expect(result.attempts).toBeLessThanOrEqual(2);
  });
});

describe("the loudest excerpts", () => {
  it("are those around the highest peaks, in the order of time, without overlap", () => {
    const values = new Float32Array(600).fill(-40);
    for (const [index, step] of [37, 100, 101, 222, 310, 402, 488, 555, 599].entries()) values[step] = -1 - index / 10;
    const clips = excerptClips({ values, hopSeconds: 0.1, columns: 1 }, { frames: 60 * RATE, sampleRate: RATE })!;
    expect(clips).toHaveLength(8);
    expect(clips.map(({ start }) => start)).toEqual(clips.map(({ start }) => start).sort((a, b) => a - b));
    for (const step of [37, 100, 222, 310, 402, 488, 555, 599]) {
      const at = (step + 0.5) * 0.1 * RATE;
      expect(clips.some(({ start, end }) => start <= at && at < end)).toBe(true);
    }
    for (const [i, { start }] of clips.slice(1).entries()) expect(start).toBeGreaterThanOrEqual(clips[i]!.end);
  });

  it("are all of a short sound", () => {
    const peaks = { values: new Float32Array(50), hopSeconds: 0.1, columns: 1 };
    expect(excerptClips(peaks, { frames: 5 * RATE, sampleRate: RATE })).toBeNull();
  });
});

describe("a prediction of what is encoded", () => {
  const tone = [sine(997, -6, 10, RATE), sine(997, -6, 10, RATE)];
  const { figures, curves } = measured(tone);
  const spec = { ...specNamed("streaming-14")!, target: figures.integratedLufs! };

  it("tells the decoded peak, and fails where gain alone lets it over the ceiling", () => {
    const gained = { ...spec, normalise: "gain" as const, target: figures.integratedLufs! + 4.9 };
    const written = predictDelivery(figures, curves, [], gained);
    const decoded = predictDelivery(figures, curves, [], gained, { overshoot: curve });
    expect(written.figures.truePeakDbtp!).toBeLessThanOrEqual(-1);
    expect(decoded.figures.truePeakDbtp! - written.figures.truePeakDbtp!).toBeCloseTo(0.2, 5);
    expect(decoded.figures.truePeakDbtp!).toBeGreaterThan(-1);
  });

  it("lets the limiter cut as much deeper, and keeps the ceiling", () => {
    const loud = measured(strokes(20));
    const limited = { ...spec, target: loud.figures.integratedLufs! + 4 };
    const written = predictDelivery(loud.figures, loud.curves, [], limited);
    const decoded = predictDelivery(loud.figures, loud.curves, [], limited, { overshoot: curve });
    expect(written.limitingDb).toBeGreaterThan(2);
    expect(decoded.limitingDb - written.limitingDb).toBeGreaterThan(0.5);
    expect(decoded.figures.truePeakDbtp!).toBeLessThanOrEqual(-1);
  });

  it("is the plain one far under the ceiling, but for the peak", () => {
    const written = predictDelivery(figures, curves, [], spec);
    const decoded = predictDelivery(figures, curves, [], spec, { overshoot: curve });
    expect(decoded.gainDb).toBe(written.gainDb);
    expect(decoded.limitingDb).toBe(0);
    expect(decoded.figures.truePeakDbtp!).toBeCloseTo(written.figures.truePeakDbtp! + 0.2, 5);
  });
});
