/**
 * “The Keeper of Morrow Lock, chapter three”: read too low, in a room that is not quite quiet, with breaths, mouth
 * clicks, and a retake marked by two clicks. The sentences are short files made with Debian's espeak-ng.
 */
import { readFile, readdir } from "node:fs/promises";
import { join } from "node:path";
import { Random } from "@core/math/random";
import { ResampleStage } from "@core/render/resample";
import type { Planar } from "@core/signal/units";
import { decodeMedia, probeMedia } from "@server/media-tool";

export const CHAPTER_RATE = 44_100;
const LEVEL = 0.16;

async function sentence(path: string): Promise<Float32Array> {
  await readFile(path); // says clearly when it is missing
  const about = await probeMedia(path);
  const convert = new ResampleStage(about.sampleRate, CHAPTER_RATE, 1);
  const parts: Float32Array[] = [];
  for await (const block of decodeMedia(path, about, new AbortController().signal))
    parts.push(convert.push([block[0]!])[0]!);
  parts.push(convert.finish()[0]!);
  const out = new Float32Array(parts.reduce((sum, part) => sum + part.length, 0));
  let at = 0;
  for (const part of parts) {
    out.set(part, at);
    at += part.length;
  }
  return out;
}

export async function makeChapter(folder: string): Promise<Planar> {
  const random = new Random(77);
  const names = (await readdir(folder)).filter((name) => name.endsWith(".flac")).sort();
  const spoken = await Promise.all(names.map((name) => sentence(join(folder, name))));
  const seconds = spoken.reduce((sum, one) => sum + one.length / CHAPTER_RATE, 0) + names.length * 1.6 + 4;
  const x = new Float32Array(Math.round(seconds * CHAPTER_RATE));
  roomTone(x, random);
  let t = 0.9;
  names.forEach((name, index) => {
    breath(x, t - 0.05, random);
    t += 0.42;
    const at = Math.round(t * CHAPTER_RATE);
    const voice = spoken[index]!;
    for (let i = 0; i < voice.length; i++) x[at + i]! += LEVEL * voice[i]!;
    for (let n = 0; n < 3; n++)
      click(x, t + random.between(0.2, voice.length / CHAPTER_RATE), random.between(0.012, 0.03), 14, random);
    t += voice.length / CHAPTER_RATE;
    if (name.startsWith("04a")) {
      // The reader stops, marks the place with two clicks of a clicker, and reads the sentence again.
      click(x, t + 0.5, 0.6, 60, random);
      click(x, t + 0.78, 0.6, 60, random);
      t += 1.2;
    }
    t += random.between(0.55, 0.95);
  });
  return [x.subarray(0, Math.round((t + 1.5) * CHAPTER_RATE))];
}

/** Air, traffic far away, and a fridge. */
function roomTone(x: Float32Array, random: Random): void {
  let low = 0;
  let lower = 0;
  for (let i = 0; i < x.length; i++) {
    low += (random.between(-1, 1) - low) * 0.08;
    lower += (low - lower) * 0.05;
    x[i] =
      0.0022 * low +
      0.004 * lower +
      0.00016 * Math.sin((2 * Math.PI * 100 * i) / CHAPTER_RATE) +
      0.00025 * random.between(-1, 1);
  }
}

function breath(x: Float32Array, seconds: number, random: Random): void {
  const at = Math.round(seconds * CHAPTER_RATE);
  const length = Math.round(random.between(0.26, 0.36) * CHAPTER_RATE);
  let band = 0;
  let smooth = 0;
  for (let i = 0; i < length; i++) {
    const noise = random.between(-1, 1);
    band += (noise - band) * 0.35;
    smooth += (band - smooth) * 0.06;
    x[at + i]! += 0.028 * (band - smooth) * Math.sin((Math.PI * i) / length) ** 1.5;
  }
}

function click(x: Float32Array, seconds: number, height: number, samples: number, random: Random): void {
  const at = Math.round(seconds * CHAPTER_RATE);
  const pitch = random.between(0.35, 0.6);
  for (let i = 0; i < samples * 4 && at + i < x.length; i++)
    x[at + i]! += height * LEVEL * 2 * Math.exp(-i / samples) * Math.cos(i * pitch);
}
