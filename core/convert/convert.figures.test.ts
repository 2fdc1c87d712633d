import { describe, expect, it } from "vitest";
import { Fft } from "../math/fft";
import { layoutForChannels } from "../audio/layout";
import { framesOf, type Planar } from "../audio/units";
import { meanPower, musicLike, speechLike } from "../testing/degraded";
import { joined, memoryFrames, sameBits, sine } from "../testing/signals";
import { conversionSchema, converted, type Conversion } from "./conversion";

const RATE = 48_000;

async function made(block: Planar, conversion: Partial<Conversion>): Promise<Planar> {
  const { blocks, frames } = converted(
    memoryFrames(block, RATE),
    layoutForChannels(block.length),
    conversionSchema.parse(conversion),
  );
  const parts: Planar[] = [];
  for await (const part of blocks) parts.push(part);
  const out = parts[0]!.map((_, c) => joined(...parts.map((part) => part[c]!)));
  expect(framesOf(out)).toBe(frames);
  return out;
}

/** Frequency of the strongest tone, by the peak of a spectrum with a parabola through it. */
function pitchOf(x: Float32Array, rate = RATE): number {
  const size = 65_536;
  const re = Float64Array.from({ length: size }, (_, i) => (x[i + 4000] ?? 0) * Math.sin((Math.PI * i) / size) ** 2);
  const im = new Float64Array(size);
  new Fft(size).forward(re, im);
  const db = (k: number) => Math.log(re[k]! ** 2 + im[k]! ** 2);
  let best = 1;
  for (let k = 2; k < size / 2 - 1; k++) if (db(k) > db(best)) best = k;
  const [a, b, c] = [db(best - 1), db(best), db(best + 1)];
  return ((best + (0.5 * (a - c)) / (a - 2 * b + c)) * rate) / size;
}
const level = (x: Float32Array) => 10 * Math.log10(meanPower(x.subarray(RATE / 2, x.length - RATE / 2)));
const cents = (a: number, b: number) => 1200 * Math.log2(a / b);

describe("a new recording of an old one", () => {
  const tone = sine(440, -12, 2.2, RATE);
  it("is the same bits where nothing is asked for", async () => {
    expect(sameBits(await made([tone, tone], {}), [tone, tone])).toBe(true);
  });
  it("has one channel, or the mean", async () => {
    const [l, r] = [sine(440, -12, 1, RATE), sine(660, -12, 1, RATE)];
    expect(sameBits(await made([l, r], { channels: 1 }), [r])).toBe(true);
    const [mean] = await made([l, r], { channels: "mean" });
    expect(mean![1234]).toBeCloseTo((l[1234]! + r[1234]!) / 2, 6);
    expect(() =>
      converted(memoryFrames([l], RATE), layoutForChannels(1), conversionSchema.parse({ channels: 4 })),
    ).toThrow(/no channel 5/);
  });
  it.each([
    ["music", 0.75],
    ["music", 1.5],
    ["voice", 0.8],
    ["voice", 1.25],
  ] as const)("takes another time at its own pitch and level (%s, tempo %d)", async (method, tempo) => {
    const [out] = await made([tone], { tempo, method });
    expect(out!.length).toBe(Math.round(tone.length / tempo));
    expect(Math.abs(cents(pitchOf(out!), 440))).toBeLessThan(1);
    expect(Math.abs(level(out!) - level(tone))).toBeLessThan(0.3);
  });
  it.each([
    ["music", 3],
    ["music", -5],
    ["voice", 2],
  ] as const)("has another pitch in its own time (%s, %d semitones)", async (method, semitones) => {
    const [out] = await made([tone], { semitones, method, formants: false });
    expect(out!.length).toBe(tone.length);
    expect(Math.abs(cents(pitchOf(out!), 440 * 2 ** (semitones / 12)))).toBeLessThan(1);
    expect(Math.abs(level(out!) - level(tone))).toBeLessThan(0.3);
  });
  it("gives chords back as they were when the tempo is all but the same", async () => {
    const music = musicLike(2.5, RATE, 3);
    const [out] = await made([music], { tempo: 1.0001 });
    expect(Math.abs(level(out!) - level(music))).toBeLessThan(0.5);
  });
  it("keeps the sides together", async () => {
    const right = tone.map((v) => 0.5 * v);
    const [l, r] = await made([tone, right], { tempo: 1.3 });
    let most = 0;
    for (let i = RATE / 2; i < l!.length - RATE / 2; i++) most = Math.max(most, Math.abs(l![i]! * 0.5 - r![i]!));
    expect(most).toBeLessThan(1e-5);
  });
  it("keeps formants where they are, if asked", async () => {
    const voice = speechLike(3, RATE, 7);
    const centre = (x: Float32Array) => {
      const size = 65_536;
      const re = Float64Array.from(x.subarray(RATE, RATE + size));
      const im = new Float64Array(size);
      new Fft(size).forward(re, im);
      let [sum, weighted] = [0, 0];
      for (let k = 200; k < 8000; k++) {
        const power = re[k]! ** 2 + im[k]! ** 2;
        sum += power;
        weighted += power * Math.log2(k);
      }
      return weighted / sum;
    };
    const [moved] = await made([voice], { semitones: 6, formants: false });
    const [kept] = await made([voice], { semitones: 6, formants: true });
    expect(centre(moved!) - centre(voice)).toBeGreaterThan(0.3);
    expect(Math.abs(centre(kept!) - centre(voice))).toBeLessThan(0.25);
  });
  it("has another rate, and the same tone", async () => {
    const [out] = await made([tone], { sampleRate: 44_100 });
    expect(out!.length).toBe(Math.round(tone.length * (44_100 / 48_000)));
    expect(Math.abs(cents(pitchOf(out!, 44_100), 440))).toBeLessThan(0.1);
  });
});
