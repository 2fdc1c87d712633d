import { describe, expect, it } from "vitest";
import {
  clicked,
  clippedAt,
  drifting,
  f1,
  meanPower,
  mixed,
  musicLike,
  sdrOnCut,
  siSdr,
  speechLike,
  spiked,
  steadyNoise,
  type NoiseKind,
} from "../testing/degraded";
import { kurtosis } from "../testing/kurtosis";
import { nearer, roomed } from "../testing/room";
import { stoi } from "../testing/stoi";
import { memoryFrames } from "../testing/signals";
import { newRepairStep, repairNamed, repairSettings } from ".";
import { estimateReverb } from "./reverb-estimation";
import { learnNoiseProfile } from "./noise-profile";
import { repairedSource } from "./repaired-source";

const RATE = 48_000;
const SECONDS = 6;
const speech = speechLike(SECONDS, RATE, 3);
const music = musicLike(SECONDS, RATE, 4);

async function repaired(x: Float32Array, type: string, settings: Record<string, unknown> = {}, rate = RATE) {
  const step = { ...newRepairStep(type, "a"), ...settings };
  const source = repairedSource(memoryFrames([x], rate), [step], { content: "" });
  return (await source.read(0, x.length))[0]!;
}

describe("noise reduction, by 1.6 s of room tone", () => {
  const LEAD = Math.round(1.6 * RATE);
  for (const kind of ["room", "fan", "hiss"] as const satisfies NoiseKind[])
    for (const [snrDb, gainDb] of [
      [10, 5],
      [20, 4],
    ] as const)
      it(`gains ${gainDb} dB of SI-SDR on ${kind} at ${snrDb} dB, and leaves the voice as loud`, async () => {
        const noise = steadyNoise(kind, speech.length + LEAD, RATE, 7);
        const spoilt = mixed(speech, noise, snrDb, LEAD);
        const learned = learnNoiseProfile([spoilt.subarray(0, LEAD)], RATE);
        const out = (await repaired(spoilt, "noise", { learned })).subarray(LEAD);
        const before = siSdr(spoilt.subarray(LEAD), speech);
        expect(siSdr(out, speech) - before).toBeGreaterThan(gainDb);
        expect(Math.abs(10 * Math.log10(meanPower(out) / meanPower(speech)))).toBeLessThan(0.5);
      });
  it("takes the floor of the pause down by the depth that was asked for", async () => {
    const noise = steadyNoise("room", speech.length + LEAD, RATE, 7);
    const spoilt = mixed(speech, noise, 20, LEAD);
    const learned = learnNoiseProfile([spoilt.subarray(0, LEAD)], RATE);
    const out = await repaired(spoilt, "noise", { learned, maxReductionDb: 20, tonalMaxReductionDb: 20 });
    const inside = (x: Float32Array) => meanPower(x.subarray(RATE / 2, RATE));
    expect(10 * Math.log10(inside(spoilt) / inside(out))).toBeGreaterThan(18);
  });
  it("leaves no single bins standing in the pause", async () => {
    const spoilt = mixed(speech, steadyNoise("room", speech.length + LEAD, RATE, 7), 20, LEAD);
    const learned = learnNoiseProfile([spoilt.subarray(0, LEAD)], RATE);
    const pause = (x: Float32Array) => kurtosis(x.subarray(0.4 * RATE, 1.4 * RATE));
    // It was 2.1 before what stands alone was turned down.
    expect(Math.log(pause(await repaired(spoilt, "noise", { learned })) / pause(spoilt))).toBeLessThan(0.8);
  });
  it("follows the noise by itself where nothing was learned", async () => {
    const spoilt = mixed(speech, steadyNoise("room", speech.length, RATE, 8), 10);
    expect(siSdr(await repaired(spoilt, "noise"), speech) - siSdr(spoilt, speech)).toBeGreaterThan(3);
  });
});

describe("hum and tones", () => {
  const settings = { fundamentalHz: 50, harmonics: 12 };
  it("takes a drifting hum of 12 harmonics out of speech: 38 dB", async () => {
    const spoilt = mixed(speech, drifting(speech.length, RATE, 50, 12, 0.2, 3), 10);
    expect(siSdr(await repaired(spoilt, "hum", settings), speech)).toBeGreaterThan(38);
  });
  it("as well at the ends as in the middle", async () => {
    const spoilt = mixed(speech, drifting(speech.length, RATE, 50, 12, 0.2, 3), 10);
    const off = (await repaired(spoilt, "hum", settings)).map((v, i) => v - speech[i]!);
    const middle = meanPower(off.subarray(RATE, -RATE));
    for (const end of [off.subarray(0, RATE / 2), off.subarray(-RATE / 2)])
      expect(10 * Math.log10(meanPower(end) / middle)).toBeLessThan(15);
  });
  it("when its size wavers by a twentieth: 35 dB", async () => {
    const wavering = drifting(speech.length, RATE, 50, 12, 0.2, 3).map(
      (v, i) => v * (1 + 0.05 * Math.sin((2 * Math.PI * 0.3 * i) / RATE)),
    );
    const spoilt = mixed(speech, wavering, 10);
    expect(siSdr(await repaired(spoilt, "hum", settings), speech)).toBeGreaterThan(35);
  });
  it("and out of music: 25 dB", async () => {
    const spoilt = mixed(music, drifting(music.length, RATE, 50, 12, 0.2, 3), 10);
    expect(siSdr(await repaired(spoilt, "hum", settings), music)).toBeGreaterThan(25);
  });
  it("takes a ringing tone away: 70 dB", async () => {
    const spoilt = mixed(speech, drifting(speech.length, RATE, 3140, 1, 0, 3), 10);
    expect(siSdr(await repaired(spoilt, "tones", { learned: [3140] }), speech)).toBeGreaterThan(70);
  });
});

describe("clicks", () => {
  for (const [type, kind, perSecond, sdr] of [
    ["clicks", "sharp", 2, 31],
    ["clicks", "sharp", 30, 26],
    ["clicks", "sharp", 60, 25],
    ["clicks", "sharp", 100, 22],
    ["mouth-noise", "ringing", 3, 30],
  ] as const)
    it(`${kind}, ${perSecond} a second, are found and mended: F1 0.85, SI-SDR ${sdr} dB`, async () => {
      const { spoilt, places } = clicked(speech, RATE, perSecond, kind, 5);
      const step = newRepairStep(type, "a");
      const find = repairNamed(type).find!(repairSettings(step), undefined, { sampleRate: RATE, channels: 1 });
      const found = find([spoilt], { first: 0, from: 0, to: spoilt.length, heldFrom: 0, heldTo: spoilt.length });
      expect(f1(places, found, RATE)).toBeGreaterThan(0.85);
      expect(siSdr(await repaired(spoilt, type), speech)).toBeGreaterThan(sdr);
    });
  it("are not found in clean music", () => {
    const step = newRepairStep("clicks", "a");
    const find = repairNamed("clicks").find!(repairSettings(step), undefined, { sampleRate: RATE, channels: 1 });
    const place = { first: 0, from: 0, to: music.length, heldFrom: 0, heldTo: music.length };
    expect(find([music], place).length).toBeLessThanOrEqual(1);
  });
});

describe("mouth clicks that come in pairs", () => {
  it("are found, 10 ms apart and alike", () => {
    const quiet = steadyNoise("room", RATE, RATE, 3).map((v) => 0.0005 * v);
    const at = [20_000, 20_480];
    for (const from of at)
      for (let i = 0; i < 120; i++)
        quiet[from + i]! += 0.1 * Math.exp(-i / 30) * Math.sin((2 * Math.PI * 3500 * i) / RATE);
    const find = repairNamed("mouth-noise").find!(repairSettings(newRepairStep("mouth-noise", "a")), undefined, {
      sampleRate: RATE,
      channels: 1,
    });
    const found = find([quiet], { first: 0, from: 0, to: RATE, heldFrom: 0, heldTo: RATE });
    for (const from of at) expect(found.some(({ start, end }) => start < from + 120 && end > from)).toBe(true);
  });
});

describe("room", () => {
  it.each([
    [0.4, 0.06, 2, 0],
    [0.4, 0.02, 2, 0],
    [0.8, 0.03, 3, 1],
  ])(
    "of %f s: nearer, closer to the direct sound, understood as well, and as loud",
    async (rt60Seconds, level, nearerDb, closerDb) => {
      const part = roomed(speech, RATE, rt60Seconds, level);
      const spoilt = part.near.map((v, i) => v + part.far[i]!);
      const made = await repaired(spoilt, "reverberation", { rt60Seconds });
      expect(nearer(part, made, RATE)).toBeGreaterThan(nearerDb);
      expect(siSdr(made, part.near) - siSdr(spoilt, part.near)).toBeGreaterThan(closerDb);
      expect(stoi(part.near, made, RATE)).toBeGreaterThan(stoi(part.near, spoilt, RATE));
      expect(Math.abs(10 * Math.log10(meanPower(made) / meanPower(part.near)))).toBeLessThan(1.5);
    },
  );
  it("is closer as well where it is faint, once it is learned", async () => {
    const { near, far } = roomed(speech, RATE, 0.8, 0.01);
    const spoilt = near.map((v, i) => v + far[i]!);
    const made = await repaired(spoilt, "reverberation", { ...estimateReverb([spoilt], RATE).tail });
    expect(siSdr(made, near) - siSdr(spoilt, near)).toBeGreaterThan(0);
  });
  it("takes more of a louder tail, less of a fainter one", async () => {
    const { near, far } = roomed(speech, RATE, 0.6);
    const spoilt = near.map((v, i) => v + far[i]!);
    const [less, plain, more] = await Promise.all(
      [-10, 0, 10].map(async (levelDb) =>
        meanPower(await repaired(spoilt, "reverberation", { reverberantToDirectDb: levelDb })),
      ),
    );
    expect(less).toBeGreaterThan(plain!);
    expect(plain).toBeGreaterThan(more!);
  });
});

describe("spikes 20 dB above low speech", () => {
  const low = speech.map((v) => 0.1 * v);
  const thresholdDbfs = 20 * Math.log10(low.reduce((most, v) => Math.max(most, Math.abs(v)), 0));
  it("are filled from around or brought down: 5 dB nearer to it, and nothing above the line", async () => {
    const spoilt = spiked(low, RATE, 4);
    const out = await repaired(spoilt, "spikes", { thresholdDbfs });
    expect(siSdr(out, low) - siSdr(spoilt, low)).toBeGreaterThan(5);
    expect(out.every((v) => Math.abs(v) <= 10 ** (thresholdDbfs / 20) + 1e-6)).toBe(true);
  });
  it("are listed with what is done at them: filled what was added, lowered what belongs there", () => {
    const thump = low.slice();
    for (let i = 0; i < 400; i++) thump[3 * RATE + i]! += 0.8 * Math.sin((Math.PI * i) / 400);
    const find = repairNamed("spikes").find!(
      repairSettings({ ...newRepairStep("spikes", "a"), thresholdDbfs: thresholdDbfs - 2 }),
      undefined,
      { sampleRate: RATE, channels: 1 },
    );
    const place = { first: 0, from: 0, to: low.length, heldFrom: 0, heldTo: low.length };
    const found = find([thump], place);
    expect(found.find(({ start, end }) => start < 3 * RATE + 400 && end > 3 * RATE)?.description).toBe("filled");
    expect(find([low], place).map(({ description }) => description)).toContain("lowered");
  });
  it("leave what does not rise above the line as it is", async () => {
    expect(await repaired(low, "spikes", { thresholdDbfs: thresholdDbfs + 0.1 })).toEqual(low);
  });
});

describe("clipping", () => {
  it("of 5 % of the samples is put back to 15 dB on them", async () => {
    const clean = speech.subarray(0, RATE);
    const { spoilt, level, cut } = clippedAt(clean, 0.05);
    const out = await repaired(spoilt, "clipping", { levelDbfs: 20 * Math.log10(level) });
    expect(sdrOnCut(out, clean, cut)).toBeGreaterThan(15);
    const near = (v: number) => Math.abs(v) > 0.999 * level;
    expect(out.every((v, i) => cut[i] !== 0 || near(spoilt[i]!) || v === spoilt[i])).toBe(true);
  });
});
