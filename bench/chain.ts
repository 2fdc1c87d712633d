/** Chains at work: speed beside the nearest chain of ffmpeg filters, the share of each processor. */
import { spawnSync } from "node:child_process";
import { readFileSync } from "node:fs";
import { memorySource } from "@core/files/bytes";
import { openSoundFile } from "@core/files/open";
import type { ChainEntry } from "@core/processors";
import { ChainStage } from "@core/render/chain-stage";
import { layoutNamed } from "@core/audio/layout";
import { framesOf, slicePlanar, type Planar } from "@core/audio/units";
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
