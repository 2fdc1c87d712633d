/**
 * Masters of real speech and music for every spec, measured by a meter that is not ours; and the converter beside
 * `sox rate -v`, speed and spectra.
 */
import { execFileSync, spawnSync } from "node:child_process";
import { mkdirSync, rmSync } from "node:fs";
import { join } from "node:path";
import { openSoundFile } from "@core/files/open";
import { newTags } from "@core/files/tags";
import { WavWriter } from "@core/files/wav-writer";
import { Fft } from "@core/math/fft";
import { kaiser } from "@core/math/kaiser";
import { renderMaster } from "@core/delivery/render-master";
import { newFormat, type MasterFormat } from "@core/delivery/recipe";
import { ResampleStage } from "@core/dsp/resampling";
import { layoutForChannels } from "@core/audio/layout";
import { emptyPlanar, framesOf, joinedPlanar, type Planar } from "@core/audio/units";
import { SPECS } from "@core/delivery/specs";
import type { DeliverySpec } from "@core/delivery/spec";
import { exactTruePeakDb, memoryFrames } from "@core/testing/signals";
import { FileSink, openFile } from "@server/storage/byte-files";
import { MasterFile } from "@server/rendering/master-file";
import { clips, median, RATE, scratch, type Clip } from "./clips";
import { lossy } from "./lossy";

const RUNS = 5;

/** Enough of a clip for its loudness: the exact interpolation of peaks takes long. */
const CLIP_FRAMES = 4 * RATE;

/** Two sides that are alike but not the same: the second comes a little later. */
const stereoOf = (x: Float32Array): Planar => [x, Float32Array.from(x, (_, i) => 0.9 * (x[i - 11] ?? 0))];

/** Integrated loudness by ffmpeg's meter, in tenths. */
function lufsByOther(path: string): number {
  const { stderr } = spawnSync(
    "ffmpeg",
    ["-hide_banner", "-nostats", "-i", path, "-map", "0:a:0", "-af", "ebur128=framelog=verbose", "-f", "null", "-"],
    {
      encoding: "utf8",
    },
  );
  return Number(/I:\s+(-?[\d.]+) LUFS/.exec(stderr.slice(stderr.lastIndexOf("Summary:")))?.[1]);
}

/** RMS over all channels by SoX. */
function rmsByOther(path: string): number {
  const { stderr } = spawnSync("sox", [path, "-n", "stats"], { encoding: "utf8" });
  return Number(/RMS lev dB\s+(-?[\d.]+)/.exec(stderr)?.[1]);
}

async function exactPeak(path: string): Promise<number> {
  const decoded = `${path}.decoded.wav`;
  execFileSync("ffmpeg", ["-v", "error", "-y", "-i", path, "-map", "0:a:0", "-c:a", "pcm_f32le", decoded]);
  const bytes = await openFile(decoded);
  const file = (await openSoundFile(bytes))!;
  const peaks = (await file.read(0, file.frames)).map(exactTruePeakDb);
  await bytes.close();
  rmSync(decoded);
  return Math.max(...peaks);
}

let made = 0;
async function master(block: Planar, spec: DeliverySpec, format: MasterFormat) {
  const folder = join(scratch, `master-${made++}`);
  mkdirSync(folder);
  const tags = newTags({ title: "Bench" });
  const file = new MasterFile(folder, { format, tags, cover: null, video: null });
  const layout = layoutForChannels(block.length);
  const job = {
    source: memoryFrames(block, RATE),
    layout,
    sourceBits: null,
    tags,
    recipe: { repairs: [], chain: [], spec, format },
  };
  const result = await renderMaster(job, file);
  await file.finish();
  return { file, result };
}

interface Judged {
  passes: number;
  count: number;
  offLu: number;
  overDb: number;
  attempts: number;
}

async function judged(spec: DeliverySpec, format: MasterFormat, all: readonly Clip[]): Promise<Judged> {
  const sum: Judged = { passes: 0, count: 0, offLu: -1, overDb: -Infinity, attempts: 0 };
  for (const clip of all) {
    const mono = spec.id === "audiobook-retail";
    const x = clip.clean.subarray(0, CLIP_FRAMES);
    const { file, result } = await master(mono ? [x] : stereoOf(x), spec, format);
    sum.count++;
    sum.attempts = Math.max(sum.attempts, result.attempts);
    const misses = result.verdict!.limits.filter(({ limit, status }) => limit.required && status === "fail");
    // Clips of ten seconds have no head and tail of a chapter.
    if (misses.every(({ limit }) => /Seconds$/.test(limit.figure) || limit.figure === "noiseFloorDbfs")) sum.passes++;
    const aimed =
      spec.target !== null && spec.normalise !== "none" && !spec.keepWithinRange && spec.gainScope === "item";
    if (aimed && spec.anchor === "programme")
      sum.offLu = Math.max(sum.offLu, Math.abs(lufsByOther(file.path) - spec.target!));
    if (aimed && spec.anchor === "rms") sum.offLu = Math.max(sum.offLu, Math.abs(rmsByOther(file.path) - spec.target!));
    if (spec.normalise === "gain and limiter")
      sum.overDb = Math.max(sum.overDb, (await exactPeak(file.path)) - spec.ceilingDbtp);
    await file.close();
  }
  return sum;
}

async function specs(): Promise<void> {
  const all = clips();
  console.log(`\nMasters of ${all.length} clips (${new Set(all.map(({ kind }) => kind)).size} kinds) for every spec:`);
  console.log(
    "spec, file                          pass   off target by another meter   exact true peak over   passes at most",
  );
  const line = (name: string, { passes, count, offLu, overDb, attempts }: Judged) =>
    console.log(
      `${name.padEnd(36)}${`${passes}/${count}`.padEnd(7)}${offLu >= 0 ? `${offLu.toFixed(2)} LU` : "–".padEnd(7)}${"".padEnd(22)}${Number.isFinite(overDb) ? `${overDb.toFixed(3)} dB` : "–"}${"".padEnd(13)}${attempts}`,
    );
  for (const spec of SPECS.filter(({ measuredOn }) => measuredOn === "programme")) {
    const { fileRequirements } = spec;
    const format = newFormat({
      ...(fileRequirements?.sampleRates ? { sampleRate: fileRequirements.sampleRates[0]! } : {}),
      ...(fileRequirements?.depths ? { bitDepth: fileRequirements.depths[0]! } : {}),
    });
    line(spec.id, await judged(spec, format, all));
  }
  const streaming = SPECS.find(({ id }) => id === "streaming-14")!;
  for (const format of [
    newFormat({ container: "mp3", bitrateKbps: 128, sampleRate: 44100 }),
    newFormat({ container: "m4a", bitrateKbps: 128 }),
    newFormat({ container: "opus", bitrateKbps: 64 }),
  ])
    line(`streaming-14, ${format.container} ${format.bitrateKbps} kbit/s`, await judged(streaming, format, all));
}

/** Reads a WAV file, converts it and writes another: seconds. */
async function convertOnce(path: string, out: string, to: number): Promise<number> {
  const began = performance.now();
  const bytes = await openFile(path);
  const file = (await openSoundFile(bytes))!;
  rmSync(out, { force: true });
  const sink = await FileSink.create(out);
  const writer = await WavWriter.open(sink, {
    sampleRate: to,
    layout: layoutForChannels(file.channels),
    format: "32f",
  });
  const stage = new ResampleStage(file.sampleRate, to, file.channels);
  const into = emptyPlanar(file.channels, 65_536);
  for (let at = 0; at < file.frames; at += 65_536) {
    const block = stage.push(await file.read(at, 65_536, into));
    await writer.writeFloat(block, framesOf(block));
  }
  const rest = stage.finish();
  await writer.writeFloat(rest, framesOf(rest));
  await writer.finish();
  await sink.close();
  await bytes.close();
  return (performance.now() - began) / 1000;
}

function soxOnce(path: string, out: string, to: number): number {
  const began = performance.now();
  execFileSync("sox", ["--single-threaded", path, "-b", "32", "-e", "floating-point", out, "rate", "-v", String(to)], {
    stdio: "ignore",
  });
  return (performance.now() - began) / 1000;
}

/** The worst of what is in a converted tone beside it, and how far its level is off, in dB. */
function spectrumOf(x: Float32Array, hertz: number, rate: number): { spur: number; error: number } {
  const N = 65_536;
  const from = Math.floor((x.length - N) / 2);
  const [re, im] = [new Float64Array(N), new Float64Array(N)];
  let weight = 0;
  let [inPhase, across] = [0, 0];
  for (let i = 0; i < N; i++) {
    const w = kaiser((i - N / 2) / (N / 2), 22);
    const turn = (2 * Math.PI * hertz * (from + i)) / rate;
    re[i] = x[from + i]! * w;
    inPhase += re[i]! * Math.sin(turn);
    across += re[i]! * Math.cos(turn);
    weight += w;
  }
  new Fft(N).forward(re, im);
  let spur = 0;
  for (let k = 0; k < N / 2; k++)
    if (Math.abs(k - (hertz / rate) * N) >= 14) spur = Math.max(spur, (2 * Math.hypot(re[k]!, im[k]!)) / weight);
  const level = 20 * Math.log10((2 * Math.hypot(inPhase, across)) / weight / AMPLITUDE);
  return { spur: 20 * Math.log10(spur / AMPLITUDE), error: Math.abs(level) };
}
const AMPLITUDE = 0.5;
const SECONDS = 2.2;

function quality(from: number, to: number): string {
  const lowest = Math.min(from, to) / 2;
  let [spur, error] = [-Infinity, 0];
  for (const share of [0.05, 0.3, 0.5, 0.7, 0.85, 0.905, 0.99, 1.03, 1.1, 1.5, 1.9]) {
    const hertz = lowest * share;
    if (hertz >= 0.499 * from) continue;
    const tone = Float32Array.from(
      { length: Math.ceil(from * SECONDS) },
      (_, i) => AMPLITUDE * Math.sin((2 * Math.PI * hertz * i) / from),
    );
    const stage = new ResampleStage(from, to, 1);
    const [made] = joinedPlanar([stage.push([tone]), stage.finish()], 1);
    const found = spectrumOf(made!, hertz, to);
    spur = Math.max(spur, found.spur);
    if (share <= 0.91) error = Math.max(error, found.error);
  }
  return `worst alias or image ${spur.toFixed(1)} dB (−140), pass-band ±${error.toFixed(6)} dB (0.001)`;
}

async function converter(): Promise<void> {
  console.log("\nConverter, stereo float of 120 s from file to file, one thread; beside sox rate -v:");
  const out = [join(scratch, "ours.wav"), join(scratch, "sox.wav")] as const;
  for (const [from, to] of [
    [44100, 48000],
    [48000, 44100],
    [96000, 44100],
    [44100, 88200],
    [192000, 48000],
  ] as const) {
    const path = join(scratch, `noise-${from}.wav`);
    execFileSync("ffmpeg", [
      "-v",
      "error",
      "-y",
      "-f",
      "lavfi",
      "-i",
      `anoisesrc=c=pink:d=120:r=${from}:a=0.4:seed=3`,
      "-ac",
      "2",
      "-c:a",
      "pcm_f32le",
      path,
    ]);
    const pairs: [number, number][] = [];
    for (let run = 0; run <= RUNS; run++) pairs.push([await convertOnce(path, out[0], to), soxOnce(path, out[1], to)]);
    // The first warms up.
    const [ours, theirs] = [0, 1].map((side) => median(pairs.slice(1).map((pair) => pair[side]!))) as [number, number];
    const ratio = median(pairs.slice(1).map(([a, b]) => a / b));
    console.log(
      `${from} → ${to}: ${(120 / ours).toFixed(0)}× real time, sox ${(120 / theirs).toFixed(0)}×, time ratio ${ratio.toFixed(2)}; ${quality(from, to)}`,
    );
  }
}

const parts: Record<string, () => Promise<void>> = { specs, converter, lossy };
const asked = process.argv.slice(2).filter((name) => Object.hasOwn(parts, name));
for (const name of asked.length > 0 ? asked : Object.keys(parts)) await parts[name]!();
