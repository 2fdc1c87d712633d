import { describe, expect, it } from "vitest";
import { layoutNamed } from "../audio/layout";
import type { FrameSource } from "../audio/frame-source";
import { joinedPlanar, type Planar } from "../audio/units";
import { memoryFrames, noise, sameBits, sine } from "../testing/signals";
import { fittedSource, layoutProblem } from "./fitted-source";
import { FADE_SHAPES, fadeGain, newFade } from "./fade";
import type { Placeable, StoredPlacement } from "./placement";
import { laneSchema, newDucker, ORDER, PLAIN_PROGRAMME, type Lane } from "./programme";
import { programmeSource, type ProgrammeParts } from "./programme-source";
import { processedSource } from "../render/processed-source";
import { newChainEntry } from "../processors";
import { timelineOf } from "./timeline";

const RATE = 8000;
const mono = layoutNamed("mono")!;
const stereo = layoutNamed("stereo")!;
const ones = (seconds: number, value = 1): Float32Array => new Float32Array(seconds * RATE).fill(value);

interface Part {
  id: string;
  x: Float32Array;
  placement?: StoredPlacement;
}

function programme(
  parts: Part[],
  lanes: Lane[] = [],
  processed: ProgrammeParts["processed"] = (lane) => lane,
): FrameSource {
  const items: Placeable[] = parts.map(({ id, placement }) => ({ id, placement }));
  const sounds = new Map(parts.map(({ id, x }) => [id, memoryFrames([x], RATE)]));
  const timeline = timelineOf(items, PLAIN_PROGRAMME, (id) => ({
    frames: sounds.get(id)!.frames,
    sampleRate: RATE,
    layout: mono,
  }))!;
  return programmeSource({ timeline, items, lanes, openItem: (id) => sounds.get(id)!, processed });
}

const all = (source: FrameSource): Promise<Planar> => source.read(0, source.frames);

async function inBlocks(source: FrameSource, size: number, from = 0): Promise<Planar> {
  const parts: Planar[] = [];
  for (let at = from; at < source.frames; at += size) parts.push(await source.read(at, size));
  return joinedPlanar(parts, source.channels);
}

describe("samples of a programme", () => {
  it("are the item's own, bit for bit, where nothing is done to it", async () => {
    const x = noise(2, RATE, -3, 1);
    expect(sameBits(await all(programme([{ id: "a", x }])), [x])).toBe(true);
  });
  it("are silent in a pause of exact length", async () => {
    const [y] = await all(
      programme([
        { id: "a", x: ones(1) },
        { id: "b", x: ones(1), placement: { gapSeconds: 0.25 } },
      ]),
    );
    expect(y!.findIndex((v) => v === 0)).toBe(RATE);
    expect(y!.filter((v) => v === 0)).toHaveLength(RATE / 4);
    expect(y).toHaveLength(2.25 * RATE);
  });
  it("are the sum in an overlap", async () => {
    const a = noise(1, RATE, -6, 2);
    const b = noise(1, RATE, -6, 3);
    const [y] = await all(
      programme([
        { id: "a", x: a },
        { id: "b", x: b, placement: { gapSeconds: -0.25 } },
      ]),
    );
    for (let i = 0; i < RATE / 4; i++)
      expect(y![0.75 * RATE + i]).toBe(Math.fround(Math.fround(a[0.75 * RATE + i]!) + b[i]!));
  });
  it.each(FADE_SHAPES)("follow a fade: %s", async (shape) => {
    const [fadeIn, fadeOut] = [newFade(0.25, shape), { ...newFade(0.5, shape), insetSeconds: 0.125 }];
    const [y] = await all(programme([{ id: "a", x: ones(2), placement: { fadeIn, fadeOut, gainDb: -6 } }]));
    const level = 10 ** (-6 / 20);
    for (let i = 0; i < RATE / 4; i++) expect(y![i]).toBeCloseTo(level * fadeGain(fadeIn, (i + 0.5) / (RATE / 4)), 6);
    expect(y![RATE]).toBeCloseTo(level, 6);
    expect(y).toHaveLength(2 * RATE - RATE / 8); // it is over where its fade is
    for (let i = 0; i < RATE / 2; i++)
      expect(y![y!.length - 1 - i]).toBeCloseTo(level * fadeGain(fadeOut, (i + 0.5) / (RATE / 2)), 6);
  });
  it("keep their power where two unlike sounds cross by equal power", async () => {
    const cross = { fadeIn: newFade(1), gapSeconds: -1 };
    const source = programme([
      { id: "a", x: noise(3, RATE, -10, 4), placement: { fadeOut: newFade(1) } },
      { id: "b", x: noise(3, RATE, -10, 5), placement: cross },
    ]);
    const [y] = await all(source);
    const rms = (from: number, to: number) =>
      10 * Math.log10(y!.subarray(from * RATE, to * RATE).reduce((sum, v) => sum + v * v, 0) / ((to - from) * RATE));
    expect(rms(2, 3) - rms(0, 2)).toBeCloseTo(0, 0);
  });
  it("follow a line of gain, straight in decibels", async () => {
    const envelope: [number, number][] = [
      [0, 0],
      [1, -12],
      [2, -12],
    ];
    const [y] = await all(programme([{ id: "a", x: ones(2), placement: { envelope } }]));
    expect(20 * Math.log10(y![RATE / 2]!)).toBeCloseTo(-6, 3);
    expect(20 * Math.log10(y![1.5 * RATE]!)).toBeCloseTo(-12, 3);
  });
});

const bed = (fields: Partial<Lane> = {}): Lane[] => [laneSchema.parse({ id: "bed", name: "Bed", ...fields })];
const onBed = (x: Float32Array, atSeconds = 0): Part => ({ id: "x", x, placement: { lane: "bed", atSeconds } });
const silence: Part = { id: "a", x: ones(6, 0) };

describe("lanes", () => {
  it("lie under the order, at their gain and their line", async () => {
    const [y] = await all(
      programme(
        [silence, onBed(ones(1), 2)],
        bed({
          gainDb: -20,
          envelope: [
            [2.5, 0],
            [2.75, -20],
          ],
        }),
      ),
    );
    expect(y![2 * RATE - 1]).toBe(0);
    expect(y![2 * RATE]).toBeCloseTo(0.1, 6);
    expect(y![2.9 * RATE]).toBeCloseTo(0.01, 5);
  });
  it("are muted, and heard alone", async () => {
    const parts = [{ id: "a", x: ones(1, 0.5) }, onBed(ones(1, 0.25))];
    expect((await all(programme(parts, bed({ mute: true }))))[0]![0]).toBe(0.5);
    expect((await all(programme(parts, bed({ solo: true }))))[0]![0]).toBe(0.25);
    expect((await all(programme(parts, bed())))[0]![0]).toBe(0.75);
  });
  it("yield to a voice: down when it begins, up after hold and release, to the step of 10 ms", async () => {
    const voice = ones(6, 0);
    voice.fill(0.5, 2 * RATE, 3 * RATE);
    const ducker = { ...newDucker([ORDER]), rangeDb: 20, attackSeconds: 0.2, holdSeconds: 0.3, releaseSeconds: 0.5 };
    const source = programme(
      [{ id: "a", x: voice }, onBed(ones(6, 0.1))],
      bed({ ducker: { ...ducker, shape: "linear" } }),
    );
    const [y] = await all(source);
    const gainAt = (seconds: number) => {
      const i = Math.round(seconds * RATE);
      return 20 * Math.log10((y![i]! - voice[i]!) / 0.1);
    };
    expect(gainAt(1.79)).toBeCloseTo(0, 3);
    expect(gainAt(1.9)).toBeCloseTo(-10, 1);
    expect(gainAt(2)).toBeCloseTo(-20, 3);
    expect(gainAt(3.29)).toBeCloseTo(-20, 3);
    expect(gainAt(3.55)).toBeCloseTo(-10, 1);
    expect(gainAt(3.81)).toBeCloseTo(0, 3);
  });
  it("do not yield to what is below the threshold", async () => {
    const ducker = { ...newDucker([ORDER]), thresholdDb: -30 };
    const [y] = await all(programme([{ id: "a", x: ones(6, 0.01) }, onBed(ones(6, 0.1))], bed({ ducker })));
    expect(y![3 * RATE]).toBeCloseTo(0.11, 6);
  });
});

describe("a lane's chain that listens to another", () => {
  const voice = noise(6, RATE, -12, 7);
  voice.fill(0, 2 * RATE, 3 * RATE);
  const compressor = (key: string) => ({ ...newChainEntry("compressor", "c"), thresholdDb: -30, ratio: 10, key });
  const keyed = (key: string) =>
    programme([{ id: "a", x: voice }, onBed(ones(6, 0.01))], bed({ chain: [compressor(key)] }), (lane, chain, keys) =>
      processedSource(lane, { repairs: [], chain }, mono, keys),
    );
  it("is held back while the order sounds, and not while that is silent", async () => {
    const [y] = await all(keyed(ORDER));
    const bedAt = (seconds: number) => y![seconds * RATE]! - voice[seconds * RATE]!;
    expect(bedAt(1.5)).toBeLessThan(0.004);
    expect(bedAt(2.9)).toBeCloseTo(0.01, 4);
  });
  it("is the same bits wherever reading began", async () => {
    const whole = await all(keyed(ORDER));
    for (const at of [30_001, 8191, 40]) {
      const part = await keyed(ORDER).read(at, 3000);
      expect(sameBits(part, [whole[0]!.subarray(at, at + 3000)])).toBe(true);
    }
  });
  it("listens to its own sound where that lane is gone, or is itself", async () => {
    const [gone, own] = [await all(keyed("gone")), await all(keyed("bed"))];
    expect(sameBits(gone, own)).toBe(true);
  });
});

describe("a block of a programme", () => {
  const voice = noise(6, RATE, -12, 7);
  voice.fill(0, 2 * RATE, 3.5 * RATE);
  const source = () =>
    programme(
      [
        { id: "a", x: voice, placement: { fadeOut: newFade(1, "exponential") } },
        {
          id: "b",
          x: noise(3, RATE, -9, 8),
          placement: {
            gapSeconds: -0.7,
            fadeIn: newFade(0.4),
            envelope: [
              [0, 0],
              [2, -5],
            ],
          },
        },
        onBed(noise(9, RATE, -20, 9)),
      ],
      bed({
        ducker: newDucker([ORDER]),
        envelope: [
          [0, 0],
          [8, -6],
        ],
      }),
    );
  it.each([1, 64, 1000, 4096])("is the same bits in blocks of %i", async (size) => {
    const whole = await all(source());
    const from = size === 1 ? whole[0]!.length - 400 : 0;
    const blocks = await inBlocks(source(), size, from);
    expect(
      sameBits(
        blocks,
        whole.map((x) => x.subarray(from)),
      ),
    ).toBe(true);
  });
  it("is the same bits wherever reading began", async () => {
    const whole = await all(source());
    for (const at of [50_000, 123, 30_001, 8191]) {
      const part = await source().read(at, 2000);
      expect(
        sameBits(
          part,
          whole.map((x) => x.subarray(at, at + 2000)),
        ),
      ).toBe(true);
    }
  });
});

describe("an item of another rate or layout", () => {
  it("goes to left and right alike where it is one channel", async () => {
    const x = noise(1, RATE, -3, 1);
    const [left, right] = await all(fittedSource(memoryFrames([x], RATE), mono, { sampleRate: RATE, layout: stereo }));
    expect(sameBits([left!, right!], [x, x])).toBe(true);
  });
  it("goes to the speakers of its name, and is refused where there are none", async () => {
    const surround = layoutNamed("5.1")!;
    const [x, y] = [noise(1, RATE, -3, 1), noise(1, RATE, -3, 2)];
    const block = await all(fittedSource(memoryFrames([x, y], RATE), stereo, { sampleRate: RATE, layout: surround }));
    expect(sameBits(block.slice(0, 2), [x, y])).toBe(true);
    expect(block.slice(2).every((channel) => channel.every((v) => v === 0))).toBe(true);
    expect(layoutProblem(stereo, surround)).toBeNull();
    expect(layoutProblem(surround, stereo)).toMatch(/C, LFE, Ls, Rs/);
  });
  it("is converted, with the same bits wherever reading began", async () => {
    const tone = sine(440, -6, 45, 48_000);
    const to = { sampleRate: 44_100, layout: mono };
    const open = () => fittedSource(memoryFrames([tone], 48_000), mono, to);
    const [y] = await inBlocks(open(), 30_000);
    expect(y).toHaveLength(45 * 44_100);
    const wanted = sine(440, -6, 45, 44_100);
    const inner = { from: 44_100, to: 44 * 44_100 };
    let most = 0;
    for (let i = inner.from; i < inner.to; i++) most = Math.max(most, Math.abs(y![i]! - wanted[i]!));
    expect(20 * Math.log10(most)).toBeLessThan(-120);
    const again = open();
    for (const at of [1_700_000, 881_990, 12_345])
      expect(sameBits(await again.read(at, 5000), [y!.subarray(at, at + 5000)])).toBe(true);
  });
});
