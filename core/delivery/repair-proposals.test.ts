import { describe, expect, it } from "vitest";
import { specNamed } from "./specs";
import { drifting, mixed, musicLike, speechLike, steadyNoise } from "../testing/degraded";
import { measured } from "../testing/measured";
import { memoryFrames } from "../testing/signals";
import { layoutNamed } from "../audio/layout";
import { newRepairStep, repairsSchema } from "../repair";
import { enoughOf, noiseProfileQuality, quietStretches } from "../repair/noise-profile-quality";
import { levelProposal, repairProposals } from "./repair-proposals";
import { repairedSource } from "../repair/repaired-source";

const RATE = 48_000;
const FORMAT = { sampleRate: RATE, layout: layoutNamed("mono")! };
const STEREO = { sampleRate: RATE, layout: layoutNamed("stereo")! };
const speech = speechLike(8, RATE, 2).map((v) => 0.1 * v);

describe("proposals", () => {
  const titles = (...args: Parameters<typeof repairProposals>) => repairProposals(...args).map(({ title }) => title);
  it("name the noise where delivery would raise it into hearing, and nothing where there is nothing", () => {
    const noisy = mixed(speech, steadyNoise("room", speech.length, RATE, 1), 25);
    const spec = specNamed("audiobook-retail");
    const [proposal] = repairProposals(measured([noisy], FORMAT), spec);
    expect(proposal?.title).toBe("Reduce the noise");
    expect(proposal?.why).toContain("once it is as loud");
    expect(proposal?.strengths.map(({ label }) => label)).toEqual(["gentle", "medium", "firm"]);
    expect(titles(measured([musicLike(4, RATE, 1)], FORMAT), null)).toEqual([]);
  });
  it("name a hum by its fundamental, clipping by its level, and come in the order of the work", () => {
    const humming = mixed(speech, drifting(speech.length, RATE, 50, 8, 0, 1), 15);
    const clipped = humming.map((v) => Math.max(-0.03, Math.min(0.03, v)));
    const proposals = repairProposals(measured([clipped], FORMAT), null);
    expect(proposals.map(({ id }) => id).slice(0, 2)).toEqual(["clipping", "hum"]);
    expect(proposals[0]!.strengths[0]!.step["levelDbfs"]).toBeCloseTo(20 * Math.log10(0.03), 1);
    expect(proposals[1]!.strengths[0]!.step["fundamentalHz"]).toBeCloseTo(50, 1);
  });
  it("set sides right: dead, inverted, quieter; and what is proposed does it", async () => {
    const right = speech.map((v) => 0.25 * v);
    const proposals = (l: Float32Array, r: Float32Array) => repairProposals(measured([l, r], STEREO), null);
    expect(
      proposals(
        speech,
        speech.map(() => 0),
      )[0]!.strengths[0]!.step,
    ).toMatchObject({ use: "left" });
    expect(
      proposals(
        speech,
        speech.map((v) => -v),
      )[0]!.strengths[0]!.step,
    ).toMatchObject({ invertRight: true });
    const { step } = proposals(speech, right)[0]!.strengths[0]!;
    expect(step["rightGainDb"]).toBeCloseTo(12, 0);
    const source = repairedSource(memoryFrames([speech, right], RATE), [step], { content: "" });
    const after = await source.read(0, speech.length);
    expect(
      measured(
        after.map((x) => x.slice()),
        STEREO,
      ).channelFaults.map(({ kind }) => kind),
    ).not.toContain("quieter");
  });
  it("bring the level inside the range of RMS by gain, and the peaks under their limit by a limiter", () => {
    const spec = specNamed("audiobook-retail");
    const entries = levelProposal(measured([speech], FORMAT), spec);
    expect(entries.map(({ type }) => type)).toEqual(["gain", "limiter"]);
    const figures = measured([speech], FORMAT);
    expect(figures.rmsDbfs! + Number(entries[0]!["gainDb"])).toBeCloseTo(-20.5, 1);
    expect(levelProposal(figures, specNamed("ebu-r128"))).toEqual([]);
    expect(levelProposal({ ...figures, rmsDbfs: -20, truePeakDbtp: -6 }, spec)).toEqual([]);
  });
  it("are steps that a document takes", () => {
    const noisy = mixed(speech, steadyNoise("fan", speech.length, RATE, 1), 20);
    const steps = repairProposals(measured([noisy], FORMAT), specNamed("audiobook-retail")).flatMap(({ strengths }) =>
      strengths.map(({ step }, index) => ({ ...step, id: `s${index}` })),
    );
    expect(repairsSchema.safeParse(steps).success).toBe(true);
  });
});

describe("sides", () => {
  it("are moved by whole samples, exchanged, and put in each other's place", async () => {
    const [left, right] = [speech, steadyNoise("hiss", speech.length, RATE, 4)];
    const through = async (settings: Record<string, unknown>) => {
      const step = { ...newRepairStep("channel-repair", "s"), ...settings };
      return repairedSource(memoryFrames([left, right], RATE), [step], { content: "" }).read(1000, 5000);
    };
    const later = await through({ rightDelaySamples: 40 });
    expect(later[1]!.every((v, i) => v === right[1000 + i - 40])).toBe(true);
    expect(later[0]!.every((v, i) => v === left[1000 + i])).toBe(true);
    const exchanged = await through({ use: "exchanged" });
    expect(exchanged[0]!.every((v, i) => v === right[1000 + i])).toBe(true);
    const both = await through({ use: "right" });
    expect(both[0]!.every((v, i) => v === right[1000 + i])).toBe(true);
  });
});

describe("a stretch to learn from", () => {
  const noise = steadyNoise("room", 2 * RATE, RATE, 3).map((v) => 0.01 * v);
  it("is fit where it is long, steady and nothing else", () => {
    expect(noiseProfileQuality([[noise]], RATE).standing).toBe("fit");
  });
  it("is doubted where it is short or holds a breath, and refused where it is next to nothing", () => {
    expect(noiseProfileQuality([[noise.subarray(0, 0.6 * RATE)]], RATE).remarks.join()).toMatch(/0\.60 s are short/);
    const breath = noise.map((v, i) => (i > RATE && i < 1.2 * RATE ? 5 * v : v));
    expect(noiseProfileQuality([[breath]], RATE).remarks.join()).toMatch(/Something louder sounds 1\.0/);
    expect(noiseProfileQuality([[noise.subarray(0, 0.2 * RATE)]], RATE).standing).toBe("error");
    expect(noiseProfileQuality([[new Float32Array(RATE)]], RATE).remarks.join()).toMatch(/digital silence/);
  });
  it("is refused where it is not noise alone", () => {
    const voice = noise.map((v, i) => (i % (0.4 * RATE) < 0.2 * RATE ? 10 * v : v));
    const { standing, remarks } = noiseProfileQuality([[voice]], RATE);
    expect(standing).toBe("error");
    expect(remarks[0]).toMatch(/not noise alone/);
  });
  it("may be several short ones together", () => {
    const parts = [0, 1, 2, 3].map((n) => [noise.subarray(n * 0.4 * RATE, (n * 0.4 + 0.35) * RATE)]);
    expect(noiseProfileQuality(parts, RATE).standing).toBe("fit");
  });

  const levels = (...runs: [steps: number, db: number][]) =>
    Float32Array.from(runs.flatMap(([steps, db]) => Array.from({ length: steps }, () => db)));
  it("is offered where the floor lies, the longest first, without the ends of words, not in digital silence", () => {
    const found = quietStretches(
      levels([50, -20], [12, -60], [40, -20], [30, -58], [40, -20], [30, -Infinity]),
      0.05,
      5,
    );
    expect(found.map(({ start, end }) => [start, end].map((s) => Number(s.toFixed(2))))).toEqual([
      [5.15, 6.55],
      [2.55, 3.05],
    ]);
    expect(found[0]!.levelDb).toBeCloseTo(-58, 3);
  });
  it("is offered in parts of a long pause, none over another", () => {
    const found = quietStretches(levels([20, -20], [80, -60], [20, -20]), 0.05, 5);
    expect(found).toHaveLength(3);
    const sorted = [...found].sort((a, b) => a.start - b.start);
    for (const [i, { end }] of sorted.slice(0, -1).entries()) expect(sorted[i + 1]!.start).toBeGreaterThanOrEqual(end);
  });
  it("is not offered where what is quietest is programme, and all of it where all is noise", () => {
    expect(quietStretches(levels([40, -20], [12, -28], [40, -20]), 0.05, 3)).toEqual([]);
    expect(quietStretches(levels([40, -60.5], [40, -60]), 0.05, 3).length).toBeGreaterThan(0);
    expect(quietStretches(levels([3, -60]), 0.05, 3)).toEqual([]);
  });
  it("is enough together once it is as long as a good one", () => {
    const short = Array.from({ length: 12 }, (_, n) => ({ start: n, end: n + 0.3, levelDb: -60 }));
    expect(enoughOf(short)).toHaveLength(6);
    expect(enoughOf(short.slice(0, 2))).toHaveLength(2);
  });
});
