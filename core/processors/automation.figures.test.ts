/** Settings that move over time: continuous, the same samples in any blocks, and no zipper noise. */
import { describe, expect, it } from "vitest";
import { ChainStage } from "../render/chain-stage";
import { layoutNamed } from "../audio/layout";
import { framesOf, slicePlanar, type Planar } from "../audio/units";
import { joined, noise, sameBits, sine } from "../testing/signals";
import { automatableOf, newChainEntry, PROCESSORS, type ChainEntry } from ".";
import { automatedParameter } from "./automation";
import type { Breakpoint } from "../parameters/parameter";

const FORMAT = { sampleRate: 48000, layout: layoutNamed("mono")! };

function through(entry: ChainEntry, block: Planar, size = 1e9): Float32Array {
  const stage = new ChainStage([entry], FORMAT);
  const parts: Planar[] = [];
  for (let at = 0; at < framesOf(block); at += size) parts.push(stage.push(slicePlanar(block, at, at + size)));
  parts.push(stage.finish());
  return joined(...parts.flatMap((part) => part[0] ?? []));
}

const equaliser: ChainEntry = {
  ...newChainEntry("equaliser", "e"),
  bands: [{ shape: "bell", hertz: 900, gainDb: 6, q: 1, slope: "12", on: true, sides: "all" }],
};
/** Bands that hold nothing back: what a compressor does to a sine is not what is looked for here. */
const bands = newChainEntry("multiband", "m");
const straightBands: ChainEntry = {
  ...bands,
  bands: (bands["bands"] as Record<string, unknown>[]).map((band) => ({ ...band, ratio: 1 })),
};
/** What bends the waveform makes harmonics, which move along. */
const BENDING = ["saturation", "clipper", "enhancer", "limiter"];
const MOVING: [string, ChainEntry, string, [number, number]][] = [
  ["gain", newChainEntry("gain", "g"), "gainDb", [0, -12]],
  ["a band’s gain", equaliser, "bands.0.gainDb", [-9, 9]],
  ["a band’s frequency", equaliser, "bands.0.hertz", [400, 2500]],
  ["a high-pass", newChainEntry("filter", "f"), "highHz", [40, 400]],
  ["a drive", { ...newChainEntry("saturation", "s"), evenPercent: 30 }, "driveDb", [0, 12]],
  ["a tone", newChainEntry("saturation", "s"), "toneDb", [-6, 6]],
  ["a ceiling", newChainEntry("clipper", "k"), "ceilingDbfs", [-12, 0]],
  ["new harmonics", { ...newChainEntry("enhancer", "n"), highPercent: 20 }, "highPercent", [0, 60]],
  ["a band’s level", straightBands, "bands.1.gainDb", [-6, 6]],
  ["a de-esser’s most", newChainEntry("de-esser", "d"), "maxReductionDb", [0, 12]],
  ["the level into a limiter", newChainEntry("limiter", "i"), "inputDb", [-12, 3]],
  ["a ceiling between samples", newChainEntry("limiter", "i"), "ceilingDbtp", [-12, -3]],
  ["a room", newChainEntry("ambience", "r"), "amountPercent", [5, 40]],
  ["the level of a side", newChainEntry("channels", "h"), "leftDb", [-6, 0]],
  ["a send", { ...newChainEntry("outboard", "o"), device: "lantern" }, "sendDb", [-6, 6]],
  ["a level before a compressor", { ...newChainEntry("compressor", "c"), ratio: 1 }, "inputDb", [-6, 6]],
];

describe("settings that move", () => {
  it("are of every processor that says so, and of none that has no such setting", () => {
    for (const { id, parameters } of PROCESSORS) {
      const entry = id === "equaliser" ? equaliser : newChainEntry(id, "x");
      for (const name of automatableOf(entry)) expect(automatedParameter(parameters, name)?.kind).toBe("number");
    }
    expect(automatableOf(equaliser)).toContain("bands.0.gainDb");
    expect(automatableOf(newChainEntry("leveller", "l"))).toEqual([]);
    expect(automatableOf({ ...equaliser, phase: "linear" })).toEqual([]);
    expect(automatedParameter(PROCESSORS[0]!.parameters, "invert")).toBeUndefined();
  });

  it.each(MOVING)(
    "%s: a line that stays where it is gives the bits of the setting itself",
    (_, entry, name, [, to]) => {
      const x = [noise(0.3, 48000, -12, 1)];
      const [list, index, column] = name.split(".");
      const rows = entry[list!] as Record<string, unknown>[];
      const fixed = column
        ? { [list!]: rows.map((row, i) => (i === Number(index) ? { ...row, [column]: to } : row)) }
        : { [name]: to };
      const line: Breakpoint[] = [[0, to]];
      const moving = { ...entry, automation: { [name]: line as [number, number][] } };
      expect(sameBits([through(moving, x, 777)], [through({ ...entry, ...fixed }, x, 777)])).toBe(true);
    },
  );

  it("go on in stereo as well, from one way to make them to the other, without a jump", () => {
    const x = [sine(440, -12, 1, 48000), sine(440, -12, 1, 48000, 0.3)];
    const wide: ChainEntry = { ...newChainEntry("width", "w"), monoBelowHz: 120 };
    for (const [entry, name, line] of [
      [wide, "lowPercent", [[0, 100], [1, 60]]], // oxfmt-ignore
      [straightBands, "bands.1.gainDb", [[0, 0], [1, 6]]], // oxfmt-ignore
    ] as [ChainEntry, string, [number, number][]][]) {
      const stage = new ChainStage([{ ...entry, automation: { [name]: line } }], {
        ...FORMAT,
        layout: layoutNamed("stereo")!,
      });
      const [left] = [stage.push(x), stage.finish()].map(([side]) => side!);
      let steepest = 0;
      for (let i = 4800; i < left!.length; i++) steepest = Math.max(steepest, Math.abs(left![i]! - left![i - 1]!));
      // A sine of 440 Hz at −12 dBFS rises by 0.0145 a sample at most, and by twice that 6 dB louder.
      expect(steepest).toBeLessThan(0.031);
    }
  });

  it("stay where they are in linear phase, where a long filter could not go on from another", () => {
    const x = [noise(0.3, 48000, -12, 3)];
    const linear: ChainEntry = { ...equaliser, phase: "linear" };
    const lines = { "bands.0.gainDb": [[0, -9] as [number, number], [1, 9] as [number, number]] };
    expect(sameBits([through({ ...linear, automation: lines }, x)], [through(linear, x)])).toBe(true);
  });

  it.each(MOVING)("%s: does not depend on block sizes, to the bit", (_, entry, name, [from, to]) => {
    const x = [noise(0.4, 48000, -12, 2)];
    const moving = {
      ...entry,
      automation: {
        [name]: [
          [0.05, from],
          [0.3, to],
        ] as [number, number][],
      },
    };
    const whole = through(moving, x);
    for (const size of [64, 511, 4096]) expect(sameBits([through(moving, x, size)], [whole])).toBe(true);
  });

  it.each(MOVING)(
    "%s: swept over a second under a sine, makes nothing else above −90 dB",
    (_, entry, name, [from, to]) => {
      const x = [sine(1000, -6, 2, 48000)];
      const moving = {
        ...entry,
        automation: {
          [name]: [
            [0.5, from],
            [1.5, to],
          ] as [number, number][],
        },
      };
      const out = through(moving, x).subarray(24000, 72000);
      expect(spuriousDb(out, BENDING.includes(entry.type) ? [] : [3000, 5000, 9000])).toBeLessThan(-90);
    },
  );
});

/**
 * Beside a sine of 1 kHz: the loudest of what lies where the grid of the settings would show, and at `others`; dB under
 * it.
 */
function spuriousDb(x: Float32Array, others: number[]): number {
  const size = 16384;
  let worst = -Infinity;
  for (let at = 0; at + size <= x.length; at += size / 2) {
    const power = (hertz: number) => {
      let [re, im] = [0, 0];
      for (let i = 0; i < size; i++) {
        const w = (2 * Math.PI * i) / size;
        const window = 0.35875 - 0.48829 * Math.cos(w) + 0.14128 * Math.cos(2 * w) - 0.01168 * Math.cos(3 * w);
        const phase = (2 * Math.PI * hertz * i) / 48000;
        re += x[at + i]! * window * Math.cos(phase);
        im += x[at + i]! * window * Math.sin(phase);
      }
      return re * re + im * im;
    };
    const own = power(1000);
    // Where the grid of the settings would show, and its neighbours.
    const grid = 48000 / 512;
    for (const n of [2, 3, 4, 6, 8])
      for (const side of [-1, 1]) {
        const hertz = 1000 + side * n * grid;
        if (hertz > 100) worst = Math.max(worst, 10 * Math.log10(power(hertz) / own));
      }
    for (const hertz of others) worst = Math.max(worst, 10 * Math.log10(power(hertz) / own));
  }
  return worst;
}
