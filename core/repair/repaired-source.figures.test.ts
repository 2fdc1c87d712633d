import { describe, expect, it } from "vitest";
import { cachedRepairSource } from "./cached-repair-source";
import { isActive, newRepairStep, REPAIRS, repairsSchema, type RepairStep } from ".";
import { learnNoiseProfile } from "./noise-profile";
import { repairedSource, segmentFrames, type SegmentStore } from "./repaired-source";
import { repairsKey } from "./repairs-key";
import { clicked, mixed, speechLike, steadyNoise } from "../testing/degraded";
import { memoryFrames, sameBits } from "../testing/signals";
import type { Planar } from "../audio/units";

const RATE = 16_000;
const SECONDS = 18;
const speech = speechLike(SECONDS, RATE, 3);
const left = clicked(mixed(speech, steadyNoise("room", speech.length, RATE, 1), 20), RATE, 2, "sharp", 4).spoilt;
const right = mixed(speech, steadyNoise("hiss", speech.length, RATE, 2), 20);
const recording: Planar = [left, right];
const learned: Record<string, unknown> = {
  noise: learnNoiseProfile([left.subarray(0, 4000), right.subarray(0, 4000)], RATE),
  tones: [1000],
  "gain-envelope": [
    { frame: RATE, gainDb: -6 },
    { frame: 9 * RATE, gainDb: 3 },
  ],
};

const step = (type: string, change: Partial<RepairStep> = {}): RepairStep => ({
  ...newRepairStep(type, type),
  ...(learned[type] ? { learned: learned[type] } : {}),
  ...change,
});
const through = (steps: RepairStep[], store?: SegmentStore, block = recording) =>
  repairedSource(memoryFrames(block, RATE), steps, { content: "c", store });
const all = async (steps: RepairStep[]) => (await through(steps).read(0, speech.length)).map((x) => x.slice());

class Store implements SegmentStore {
  readonly kept = new Map<string, Planar>();
  hits = 0;
  async get(key: string) {
    const known = this.kept.get(key);
    if (known) this.hits++;
    return known;
  }
  put(key: string, block: Planar) {
    this.kept.set(key, block);
  }
}

const largestGap = (a: Planar, b: Planar): number =>
  Math.max(...a.map((x, c) => x.reduce((most, v, i) => Math.max(most, Math.abs(v - b[c]![i]!)), 0)));

/** Settings that change nothing, by repair. */
const NEUTRAL: Record<string, Partial<RepairStep>> = {
  noise: { maxReductionDb: 0, tonalMaxReductionDb: 0 },
  "speech-denoise": { maxReductionDb: 0 },
  hum: { maxReductionDb: 0 },
  tones: { maxReductionDb: 0 },
  clicks: { amount: 0 },
  "mouth-noise": { amount: 0 },
  clipping: { amount: 0 },
  "region-gain": { gainDb: 0 },
  reverberation: { maxReductionDb: 0 },
  spikes: { thresholdDbfs: 0 },
  "gain-envelope": { learned: [{ frame: RATE, gainDb: 0 }] },
  "spectral-inpainting": { amount: 0 },
  "channel-repair": {},
  "voice-clean-up": { amount: 0 },
};

describe("every repair", () => {
  for (const { id } of REPAIRS) {
    it(`${id}: gives the same bits at no strength, switched off, and outside of its ranges`, async () => {
      expect(isActive(step(id, NEUTRAL[id]))).toBe(false);
      expect(sameBits(await all([step(id, NEUTRAL[id])]), recording)).toBe(true);
      expect(sameBits(await all([step(id, { enabled: false })]), recording)).toBe(true);
      const [from, to] = [3 * RATE, 4 * RATE];
      const out = await all([step(id, { regions: [{ start: from, end: to }] })]);
      const outside = (block: Planar) => [
        ...block.map((x) => x.subarray(0, from)),
        ...block.map((x) => x.subarray(to)),
      ];
      expect(sameBits(outside(out), outside(recording))).toBe(true);
    });
    it(`${id}: gives the same whatever is read first, and however much at a time`, async () => {
      const whole = await all([step(id)]);
      const source = through([step(id)]);
      const [a, b] = [9 * RATE + 77, 9 * RATE + 77 + 5000];
      const piece = await source.read(a, b - a);
      expect(
        sameBits(
          piece,
          whole.map((x) => x.subarray(a, b)),
        ),
      ).toBe(true);
      expect(whole.every((x) => x.every(Number.isFinite))).toBe(true);
    });
    it(`${id}: makes silence of silence`, async () => {
      const silence = [new Float32Array(RATE), new Float32Array(RATE)];
      expect(sameBits(await through([step(id)], undefined, silence).read(0, RATE), silence)).toBe(true);
    });
  }
  it("leaves the places alone that it is told to, to the bit, and works beside them", async () => {
    const [from, to] = [3 * RATE, 3 * RATE + 800];
    const out = await all([step("region-gain", { gainDb: -20, excludedRegions: [{ start: from, end: to }] })]);
    const part = (block: Planar, a: number, b: number) => block.map((x) => x.subarray(a, b));
    expect(sameBits(part(out, from, to), part(recording, from, to))).toBe(true);
    const plain = await all([step("region-gain", { gainDb: -20 })]);
    const fade = 0.005 * RATE;
    expect(largestGap(part(out, 0, from - fade), part(plain, 0, from - fade))).toBeLessThan(1e-6);
    expect(largestGap(part(out, to + fade, to + RATE), part(plain, to + fade, to + RATE))).toBeLessThan(1e-6);
  });
  it("keeps one channel, or one band, where the other is meant", async () => {
    const regions = [{ start: 0, end: speech.length, channel: 1 }];
    const out = await all([step("region-gain", { gainDb: -20, regions })]);
    expect(sameBits([out[0]!], [left])).toBe(true);
    expect(sameBits([out[1]!], [right])).toBe(false);
    const band = [{ start: RATE, end: 2 * RATE, lowHz: 850, highHz: 1150 }];
    const tone = Float32Array.from({ length: 3 * RATE }, (_, i) => 0.2 * Math.sin((2 * Math.PI * 1000 * i) / RATE));
    const other = Float32Array.from({ length: 3 * RATE }, (_, i) => 0.2 * Math.sin((2 * Math.PI * 3000 * i) / RATE));
    const spot = [step("region-gain", { gainDb: -100, regions: band })];
    const cut = (await through(spot, undefined, [tone]).read(0, 3 * RATE))[0]!;
    const kept = (await through(spot, undefined, [other]).read(0, 3 * RATE))[0]!;
    const middle = (x: Float32Array) => Math.max(...x.subarray(1.2 * RATE, 1.8 * RATE).map(Math.abs));
    expect(middle(cut)).toBeLessThan(0.08);
    expect(Math.max(...kept.map((v, i) => Math.abs(v - other[i]!)))).toBeLessThan(2e-4);
  });
});

describe("steps", () => {
  const steps = [step("clicks"), step("noise")];
  it("re-tuned and re-ordered give the same as made afresh; what comes before is not made anew", async () => {
    const store = new Store();
    await through(steps, store).read(0, speech.length);
    const segments = Math.ceil(speech.length / segmentFrames(RATE));
    expect(store.kept.size).toBe(2 * segments);
    const retuned = [steps[0]!, step("noise", { maxReductionDb: 6 })];
    const out = (await through(retuned, store).read(0, speech.length)).map((x) => x.slice());
    expect(store.hits).toBe(segments); // the clicks, kept
    expect(sameBits(out, await all(retuned))).toBe(true);
    const turned = [retuned[1]!, retuned[0]!];
    expect(sameBits(await through(turned, store).read(0, speech.length), await all(turned))).toBe(true);
    // Back to what it was: nothing is made.
    store.hits = 0;
    const kept = store.kept.size;
    await through(steps, store).read(0, speech.length);
    expect(store.kept.size).toBe(kept);
  });
  it("are known by what they do, not by what they are called or how they are written", () => {
    const renamed = { ...step("clicks"), id: "other" };
    expect(repairsKey("c", [renamed])).toBe(repairsKey("c", [step("clicks")]));
    expect(repairsKey("c", [step("clicks", { amount: 99 })])).not.toBe(repairsKey("c", [step("clicks")]));
    expect(repairsKey("d", [step("clicks")])).not.toBe(repairsKey("c", [step("clicks")]));
  });
  it("are heard as far as they are made", async () => {
    const store = new Store();
    const heard = () =>
      cachedRepairSource(memoryFrames(recording, RATE), steps, { content: "c", store }).read(1000, 30_000);
    const piece = (block: Planar) => block.map((x) => x.subarray(1000, 31_000));
    expect(sameBits(await heard(), piece(recording))).toBe(true);
    await through([steps[0]!], store).read(0, speech.length);
    expect(sameBits(await heard(), piece(await all([steps[0]!])))).toBe(true);
    await through(steps, store).read(0, speech.length);
    expect(sameBits(await heard(), piece(await all(steps)))).toBe(true);
  });
  it("are refused with what is wrong and where", () => {
    const problem = (bad: unknown) => repairsSchema.safeParse([bad]).error?.issues[0];
    expect(problem({ type: "magic" })?.path).toEqual([0, "type"]);
    expect(problem({ type: "noise", maxReductionDb: 99 })?.path).toEqual([0, "maxReductionDb"]);
    expect(problem({ type: "region-gain", regions: [{ start: 9, end: 3 }] })?.message).toMatch(/ends before/);
    expect(problem({ type: "noise", learned: { sampleRate: 48000, levels: ["?"], seconds: 1 } })?.path[2]).toBe(
      "levels",
    );
  });
});
