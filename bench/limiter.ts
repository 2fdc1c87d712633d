/**
 * The limiter beside ffmpeg's `alimiter`, both at the same true peak: how much loudness is lost, and how much of the
 * result is not the sound itself. `alimiter` runs at four times the rate, and its limit is lowered until its true peak
 * is the ceiling.
 */
import { execFileSync } from "node:child_process";
import { readFileSync, writeFileSync } from "node:fs";
import { join } from "node:path";
import { layoutForChannels } from "@core/audio/layout";
import { framesOf, type Planar } from "@core/audio/units";
import { predictNow } from "@core/delivery/predict-chain";
import { Measurer } from "@core/measure";
import type { ChainEntry } from "@core/processors";
import { ChainStage } from "@core/render/chain-stage";
import { kWeightedDistortion, loudnessOf, movesBy, residueDb } from "@core/testing/distortion";
import { bandLimited, exactTruePeakDb, joined, noise, sine } from "@core/testing/signals";
import { median, RATE, scratch } from "./clips";
import { ensembles, REPORTED_ON } from "./ensembles";

const CEILING_DBTP = -1;
const OVER_DB = 8;
const TRIES = 6;

function limited(block: Planar, ceilingDbtp = CEILING_DBTP, more: Record<string, unknown> = {}): Planar {
  const entry = { type: "limiter", bypass: false, ceilingDbtp, ...more } as ChainEntry;
  const stage = new ChainStage([entry], { sampleRate: RATE, layout: layoutForChannels(block.length) });
  const [begun, rest] = [stage.push(block.map((x) => x.slice())), stage.finish()];
  return begun.map((x, c) => joined(x, rest[c] ?? new Float32Array(0)));
}

/** What the board tells of it before it is rendered, LUFS. */
function predictedLufs(block: Planar): number {
  const measurer = new Measurer({ sampleRate: RATE, layout: layoutForChannels(block.length) });
  measurer.process(block);
  const { figures, curves } = measurer.result();
  const entry = { type: "limiter", bypass: false, ceilingDbtp: CEILING_DBTP } as ChainEntry;
  return predictNow(figures, curves, [entry]).integratedLufs ?? NaN;
}

function byOther(block: Planar): Planar {
  const [input, output] = [join(scratch, "in.f32"), join(scratch, "out.f32")];
  const frames = framesOf(block);
  const interleaved = new Float32Array(2 * frames);
  block.forEach((x, c) => x.forEach((v, i) => (interleaved[2 * i + c] = v)));
  writeFileSync(input, new Uint8Array(interleaved.buffer));
  let limit = 10 ** (CEILING_DBTP / 20);
  for (let tries = 1; ; tries++) {
    const filter = `aresample=${4 * RATE},alimiter=limit=${limit.toFixed(8)}:level=0:latency=1,aresample=${RATE}`;
    const format = ["-f", "f32le", "-ar", String(RATE), "-ac", "2"];
    execFileSync("ffmpeg", ["-v", "error", "-y", ...format, "-i", input, "-af", filter, "-f", "f32le", output]);
    const made = new Float32Array(new Uint8Array(readFileSync(output)).buffer);
    const sides = [0, 1].map((c) => Float32Array.from({ length: frames }, (_, i) => made[2 * i + c] ?? 0));
    const over = Math.max(...sides.map(exactTruePeakDb)) - CEILING_DBTP;
    if (Math.abs(over) < 0.02 || tries === TRIES) return sides;
    limit *= 10 ** (-over / 20);
  }
}

console.log(
  `\nThe limiter beside alimiter, ${OVER_DB} dB over ${CEILING_DBTP} dBTP: loudness lost (LU), K-weighted distortion (dB)`,
);
console.log(`  ${"".padEnd(16)}   lost  alimiter    less  told ahead  distortion  alimiter  lower`);
const [less, lower]: [number[], number[]] = [[], []];
for (const { name, block } of ensembles(REPORTED_ON)) {
  const gain = 10 ** ((CEILING_DBTP + OVER_DB - Math.max(...block.map(exactTruePeakDb))) / 20);
  const loud = block.map((x) => x.map((v) => gain * v));
  const before = loudnessOf(loud, RATE);
  const [ours, theirs] = [limited(loud), byOther(loud)].map((made) => ({
    lost: before - loudnessOf(made, RATE),
    distortion: kWeightedDistortion(loud, made, RATE),
  })) as [{ lost: number; distortion: number }, { lost: number; distortion: number }];
  less.push(theirs.lost - ours.lost);
  lower.push(theirs.distortion - ours.distortion);
  const told = before - predictedLufs(loud);
  const figures = [ours.lost, theirs.lost, less.at(-1)!, told, ours.distortion, theirs.distortion, lower.at(-1)!];
  console.log(`  ${name.padEnd(16)} ${figures.map((v) => v.toFixed(2).padStart(8)).join(" ")}`);
}
console.log(
  `  least of all: ${Math.min(...less).toFixed(2)} LU less (wanted 0.3), ${Math.min(...lower).toFixed(2)} dB lower (wanted above 0); medians ${median(less).toFixed(2)} LU and ${median(lower).toFixed(2)} dB`,
);

console.log(`\nThe limiter on steady tones, ${OVER_DB} dB deep`);
const tone = (hertz: number, db = OVER_DB + CEILING_DBTP) => sine(hertz, db, 6, RATE);
const mono = (x: Float32Array, ceilingDbtp = CEILING_DBTP, more = {}) => limited([x], ceilingDbtp, more)[0]!;
console.log(`  100 Hz: THD+N ${residueDb(mono(tone(100)), [100], RATE).toFixed(1)} dB (wanted −100)`);
const high = tone(7000, OVER_DB + CEILING_DBTP - 14);
const two = tone(60, OVER_DB + CEILING_DBTP - 1.94).map((v, i) => v + high[i]!);
console.log(
  `  60 Hz and 7 kHz, 4 : 1: intermodulation ${residueDb(mono(two), [60, 7000], RATE).toFixed(1)} dB (wanted −80)`,
);
const strokes = sine(50, -1, 6, RATE).map((v, i) => v * Math.exp(-(((i / RATE) * 2) % 1) * 5));
const hats = sine(8000, -26, 6, RATE);
const kit = strokes.map((v, i) => v + hats[i]!);
for (const bassApart of [true, false]) {
  const moves = movesBy(mono(kit, -6, { bassApart }), 8000, RATE, RATE / 2, 5 * RATE);
  console.log(
    `  hats over strokes of bass, ${bassApart ? "bass apart" : "as it comes"}: move by ${moves.toFixed(2)} dB`,
  );
}
const bursts = bandLimited(
  joined(
    ...Array.from({ length: 20 }, (_, n) => [noise(0.004 + n * 0.0003, RATE, 3, n + 1), new Float32Array(1900)]).flat(),
  ),
);
console.log(
  `  bursts of noise: over the ceiling by ${(exactTruePeakDb(mono(bursts, -6)) + 6).toFixed(4)} dB (wanted 0.02)`,
);
