/**
 * “The Keeper of Morrow Lock, chapter three”: read too low, in a room that is not quite quiet, with breaths, mouth
 * clicks, a cough, blows of air, a long pause, and retakes marked by two clicks or claps. The sentences are short files
 * made with Debian's espeak-ng.
 */
import { readFile, readdir } from "node:fs/promises";
import { join } from "node:path";
import { Random } from "@core/math/random";
import { ResampleStage } from "@core/dsp/resampling";
import { joinedPlanar, type Planar } from "@core/audio/units";
import { decodeMedia, probeMedia } from "@server/media/media-decoder";

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
  return joinedPlanar(
    parts.map((part) => [part]),
    1,
  )[0]!;
}

/** What there is to be found, in seconds. */
export interface ChapterFaults {
  retakes: number[];
  breaths: number[];
  coughs: number[];
  plosives: number[];
}

/** Sentences that are begun once in vain: so much of them, and what marks it. */
const FALSE_STARTS: Record<string, { share: number; mark: "clicks" | "claps" }> = {
  "02": { share: 0.45, mark: "claps" },
  "06": { share: 0.6, mark: "clicks" },
};

export async function makeChapter(folder: string): Promise<{ block: Planar; faults: ChapterFaults }> {
  const random = new Random(77);
  const names = (await readdir(folder)).filter((name) => name.endsWith(".flac")).sort();
  const spoken = await Promise.all(names.map((name) => sentence(join(folder, name))));
  const seconds = spoken.reduce((sum, one) => sum + one.length / CHAPTER_RATE, 0) + names.length * 1.6 + 34;
  const x = new Float32Array(Math.round(seconds * CHAPTER_RATE));
  roomTone(x, random);
  const faults: ChapterFaults = { retakes: [], breaths: [], coughs: [], plosives: [] };
  let t = 0.9;
  /** Reads a sentence, or only its beginning; ends where it ends. */
  const read = (voice: Float32Array) => {
    faults.breaths.push(t - 0.05);
    breath(x, t - 0.05, random);
    t += 0.42;
    const at = Math.round(t * CHAPTER_RATE);
    const fade = 0.03 * CHAPTER_RATE;
    voice.forEach((v, i) => (x[at + i]! += LEVEL * v * Math.min(1, (voice.length - i) / fade)));
    for (let n = 0; n < 3; n++)
      click(x, t + random.between(0.2, voice.length / CHAPTER_RATE), random.between(0.012, 0.03), 14, random);
    t += voice.length / CHAPTER_RATE;
  };
  /** The reader stops and marks the place. */
  const mark = (kind: "clicks" | "claps") => {
    faults.retakes.push(t + 0.5);
    for (const seconds of [t + 0.5, t + (kind === "clicks" ? 0.78 : 0.86)])
      if (kind === "clicks") click(x, seconds, 0.6, 60, random);
      else clap(x, seconds, random);
    t += 1.2;
  };
  names.forEach((name, index) => {
    const voice = spoken[index]!;
    const inVain = FALSE_STARTS[name.slice(0, 2)];
    if (inVain) {
      read(voice.subarray(0, Math.round(inVain.share * voice.length)));
      mark(inVain.mark);
    }
    if (name.startsWith("03") || name.startsWith("08")) {
      faults.plosives.push(t + 0.43);
      plosive(x, t + 0.43);
    }
    read(voice);
    if (name.startsWith("04a")) mark("clicks");
    if (name.startsWith("05")) {
      faults.coughs.push(t + 0.7);
      cough(x, t + 0.7, random);
      t += 1.6;
    }
    if (name.startsWith("07")) t += 3.4;
    t += random.between(0.55, 0.95);
  });
  return { block: [x.subarray(0, Math.round((t + 1.5) * CHAPTER_RATE))], faults };
}

/** Two hands: noise that is gone at once, with a little of the room behind it. */
function clap(x: Float32Array, seconds: number, random: Random): void {
  const at = Math.round(seconds * CHAPTER_RATE);
  for (let i = 0; i < 0.05 * CHAPTER_RATE; i++)
    x[at + i]! += 0.3 * random.between(-1, 1) * (Math.exp(-i / 120) + 0.06 * Math.exp(-i / 900));
}

function cough(x: Float32Array, seconds: number, random: Random): void {
  const at = Math.round(seconds * CHAPTER_RATE);
  let [band, low] = [0, 0];
  for (let i = 0; i < 0.28 * CHAPTER_RATE; i++) {
    band += (random.between(-1, 1) - band) * 0.3;
    low += (band - low) * 0.04;
    x[at + i]! += 0.17 * (band - low) * Math.min(1, i / 300) * Math.exp(-i / 4200);
  }
}

/** Air blown into the microphone: a swell far below the voice. */
function plosive(x: Float32Array, seconds: number): void {
  const at = Math.round(seconds * CHAPTER_RATE);
  const length = 0.07 * CHAPTER_RATE;
  for (let i = 0; i < length; i++)
    x[at + i]! += 0.16 * Math.sin((Math.PI * i) / length) ** 2 * Math.sin((2 * Math.PI * 48 * i) / CHAPTER_RATE);
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
