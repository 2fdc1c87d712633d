/** Chains at work: speed beside the nearest chain of ffmpeg filters, the share of each processor, and what a limiter adds. */
import { spawnSync } from "node:child_process";
import { readFileSync } from "node:fs";
import { memorySource } from "@core/files/bytes";
import { openSoundFile } from "@core/files/open";
import { Fft } from "@core/math/fft";
import type { ChainEntry } from "@core/processors";
import { ChainStage } from "@core/render/chain-stage";
import { layoutNamed } from "@core/audio/layout";
import { framesOf, slicePlanar, type Planar } from "@core/audio/units";
import { joined, sine } from "@core/testing/signals";
import { median, RATE } from "./clips";

const RUNS = 5;
const BLOCK = 8192;

const band = (shape: string, hertz: number, gainDb: number, q: number) => ({
  shape,
  hertz,
  gainDb,
  q,
  slope: "12",
  on: true,
  sides: "all",
});

const PARTS: Record<string, Record<string, unknown>> = {
  "high-pass": { type: "filter" },
  "8-band EQ": {
    type: "equaliser",
    bands: [
      band("low shelf", 90, 2, 0.7),
      band("bell", 200, -3, 1),
      band("bell", 400, 2, 1),
      band("bell", 1000, -2, 2),
      band("bell", 2000, 1, 2),
      band("bell", 4000, 3, 0.7),
      band("bell", 6000, -4, 3),
      band("high shelf", 12000, 2, 0.7),
    ],
  },
  "3-band compressor": { type: "multiband" },
  "saturation, 4×": { type: "saturation", driveDb: 4 },
  limiter: { type: "limiter", ceilingDbtp: -3 },
};

/** The same on the other side: 24 dB/octave high-pass, eight bands, three compressed bands, soft clipping, limiter. */
const FFMPEG_CHAIN = [
  "highpass=f=30:p=2,highpass=f=30:p=2",
  "lowshelf=f=90:g=2,equalizer=f=200:t=q:w=1:g=-3,equalizer=f=400:t=q:w=1:g=2,equalizer=f=1000:t=q:w=2:g=-2",
  "equalizer=f=2000:t=q:w=2:g=1,equalizer=f=4000:t=q:w=0.7:g=3,equalizer=f=6000:t=q:w=3:g=-4,highshelf=f=12000:g=2",
  "mcompand='0.025,0.2 6 -60/-60,-24/-24,0/-11 160 | 0.012,0.14 6 -60/-60,-24/-24,0/-9 3500 | 0.004,0.09 6 -60/-60,-28/-28,0/-11 22000'",
  "asoftclip=type=tanh:oversample=4",
  "alimiter=limit=0.7:level=0",
].join(",");

const stageOf = (chain: Record<string, unknown>[], layout: string): ChainStage =>
  new ChainStage(
    chain.map((entry) => ({ bypass: false, ...entry }) as ChainEntry),
    { sampleRate: RATE, layout: layoutNamed(layout)! },
  );

/** Times real time, the median of some runs. */
function speedOf(chain: Record<string, unknown>[], block: Planar, layout: string): number {
  const seconds = Array.from({ length: RUNS + 1 }, () => {
    const stage = stageOf(chain, layout);
    const began = performance.now();
    for (let at = 0; at < framesOf(block); at += BLOCK) stage.push(slicePlanar(block, at, at + BLOCK));
    stage.finish();
    return (performance.now() - began) / 1000;
  });
  return framesOf(block) / RATE / median(seconds.slice(1)); // the first warms up
}

/** What is neither at the tones that were put in, dB under them. */
function residueDb(x: Float32Array, tones: number[]): number {
  const size = 131_072;
  const re = new Float64Array(size);
  const im = new Float64Array(size);
  for (let i = 0; i < size; i++) {
    const w = (2 * Math.PI * i) / size;
    re[i] = x[150_000 + i]! * (0.35875 - 0.48829 * Math.cos(w) + 0.14128 * Math.cos(2 * w) - 0.01168 * Math.cos(3 * w));
  }
  new Fft(size).forward(re, im);
  const width = (6 * RATE) / size;
  let [kept, rest] = [0, 0];
  for (let k = 0; k < size / 2; k++) {
    const at = (k * RATE) / size;
    const power = re[k]! ** 2 + im[k]! ** 2;
    if (tones.some((hertz) => Math.abs(at - hertz) <= width)) kept += power;
    else if (at > 15) rest += power;
  }
  return 10 * Math.log10(rest / kept);
}

const limited = (x: Float32Array): Float32Array => {
  const stage = stageOf([{ type: "limiter", ceilingDbtp: -7 }], "mono");
  return joined(stage.push([x])[0]!, stage.finish()[0] ?? new Float32Array(0));
};

/** How far hi-hats are turned down by the bass under them, with each stroke of it: dB between the most and the least. */
function pumpingDb(): number {
  const seconds = 6;
  const bass = sine(50, -1, seconds, RATE).map((v, i) => v * Math.exp(-(((i / RATE) * 2) % 1) * 5));
  const hat = sine(8000, -26, seconds, RATE);
  const out = limited(bass.map((v, i) => v + hat[i]!));
  // The level of the hats alone, every 10 ms, by their own frequency.
  const hop = RATE / 100;
  const levels = Array.from({ length: 100 * seconds - 100 }, (_, n) => {
    let [re, im] = [0, 0];
    for (let i = 0; i < hop; i++) {
      const at = (n + 50) * hop + i;
      re += out[at]! * Math.cos((2 * Math.PI * 8000 * at) / RATE);
      im += out[at]! * Math.sin((2 * Math.PI * 8000 * at) / RATE);
    }
    return 20 * Math.log10(Math.hypot(re, im));
  });
  return Math.max(...levels) - Math.min(...levels);
}

const [stereoPath, widePath] = process.argv.slice(2) as [string, string];

async function soundOf(path: string): Promise<Planar> {
  const file = (await openSoundFile(memorySource(new Uint8Array(readFileSync(path)))))!;
  return file.read(0, file.frames);
}

const stereo = await soundOf(stereoPath);
const chain = Object.values(PARTS);
console.log(
  `\nChains on ${(framesOf(stereo) / RATE).toFixed(0)} s of pink noise that swells, 48 kHz, one thread, medians of ${RUNS}`,
);
for (const [name, entry] of Object.entries(PARTS))
  console.log(`  ${name.padEnd(34)} ${speedOf([entry], stereo, "stereo").toFixed(0).padStart(5)}×`);
const whole = speedOf(chain, stereo, "stereo");
const theirs = median(
  Array.from({ length: RUNS }, () => {
    const began = performance.now();
    const { status, stderr } = spawnSync(
      "ffmpeg",
      [
        "-v",
        "error",
        "-threads",
        "1",
        "-filter_threads",
        "1",
        "-i",
        stereoPath,
        "-af",
        FFMPEG_CHAIN,
        "-f",
        "null",
        "-",
      ],
      { encoding: "utf8" },
    );
    if (status !== 0) throw new Error(stderr);
    return framesOf(stereo) / RATE / ((performance.now() - began) / 1000);
  }),
);
console.log(
  `  all five, stereo (wanted 40×)      ${whole.toFixed(0).padStart(5)}×, ${(100 / whole).toFixed(1)} % of a core live (wanted under 25); ` +
    `ffmpeg's nearest chain, whole process ${theirs.toFixed(0)}×: ratio ${(theirs / whole).toFixed(2)}`,
);
const wide = (await soundOf(widePath)).map((x) => x.subarray(0, 30 * RATE));
const twelve = speedOf([PARTS["8-band EQ"]!, PARTS["limiter"]!], wide, "7.1.4");
console.log(`  EQ and limiter, 12 ch. (wanted 8×) ${twelve.toFixed(0).padStart(5)}×`);

console.log("\nThe limiter, 6 dB deep, default release");
console.log(`  100 Hz: THD+N ${residueDb(limited(sine(100, -1, 6, RATE)), [100]).toFixed(1)} dB (wanted −100)`);
const high = sine(7000, -14.98, 6, RATE);
const two = sine(60, -2.94, 6, RATE).map((v, i) => v + high[i]!);
console.log(
  `  60 Hz and 7 kHz, 4 : 1: intermodulation ${residueDb(limited(two), [60, 7000]).toFixed(1)} dB (wanted −60)`,
);
console.log(`  hi-hats over strokes of bass move by ${pumpingDb().toFixed(1)} dB between strokes (10 ms steps)`);
