import { describe, expect, it } from "vitest";
import fc from "fast-check";
import { layoutNamed } from "../audio/layout";
import type { Planar } from "../audio/units";
import { format, measured, measuredBy } from "../testing/measured";
import { joined, noise, sine } from "../testing/signals";
import { clipping } from "./clipping";
import { MEASUREMENTS } from ".";
import { level } from "./level";

const RATE = 48_000;
const STEREO = format();
const MONO = format(RATE, "mono");
const seconds = (s: number) => Math.round(s * RATE);
const quiet = (s: number, seed = 9) => noise(s, RATE, -70, seed);
const speechLike = (s: number, seed: number) => {
  const carrier = noise(s, RATE, -14, seed);
  let low = 0;
  // Syllables of 0.12 s with pauses between them, energy below 2 kHz.
  return carrier.map((v, n) => {
    low += (v - low) * 0.2;
    const beat = (n / RATE) * 4.3;
    return (
      low *
      (beat % 1 < 0.55 ? Math.sin((Math.PI * (beat % 1)) / 0.55) ** 2 : 0) *
      (n % seconds(2.3) < seconds(1.9) ? 1 : 0.02)
    );
  });
};

describe("levels", () => {
  it("RMS of a full-scale sine is −3.01, of a square wave 0 dBFS, within 0.01 dB", () => {
    const square = sine(100, 0, 2, RATE).map((v) => Math.sign(v) || 1);
    expect(measured([sine(997, 0, 2, RATE)], MONO).rmsDbfs).toBeCloseTo(-3.0103, 2);
    expect(measured([square], MONO).rmsDbfs).toBeCloseTo(0, 2);
  });
  it("finds the loudest and the quietest half second, of all and of each channel", () => {
    const x = joined(sine(997, -20, 2, RATE), sine(997, -6, 1, RATE), sine(997, -40, 1, RATE), sine(997, -20, 1, RATE));
    const figures = measured([x, x.map((v) => v / 2)], STEREO);
    expect(figures.loudestRmsPerChannelDbfs[0]).toBeCloseTo(-9.01, 1);
    expect(figures.loudestRmsPerChannelDbfs[1]).toBeCloseTo(-15.03, 1);
    expect(figures.loudestRmsSeconds).toBeGreaterThanOrEqual(2);
    expect(figures.loudestRmsSeconds).toBeLessThanOrEqual(2.5);
    expect(figures.quietestRmsPerChannelDbfs[0]).toBeCloseTo(-43.01, 1);
    expect(figures.quietestRmsSeconds).toBeGreaterThanOrEqual(3);
  });
  it("tells DC of each channel", () => {
    const { dcOffset } = measured([sine(100, -10, 1, RATE).map((v) => v + 0.02), sine(100, -10, 1, RATE)], STEREO);
    expect(dcOffset[0]).toBeCloseTo(0.02, 5);
    expect(dcOffset[1]).toBeCloseTo(0, 5);
  });
  it("shift with gain, whatever the gain (property)", () => {
    const x = noise(1.2, 8000, -10, 4);
    const before = measuredBy(level, [x], format(8000, "mono")).figures;
    fc.assert(
      fc.property(fc.double({ min: -40, max: 9, noNaN: true }), (db) => {
        const after = measuredBy(level, [x.map((v) => v * 10 ** (db / 20))], format(8000, "mono")).figures;
        for (const figure of ["rmsDbfs", "samplePeakDbfs", "loudestRmsDbfs", "quietestRmsDbfs"] as const)
          expect(after[figure]! - before[figure]!).toBeCloseTo(db, 3);
      }),
      { numRuns: 12 },
    );
  });
});

describe("clipping", () => {
  const clipped = (gain: number, ceiling: number) =>
    sine(997, gain, 1, RATE).map((v) => Math.max(-ceiling, Math.min(ceiling, v)));
  it("is counted at full scale, with where and how long", () => {
    const { clippedRuns } = measured([clipped(6, 1)], MONO);
    // Two crests a period.
    expect(Math.abs(clippedRuns.count - 2 * 997)).toBeLessThanOrEqual(2);
    expect(clippedRuns.longestSamples).toBe(17);
    expect(clippedRuns.belowFullScale).toBe(false);
    expect(clippedRuns.places[0]!.seconds).toBeLessThan(0.001);
    expect(clippedRuns.places).toHaveLength(200);
  });
  it("is seen when the recording was turned down after", () => {
    const { clippedRuns } = measured([clipped(6, 1).map((v) => v * 0.6)], MONO);
    expect(clippedRuns.count).toBeGreaterThan(1900);
    expect(clippedRuns.belowFullScale).toBe(true);
    expect(clippedRuns.places[0]!.levelDbfs).toBeCloseTo(-4.44, 1);
  });
  it("is not seen in what is not clipped: low tones in 16 bit, a square wave's own tops aside", () => {
    const sixteen = (x: Float32Array) => x.map((v) => Math.round(v * 32767) / 32767);
    expect(measuredBy(clipping, [sixteen(sine(40, -1, 2, RATE))], MONO).figures.clippedRuns.count).toBe(0);
    expect(measuredBy(clipping, [sixteen(noise(2, RATE, -3, 5))], MONO).figures.clippedRuns.count).toBe(0);
    expect(measuredBy(clipping, [sine(997, -0.05, 2, RATE)], MONO).figures.clippedRuns.count).toBe(0);
  });
  it("two samples at full scale are no run, three are", () => {
    const x = noise(0.5, RATE, -20, 6);
    x.fill(1, 1000, 1002);
    expect(measured([x], MONO).clippedRuns.count).toBe(0);
    x.fill(1, 4799, 4802); // over the edge of a tick
    expect(measured([x], MONO).clippedRuns).toMatchObject({ count: 1, longestSamples: 3 });
  });
});

describe("head and tail", () => {
  it("tell digital silence and room tone apart", () => {
    const x = joined(
      new Float32Array(seconds(0.5)),
      quiet(1),
      noise(4, RATE, -15, 3),
      quiet(2, 8),
      new Float32Array(seconds(0.25)),
    );
    const figures = measured([x, x], STEREO);
    expect(figures.headSilenceSeconds).toBeCloseTo(0.5, 3);
    expect(figures.tailSilenceSeconds).toBeCloseTo(0.25, 3);
    expect(figures.headRoomToneSeconds).toBeCloseTo(1.5, 1);
    expect(figures.tailRoomToneSeconds).toBeCloseTo(2.25, 1);
  });
  it("say nothing of room tone where nothing stands out of it", () => {
    const figures = measured([noise(3, RATE, -20, 1)], MONO);
    expect(figures.headRoomToneSeconds).toBeNull();
    expect(figures.headSilenceSeconds).toBe(0);
  });
  it("are the whole length where all is silence", () => {
    const figures = measured([new Float32Array(RATE)], MONO);
    expect(figures.headSilenceSeconds).toBe(1);
    expect(figures.tailSilenceSeconds).toBe(1);
  });
});

describe("the two sides", () => {
  const left = noise(4, RATE, -12, 1);
  const right = noise(4, RATE, -12, 2);
  it("are balanced, and lose 3 LU in mono when they have nothing in common", () => {
    const figures = measured([left, right], STEREO);
    expect(figures.balanceLu).toBeCloseTo(0, 1);
    expect(figures.monoLossLu).toBeCloseTo(3.01, 1);
    expect(figures.widthDb).toBeCloseTo(0, 1);
  });
  it("lose nothing when they are the same, and everything when they oppose", () => {
    expect(measured([left, left], STEREO).monoLossLu).toBeCloseTo(0, 6);
    expect(measured([left, left], STEREO).widthDb).toBeNull();
    expect(measured([left, left.map((v) => -v)], STEREO).monoLossLu).toBeNull();
  });
  it("lean by the difference of their loudness", () =>
    expect(measured([left, left.map((v) => v / 2)], STEREO).balanceLu).toBeCloseTo(6.02, 2));
});

describe("correlation of pairs", () => {
  it("is judged only where both channels are at level", () => {
    // Opposed where the right is nearly silent, together where both sound.
    const loud = noise(8, RATE, -12, 1);
    const right = loud.map((v, n) => (n < seconds(4) ? -v * 0.03 : v));
    const [pair] = measured([loud, right], STEREO).correlationPerPair;
    expect(pair!.levelAware).toBeCloseTo(1, 3);
    expect(pair!.judgedPercent).toBeCloseTo(50, 0);
  });
  it("leaves LFE out and follows the layout's order", () => {
    const layout = layoutNamed("5.1")!;
    const block = layout.speakers.map((_, c) => noise(1, RATE, -20, c));
    const pairs = measured(block, { sampleRate: RATE, layout }).correlationPerPair;
    expect(pairs).toHaveLength(10);
    expect(pairs.flatMap(({ pair }) => pair)).not.toContain("LFE");
    expect(pairs[0]!.pair).toEqual(["L", "R"]);
  });
});

describe("faults of channels", () => {
  const faults = (block: Planar, layout = "stereo") =>
    measured(block, { sampleRate: RATE, layout: layoutNamed(layout)! }).channelFaults.map(({ channel, kind, other }) =>
      `${channel} ${kind} ${other ?? ""}`.trim(),
    );
  const x = noise(2, RATE, -12, 1);
  const y = noise(2, RATE, -12, 2);
  it("names a dead, doubled, inverted and a much quieter one", () => {
    expect(faults([x, new Float32Array(x.length)])).toEqual(["R dead"]);
    expect(faults([x, x])).toEqual(["R duplicate L"]);
    expect(faults([x, x.map((v) => -v)])).toEqual(["R inverted L"]);
    expect(faults([x, y.map((v) => v / 3)])).toEqual(["R quieter L"]);
    expect(faults([x, y])).toEqual([]);
    expect(faults([new Float32Array(RATE), new Float32Array(RATE)])).toEqual([]);
  });
  it("notices an LFE that carries the sound of another channel", () => {
    const low = sine(45, -12, 2, RATE);
    const block = [x, y, low, noise(2, RATE, -12, 5), noise(2, RATE, -14, 6), noise(2, RATE, -14, 7)];
    expect(faults(block, "5.1")).toEqual(["LFE swapped C"]);
  });
});

describe("spectrum", () => {
  it("puts a tone into its third octave, at its RMS (IEC 61260-1)", () => {
    const { thirdOctaveDbfs } = measured([sine(1000, -20, 3, RATE)], MONO);
    expect(thirdOctaveDbfs[17]).toBeCloseTo(-23.01, 1);
    expect(thirdOctaveDbfs[13]!).toBeLessThan(-60);
    expect(thirdOctaveDbfs).toHaveLength(31);
  });
  it("of white noise rises with the width of its bands, 3 dB an octave", () =>
    expect(measured([noise(8, RATE, -12, 3)], MONO).spectralTiltDbPerOctave).toBeCloseTo(3.01, 1));
  it("ends at half the rate: no level above", () => {
    const { thirdOctaveDbfs } = measured([noise(3, 8000, -12, 3)], format(8000, "mono"));
    expect(thirdOctaveDbfs[30]).toBeNull();
    expect(thirdOctaveDbfs[20]).not.toBeNull();
  });
  it("shows where a lossy past has cut it off, and no cliff where there is none", () => {
    const wide = noise(4, RATE, -12, 3);
    const taps = 255;
    const cut = wide.map((_, n) => {
      let sum = 0;
      for (let t = 0; t < taps; t++) {
        const d = t - 127;
        const window = 0.42 + 0.5 * Math.cos((Math.PI * d) / 127) + 0.08 * Math.cos((2 * Math.PI * d) / 127);
        sum += (wide[n - t] ?? 0) * (d === 0 ? 0.6667 : Math.sin(Math.PI * 0.6667 * d) / (Math.PI * d)) * window;
      }
      return sum;
    });
    const figures = measured([cut], MONO);
    expect(Math.abs(figures.bandwidthHz! - 16_000)).toBeLessThanOrEqual(400);
    expect(figures.bandwidthConfidence).toBeGreaterThan(0.7);
    expect(measured([wide], MONO).bandwidthHz).toBeNull();
  });
  it.each([50, 60, 50.2])("finds hum at %d Hz under other sound, and its frequency", (hertz) => {
    const harmonics = [1, 2, 3, 5, 7];
    const x = noise(12, RATE, -50, 4).map(
      (v, n) => v + harmonics.reduce((sum, h) => sum + (0.004 / h) * Math.sin((2 * Math.PI * hertz * h * n) / RATE), 0),
    );
    const figures = measured([x], MONO);
    expect(Math.abs(figures.humHz! - hertz)).toBeLessThan(0.3);
    expect(figures.humHarmonics.length).toBeGreaterThanOrEqual(3);
  });
  it("finds no hum in noise, nor in a tone", () => {
    expect(measured([noise(12, RATE, -20, 4)], MONO).humHz).toBeNull();
    expect(measured([sine(100, -20, 6, RATE)], MONO).humHz).toBeNull();
  });
});

describe("speech, estimated", () => {
  it("is what has syllables and pauses", () => {
    const { dialoguePercent, dialogueLufs, dialogueStretches } = measured([speechLike(12, 1)], MONO);
    expect(dialoguePercent).toBeGreaterThan(60);
    expect(dialogueLufs).not.toBeNull();
    expect(dialogueStretches[0]!.startSeconds).toBeLessThan(2);
  });
  it("is not steady noise, a tone, or silence", () => {
    for (const x of [noise(8, RATE, -15, 2), sine(300, -15, 8, RATE), new Float32Array(seconds(8))])
      expect(measured([x], MONO)).toMatchObject({ dialoguePercent: 0, dialogueLufs: null });
  });
});

describe("what is asked of every measurement", () => {
  it("is a help text, a source, and an id that no other has", () => {
    expect(new Set(MEASUREMENTS.map(({ id }) => id)).size).toBe(MEASUREMENTS.length);
    for (const { help, source } of MEASUREMENTS) expect(help.length * source.length).toBeGreaterThan(0);
  });
  it.each([0, 1, 479, 4800, 4801])("is an answer for %i frames, with null where there is none", (frames) => {
    const figures = measured([new Float32Array(frames).fill(0.25)], MONO);
    expect(figures.frames).toBe(frames);
    expect(figures.integratedLufs).toBeNull();
    expect(JSON.parse(JSON.stringify(figures))).toEqual(figures); // no NaN, no infinity
  });
  it.each([8000, 11_025, 22_050, 37_123, 88_200, 384_000])("is an answer at %i Hz", (sampleRate) => {
    const x = sine(997, -20, 4, sampleRate);
    const figures = measured([x, x], format(sampleRate));
    expect(figures.integratedLufs).toBeCloseTo(-20 + 0.01, 1);
    expect(Math.abs(figures.truePeakDbtp! + 20)).toBeLessThan(0.1); // it begins and ends abruptly
    expect(figures.noiseFloorDbfs).toBeCloseTo(-23.01, 1);
  });
  it.each([3, 9, 24])("is an answer for %i channels, also with numbers for names", (channels) => {
    const block = Array.from({ length: channels }, (_, c) => noise(1, RATE, -20 - c, c + 1));
    const speakers = block.map((_, c) => ({ label: String(c + 1), azimuth: 0, elevation: 0, lfe: false }));
    const figures = measured(block, { sampleRate: RATE, layout: { name: "table", speakers } });
    expect(figures.truePeakPerChannelDbtp).toHaveLength(channels);
    figures.samplePeakPerChannelDbfs.forEach((peak, c) => expect(peak).toBeCloseTo(-20 - c, 0));
  });
});

describe("peak to short-term", () => {
  it("is lowest where the peaks were cut", () => {
    const free = noise(6, RATE, -12, 1).map((v, n) => (n % 4800 === 0 ? 0.9 : v));
    const cut = noise(6, RATE, -12, 2);
    const figures = measured([joined(free, cut)], MONO);
    expect(figures.psrMinSeconds).toBeGreaterThan(8);
    expect(figures.psrMinLu!).toBeLessThan(figures.plrLu!);
  });
});
