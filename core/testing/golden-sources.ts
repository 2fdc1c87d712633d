/** Recordings that golden renders are made from: made in code, the same anywhere. */
import type { FrameSource } from "../audio/frame-source";
import { layoutNamed, type Layout } from "../audio/layout";
import type { Hertz, Planar } from "../audio/units";
import { clicked, drifting, mixed, musicLike, speechLike, spiked, steadyNoise } from "./degraded";
import { memoryFrames } from "./signals";

export interface GoldenSource {
  source: FrameSource;
  layout: Layout;
  block: Planar;
}

function made(name: string, block: Planar, sampleRate: Hertz): GoldenSource {
  return { source: memoryFrames(block, sampleRate), layout: layoutNamed(name)!, block };
}

const SECONDS = 2.5;

/** Speech with all that is repaired: hum, noise, clicks, clipped peaks. Two channels that differ. */
function speech(sampleRate: Hertz): GoldenSource {
  const side = (seed: number) => {
    const clean = speechLike(SECONDS, sampleRate, seed);
    const noisy = mixed(clean, steadyNoise("fan", clean.length, sampleRate, seed + 10), 30);
    const humming = mixed(noisy, drifting(clean.length, sampleRate, 50, 8, 0.1, seed + 20), 30);
    const thumped = spiked(humming, sampleRate, seed + 30);
    return clicked(thumped, sampleRate, 3, "sharp", seed + 40).spoilt.map((x) => Math.max(-0.25, Math.min(0.25, x)));
  };
  return made("stereo", [side(1), side(2)], sampleRate);
}

const music = (sampleRate: Hertz): GoldenSource =>
  made("stereo", [musicLike(SECONDS, sampleRate, 3), musicLike(SECONDS, sampleRate, 4)], sampleRate);

const surround = (sampleRate: Hertz): GoldenSource =>
  made(
    "5.1",
    [5, 6, 7, 8, 9, 10].map((seed) => musicLike(SECONDS, sampleRate, seed)),
    sampleRate,
  );

const MAKERS: Readonly<Record<string, () => GoldenSource>> = {
  speech: () => speech(48_000),
  music: () => music(44_100),
  surround: () => surround(48_000),
};
const known = new Map<string, GoldenSource>();

/** Speech and music in stereo, music in 5.1; each is made once. */
export function goldenSource(name: string): GoldenSource {
  const source = known.get(name) ?? MAKERS[name]!();
  known.set(name, source);
  return source;
}
