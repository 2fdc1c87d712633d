import { describe, expect, it } from "vitest";
import { ChainStage } from "../render/chain-stage";
import { layoutNamed } from "../audio/layout";
import type { Decibels, Hertz } from "../audio/units";
import { joined, sine } from "../testing/signals";
import { discEqualisation, discResponseDb } from "./disc-equalisation";
import { newChainEntry, processorNamed, settingsOf, type ChainEntry } from ".";

const RATE = 48000;
const MONO = { sampleRate: RATE, layout: layoutNamed("mono")! };

/** What an entry does to a tone, once it has settled. */
function gainAt(entry: ChainEntry, hertz: Hertz): Decibels {
  const stage = new ChainStage([entry], MONO);
  const tone = sine(hertz, -30, 2, RATE);
  const out = joined(stage.push([tone])[0]!, ...stage.finish());
  const power = (x: Float32Array) => x.subarray(RATE, 2 * RATE).reduce((sum, v) => sum + v * v, 0);
  return 10 * Math.log10(power(out) / power(tone));
}

const entry = (type: string, settings: object): ChainEntry => ({ ...newChainEntry(type, "x"), ...settings });

/** Recording characteristic of IEC 60098 at playback without the corner at 20 Hz: its time constants worked out. */
const IEC_60098: [Hertz, Decibels][] = [
  [20, 19.27],
  [50, 16.95],
  [100, 13.09],
  [200, 8.22],
  [500, 2.65],
  [1000, 0],
  [2000, -2.59],
  [5000, -8.21],
  [10000, -13.73],
  [20000, -19.62],
];

describe("disc equalisation", () => {
  const settings = { ...settingsOf(newChainEntry("disc-equalisation", "x")), ...discEqualisation.presets[0]!.settings };

  it("follows IEC 60098 within 0.05 dB, by its formula and in sound", () => {
    for (const [hertz, db] of IEC_60098) {
      expect(discResponseDb(settings as never, hertz)).toBeCloseTo(db, 1);
      expect(Math.abs(gainAt(entry("disc-equalisation", settings), hertz) - db)).toBeLessThan(0.05);
    }
  });

  it("gives the sound back when it is recorded and played", () => {
    const chain = [
      entry("disc-equalisation", { ...settings, direction: "recording" }),
      entry("disc-equalisation", settings),
    ];
    for (const hertz of [30, 150, 1000, 6000, 15000]) {
      const there = gainAt(chain[0]!, hertz);
      expect(there).toBeCloseTo(-gainAt(chain[1]!, hertz), 2);
    }
  });

  it("has the roll-off and the turnover that historic curves are named for", () => {
    for (const { name, settings: preset } of discEqualisation.presets.slice(2)) {
      const at = (hertz: Hertz) =>
        discResponseDb({ ...settingsOf(newChainEntry("disc-equalisation", "x")), ...preset } as never, hertz);
      const { turnoverHz = 0, rollOffDb = 0 } = preset;
      // Bass rises by 6 dB an octave below the turnover, 3 dB at it; treble is down by the roll-off at 10 kHz.
      expect(at(turnoverHz / 8) - at(turnoverHz / 4), name).toBeGreaterThan(5);
      expect(at(10_000) - at(10_000 / 64), name).toBeLessThan(-rollOffDb);
      const flat = { ...settingsOf(newChainEntry("disc-equalisation", "x")), ...preset, rollOffDb: 0 };
      const treble = at(10_000) - discResponseDb(flat as never, 10_000);
      const middle = at(100) - discResponseDb(flat as never, 100);
      expect(treble - middle, name).toBeCloseTo(-rollOffDb, 1);
    }
  });
});

describe("tone controls", () => {
  it("lift and lower by what they say, far from their corners, and by half at them", () => {
    const settings = { bassDb: 6, bassHz: 200, trebleDb: -8, trebleHz: 4000 };
    for (const type of ["bass-treble", "three-band-tone"]) {
      expect(gainAt(entry(type, settings), 20)).toBeCloseTo(6, 1);
      expect(gainAt(entry(type, settings), 200)).toBeCloseTo(3, 1);
      expect(gainAt(entry(type, settings), 4000)).toBeCloseTo(-4, 1);
      expect(Math.abs(gainAt(entry(type, settings), 19000) + 8)).toBeLessThan(0.3);
    }
  });

  it("moves the middle alone", () => {
    const tone = entry("three-band-tone", { midDb: 5, midHz: 1000 });
    expect(gainAt(tone, 1000)).toBeCloseTo(5, 2);
    expect(Math.abs(gainAt(tone, 30))).toBeLessThan(0.1);
    expect(Math.abs(gainAt(tone, 18000))).toBeLessThan(0.1);
  });

  it("say their gains in their summary, and that they are flat", () => {
    const summary = (settings: object) =>
      processorNamed("three-band-tone").summary(settingsOf(entry("three-band-tone", settings)));
    expect(summary({})).toBe("flat");
    expect(summary({ bassDb: 2, trebleDb: -1.5 })).toBe("bass +2.0, treble −1.5 dB");
  });
});
