/** What is detected in speech: found where it was put, and nothing where there is nothing. */
import { describe, expect, it } from "vitest";
import type { Frames, Seconds } from "../audio/units";
import { Random } from "../math/random";
import { memoryFrames, noise } from "../testing/signals";
import type { DetectedEvent } from "./event";
import { retakeCuts, retakeMarks } from "./retakes";
import { breaths, coughs, highFloors, longPauses, plosives } from "./speech-events";
import { featuresOf } from "./speech-features";

const RATE = 48_000;
const frame = (seconds: Seconds): Frames => Math.round(seconds * RATE);

/** A voiced phrase: a buzz of 120 Hz through two formants, with syllables of four a second. */
function phrase(x: Float32Array, from: Seconds, to: Seconds, pitch = 120): void {
  for (let i = frame(from); i < frame(to); i++) {
    const t = i / RATE;
    const syllable = 0.55 + 0.45 * Math.sin(2 * Math.PI * 4 * (t - from));
    let v = 0;
    for (let h = 1; h < 24; h++) {
      const hertz = h * pitch;
      const formant = Math.exp(-(((hertz - 600) / 300) ** 2)) + 0.5 * Math.exp(-(((hertz - 1700) / 400) ** 2)) + 0.03;
      v += formant * Math.sin(2 * Math.PI * hertz * t);
    }
    const edge = Math.min(1, (t - from) / 0.03, (to - t) / 0.03);
    x[i]! += 0.09 * v * syllable * edge;
  }
}

/** Noise between two times, shaped at its edges. */
function burst(x: Float32Array, from: Seconds, to: Seconds, gain: number, rise: Seconds, seed: number): void {
  const random = new Random(seed);
  let before = 0;
  for (let i = frame(from); i < frame(to); i++) {
    const t = i / RATE;
    const v = random.between(-1, 1);
    x[i]! += gain * (v - 0.7 * before) * Math.min(1, (t - from) / rise, (to - t) / rise);
    before = v;
  }
}

/** Twelve seconds of a reader: phrases with pauses of 0.7 s between, over a floor at −70 dBFS. */
function reader(add: (x: Float32Array) => void = () => undefined): Float32Array {
  const x = noise(14, RATE, -66, 3);
  for (const [from, to] of PHRASES) phrase(x, from, to);
  add(x);
  return x;
}
const PHRASES: [Seconds, Seconds][] = [
  [0.5, 2.2],
  [2.9, 4.6],
  [5.3, 7],
  [9.5, 11],
  [11.7, 13.4],
];
const features = (x: Float32Array) => featuresOf(memoryFrames([x], RATE));
/** Of the reader alone. */
const plain = features(reader());
const near = (events: readonly DetectedEvent[], from: Seconds, to: Seconds) =>
  events.filter(({ start, end }) => start < frame(to) && end > frame(from));

describe("in speech", () => {
  it("a pause is found that is longer than a listener waits, and no shorter one", async () => {
    const found = longPauses(await plain, 1.5);
    expect(found).toHaveLength(1);
    expect(found[0]!.start / RATE).toBeCloseTo(7, 0);
    expect(found[0]!.end / RATE).toBeCloseTo(9.5, 0);
    expect(longPauses(await plain, 0.4).length).toBeGreaterThan(3);
  });

  it("a breath is found between phrases: where it is, how loud it is", async () => {
    const found = breaths(await features(reader((x) => burst(x, 8.0, 8.35, 0.01, 0.1, 5))));
    expect(near(found, 7.9, 8.5)).toHaveLength(1);
    const [breath] = near(found, 7.9, 8.5);
    expect(breath!.start / RATE).toBeGreaterThan(7.9);
    expect(breath!.end / RATE).toBeLessThan(8.5);
    expect(breath!.sizeDb).toBeGreaterThan(-60);
    expect(breath!.sizeDb).toBeLessThan(-35);
  });

  it("no breath is found where there is none", async () => {
    expect(breaths(await plain)).toEqual([]);
  });

  it("a cough is loud and toneless, a breath is none", async () => {
    const loud = coughs(await features(reader((x) => burst(x, 8.1, 8.4, 0.35, 0.005, 6))));
    expect(near(loud, 8, 8.5)).toHaveLength(1);
    expect(coughs(await features(reader((x) => burst(x, 8.0, 8.35, 0.01, 0.1, 5))))).toEqual([]);
  });

  it("a blast of air at a p is found, and the voice's own bass is none", async () => {
    const blown = plosives(
      await features(
        reader((x) => {
          for (let i = 0; i < frame(0.06); i++)
            x[frame(5.6) + i]! += 0.5 * Math.sin(2 * Math.PI * 45 * (i / RATE)) * Math.sin((Math.PI * i) / frame(0.06));
        }),
      ),
    );
    expect(near(blown, 5.5, 5.75).length).toBeGreaterThanOrEqual(1);
    expect(plosives(await plain)).toEqual([]);
  });

  it("pauses are found in which the floor is above a limit", async () => {
    const noisy = reader((x) => {
      const hiss = noise(14, RATE, -40, 9);
      for (let i = 0; i < x.length; i++) x[i]! += hiss[i]!;
    });
    expect(highFloors(await features(noisy), -60).length).toBeGreaterThan(0);
    expect(highFloors(await plain, -60)).toEqual([]);
  });
});

describe("retakes", () => {
  const clap = (x: Float32Array, at: Seconds, gain = 0.6) => burst(x, at, at + 0.02, gain, 0.001, 11);
  const marked = reader((x) => {
    clap(x, 7.8);
    clap(x, 8.2);
  });

  it("are marked by two claps, one shortly after the other", async () => {
    const marks = retakeMarks(await features(marked));
    expect(marks).toHaveLength(1);
    expect(marks[0]!.start / RATE).toBeCloseTo(7.8, 1);
    expect(marks[0]!.end / RATE).toBeCloseTo(8.2, 1);
  });
  it("are not marked by one clap, nor by two that are far apart", async () => {
    expect(retakeMarks(await features(reader((x) => clap(x, 7.8))))).toEqual([]);
    const apart = reader((x) => {
      clap(x, 7.3);
      clap(x, 9.0);
    });
    expect(retakeMarks(await features(apart))).toEqual([]);
  });
  it("offer cuts from a phrase before the mark to the one behind it, of which nothing that stays is cut", async () => {
    const of = await features(marked);
    const cuts = retakeCuts(of, retakeMarks(of)[0]!);
    expect(cuts.length).toBeGreaterThan(0);
    for (const { start, end, before, after, alike } of cuts) {
      expect(start).toBeLessThan(end);
      expect(start).toBeLessThanOrEqual(before.start);
      expect(end).toBeLessThanOrEqual(after.start);
      expect(after.start / RATE).toBeCloseTo(9.5, 0);
      expect(alike).toBeGreaterThanOrEqual(0);
      expect(alike).toBeLessThanOrEqual(1);
    }
    expect(cuts.map(({ alike }) => alike)).toEqual(cuts.map(({ alike }) => alike).toSorted((a, b) => b - a));
  });
});
