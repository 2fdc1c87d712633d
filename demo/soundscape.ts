/** “Orchard at Dusk”: a 7.1.4 soundscape with movement and height, one pair of which is out of polarity. */
import { Random } from "@core/math/random";
import { layoutNamed, type Speaker } from "@core/audio/layout";
import { emptyPlanar, type Planar } from "@core/audio/units";
import { bell, chirp, pitch, RATE } from "./synth/instruments";
import { add, room } from "./synth/mix";

export const SOUNDSCAPE_LAYOUT = layoutNamed("7.1.4")!;
const SECONDS = 64;

const radians = (degrees: number) => (degrees * Math.PI) / 180;
const vector = ({ azimuth, elevation }: Pick<Speaker, "azimuth" | "elevation">) => [
  Math.cos(radians(elevation)) * Math.cos(radians(azimuth)),
  Math.cos(radians(elevation)) * Math.sin(radians(azimuth)),
  Math.sin(radians(elevation)),
];

/** Gains that put a sound in a direction: nearer loudspeakers more, all powers together one. */
function gainsTo(azimuth: number, elevation: number): number[] {
  const to = vector({ azimuth, elevation });
  const raw = SOUNDSCAPE_LAYOUT.speakers.map((speaker) => {
    if (speaker.lfe) return 0;
    const from = vector(speaker);
    return Math.max(0, from[0]! * to[0]! + from[1]! * to[1]! + from[2]! * to[2]!) ** 6;
  });
  const norm = Math.sqrt(raw.reduce((sum, gain) => sum + gain * gain, 0));
  return raw.map((gain) => gain / norm);
}

export function makeSoundscape(): Planar {
  const random = new Random(909);
  const frames = SECONDS * RATE;
  const block = emptyPlanar(12, frames);
  const send = new Float32Array(frames);
  wind(block);
  for (let t = 2; t < SECONDS - 3; t += random.between(0.5, 1.6)) {
    const bird = chirp(random.between(2200, 5200), random);
    // Two flocks: one circles above, one stays in a tree at the left.
    const gains = random.next() < 0.5 ? gainsTo(((t * 14) % 360) - 180, 40) : gainsTo(70 + random.between(-15, 15), 20);
    const level = random.between(0.05, 0.16);
    gains.forEach((gain, c) => add(block[c]!, bird, t, level * gain));
    add(send, bird, t, level * 0.4);
  }
  insect(block, random);
  for (let stroke = 0; stroke < 7; stroke++) {
    const sound = bell(pitch(45), 7);
    gainsTo(-20, 5).forEach((gain, c) => add(block[c]!, sound, 20 + stroke * 3.2, 0.3 * gain));
    add(send, sound, 20 + stroke * 3.2, 0.14);
  }
  thunder(block, random);
  const wet = room(send, 3, 11);
  SOUNDSCAPE_LAYOUT.speakers.forEach(({ lfe }, c) => {
    if (!lfe) wet[c > 3 ? c - 1 : c]!.forEach((v, i) => (block[c]![i]! += 0.5 * v));
  });
  // The two back top channels hear the same rain; one of them was wired the wrong way round.
  const rain = new Random(910);
  let smooth = 0;
  for (let i = 0; i < frames; i++) {
    smooth += (rain.between(-1, 1) - smooth) * 0.4;
    const drop = 0.045 * smooth * Math.min(1, i / (8 * RATE));
    block[10]![i]! = 0.25 * block[10]![i]! + drop;
    block[11]![i]! = 0.25 * block[11]![i]! - drop;
  }
  const fade = 0.5 * RATE;
  return block.map((channel) => channel.map((v, i) => 0.9 * v * Math.min(1, i / fade, (frames - 1 - i) / fade)));
}

/** Wind from all sides, each its own. */
function wind(block: Planar): void {
  block.forEach((channel, c) => {
    if (SOUNDSCAPE_LAYOUT.speakers[c]!.lfe) return;
    const random = new Random(1000 + c);
    let low = 0;
    let lower = 0;
    for (let i = 0; i < channel.length; i++) {
      low += (random.between(-1, 1) - low) * 0.03;
      lower += (low - lower) * 0.03;
      const gust = 0.5 + 0.5 * Math.sin((2 * Math.PI * i) / (RATE * (11 + c * 0.7)) + c);
      channel[i]! += (0.1 + 0.22 * gust) * lower;
    }
  });
}

/** A large insect that flies once around the listener, rising. */
function insect(block: Planar, random: Random): void {
  const start = 34 * RATE;
  const length = 14 * RATE;
  let phase = 0;
  let gains = gainsTo(180, 0);
  for (let i = 0; i < length; i++) {
    if (i % 256 === 0) gains = gainsTo(180 - (360 * i) / length, (45 * i) / length);
    phase += (145 + 12 * Math.sin(i / 9000) + random.between(-2, 2)) / RATE;
    const cycle = phase - Math.floor(phase);
    const buzz = 0.09 * (cycle - 0.5) * Math.sin((Math.PI * i) / length);
    for (let c = 0; c < gains.length; c++) if (gains[c]! > 0.01) block[c]![start + i]! += gains[c]! * buzz;
  }
}

function thunder(block: Planar, random: Random): void {
  const start = 52 * RATE;
  let low = 0;
  let lower = 0;
  for (let i = 0; i < 9 * RATE; i++) {
    low += (random.between(-1, 1) - low) * 0.012;
    lower += (low - lower) * 0.012;
    const level = 5.5 * lower * Math.exp(-i / (2.4 * RATE)) * Math.min(1, i / 2400);
    block[3]![start + i]! += level;
    for (const c of [6, 7, 8, 9]) block[c]![start + i]! += 0.35 * level;
  }
}
