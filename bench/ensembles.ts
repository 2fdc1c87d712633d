/** Made-up sound of five kinds to limit, stereo: the first two seeds are for tuning, results are told of the others. */
import { execFileSync } from "node:child_process";
import { readdirSync } from "node:fs";
import { join } from "node:path";
import { Random } from "@core/math/random";
import type { Planar } from "@core/audio/units";
import { bell, bow, drum, pitch, pluck, RATE, voice } from "@demo/synth/instruments";
import { StereoDesk } from "@demo/synth/mix";

const SECONDS = 14;
export const TUNED_ON = [11, 47];
export const REPORTED_ON = [83, 131];

const DORIAN = [0, 2, 3, 5, 7, 9, 10];
const note = (root: number, degree: number): number =>
  root + 12 * Math.floor(degree / 7) + DORIAN[((degree % 7) + 7) % 7]!;

function drums(seed: number): Planar {
  const random = new Random(seed);
  const desk = new StereoDesk(SECONDS);
  for (let beat = 0; beat < 4 * SECONDS - 4; beat++) {
    const t = 0.2 + beat * 0.25;
    if (beat % 4 === 0 || random.between(0, 1) < 0.15)
      desk.add(drum(55 + (seed % 7), 0.45, 0.15, random), t, 0.9 * random.between(0.8, 1.1), 0, 0.05);
    if (beat % 4 === 2)
      desk.add(drum(190 + (seed % 30), 0.3, 0.75, random), t, 0.7 * random.between(0.8, 1.1), 0.1, 0.25);
    desk.add(drum(900, 0.07, 0.97, random), t, 0.25 * random.between(0.6, 1.2), 0.4, 0.05);
    if (beat % 8 === 7) desk.add(drum(110, 0.4, 0.3, random), t + 0.12, 0.6, -0.3, 0.2);
  }
  return desk.mixed(0.8, 1);
}

function orchestra(seed: number): Planar {
  const random = new Random(seed);
  const desk = new StereoDesk(SECONDS);
  for (let bar = 0; bar < SECONDS / 1.2 - 1; bar++) {
    const t = 0.2 + bar * 1.2;
    const swell = 0.3 + 0.7 * Math.abs(Math.sin(bar * 0.5 + seed));
    const root = [0, 3, 4, 1][bar % 4]!;
    for (const degree of [0, 2, 4, 7, 9, 11])
      desk.add(
        bow(pitch(note(43, degree + root)), 1.9, 0.5 + 0.5 * swell, random),
        t + random.between(0, 0.05),
        0.4 * swell,
        degree / 6 - 1,
        0.6,
      );
    desk.add(bow(pitch(note(31, root)), 1.9, 0.8, random), t, 0.6 * swell, 0, 0.4);
    if (bar % 2 === 0) {
      desk.add(drum(60, 1.2, 0.2, random), t, 0.7 * swell, 0, 0.6);
      desk.add(bell(pitch(note(74, bar % 5)), 2), t + 0.3, 0.2 * swell, 0.5, 0.7);
    }
    desk.add(voice(pitch(note(55, 4 + (bar % 3))), 1.4, "a", random), t + 0.1, 0.25 * swell, -0.2, 0.6);
  }
  return desk.mixed(2.2, 1);
}

function strings(seed: number): Planar {
  const random = new Random(seed);
  const desk = new StereoDesk(SECONDS);
  for (let bar = 0; bar < SECONDS / 0.7 - 1; bar++) {
    const t = 0.2 + bar * 0.7;
    const root = (bar * 3 + seed) % 5;
    for (const degree of [0, 2, 4])
      desk.add(
        bow(pitch(note(50, degree + root)), 1.1, random.between(0.5, 1), random),
        t + random.between(0, 0.03),
        0.5 * random.between(0.7, 1),
        degree / 3 - 0.6,
        0.3,
      );
    desk.add(bow(pitch(note(38, root)), 1.1, 0.9, random), t, 0.5, 0, 0.2);
  }
  return desk.mixed(1.6, 1);
}

function dense(seed: number): Planar {
  const random = new Random(seed);
  const desk = new StereoDesk(SECONDS);
  for (let beat = 0; beat < SECONDS / 0.4 - 2; beat++) {
    const t = 0.2 + beat * 0.4;
    const root = [0, 3, 5, 4][Math.floor(beat / 4) % 4]!;
    desk.add(drum(58, 0.45, 0.15, random), t, 0.9, 0, 0.05);
    if (beat % 2 === 1) desk.add(drum(190, 0.28, 0.75, random), t, 0.6, 0.1, 0.2);
    desk.add(drum(900, 0.07, 0.97, random), t + 0.2, 0.3, 0.5, 0.05);
    for (const degree of [0, 2, 4]) {
      desk.add(pluck(pitch(note(38, degree + root) + 12), 0.9, 0.9, random), t, 0.42, degree / 3 - 0.6);
      desk.add(pluck(pitch(note(38, degree + root)), 0.9, 0.8, random), t + 0.2, 0.42, 0.6 - degree / 3);
    }
    desk.add(pluck(pitch(note(26, root)), 0.5, 0.4, random), t, 0.9, 0);
    if (beat % 8 === 0)
      for (const degree of [0, 4, 7])
        desk.add(bow(pitch(note(50, degree)), 3.2, 0.9, random), t, 0.3, degree / 8 - 0.4, 0.4);
    if (beat % 4 === 1) desk.add(voice(pitch(note(57, beat % 6)), 1.2, "o", random), t, 0.5, 0, 0.3);
  }
  return desk.mixed(1.2, 1.2).map((side) => side.map((v) => Math.tanh(0.9 * v)));
}

/** The demo's spoken takes, both sides alike. */
function speech(name: string): Planar {
  const bytes = execFileSync(
    "ffmpeg",
    ["-v", "error", "-i", name, "-ac", "1", "-ar", String(RATE), "-f", "f32le", "-"],
    { maxBuffer: 1 << 28 },
  );
  const x = new Float32Array(bytes.buffer.slice(bytes.byteOffset, bytes.byteOffset + (bytes.length & ~3)));
  return [x, x.slice()];
}

/** One of each kind a seed. */
export function* ensembles(seeds: readonly number[]): Generator<{ name: string; block: Planar }> {
  const takes = readdirSync(join("demo", "speech")).filter((name) => name.endsWith(".flac"));
  for (const [kind, make] of Object.entries({ drums, orchestra, strings, dense }))
    for (const seed of seeds) yield { name: `${kind} ${seed}`, block: make(seed) };
  for (const seed of seeds) {
    const take = takes[seeds === TUNED_ON ? TUNED_ON.indexOf(seed) : 2 + REPORTED_ON.indexOf(seed)]!;
    yield { name: `speech ${take.replace(".flac", "")}`, block: speech(join("demo", "speech", take)) };
  }
}
