/** “Saltmarsh Hours, side one”: five pieces by a band that does not exist, each with something for the engineer to find. */
import { Random } from "@core/math/random";
import type { Planar } from "@core/audio/units";
import { bell, bow, drum, pitch, pluck, RATE, voice } from "./synth/instruments";
import { StereoDesk } from "./synth/mix";

export interface Piece {
  file: string;
  title: string;
  make(): Planar;
}

const DORIAN = [0, 2, 3, 5, 7, 9, 10];
const note = (root: number, degree: number): number =>
  root + 12 * Math.floor(degree / 7) + DORIAN[((degree % 7) + 7) % 7]!;

/** Quiet to loud and back: wide dynamics. */
function tinLanterns(): Planar {
  const random = new Random(101);
  const desk = new StereoDesk(48);
  const steps = [0, 4, 7, 9, 7, 4, 2, 4];
  for (let beat = 0; beat < 148; beat++) {
    const t = 0.4 + beat * 0.3;
    const swell = 0.12 + 0.88 * Math.sin((Math.PI * beat) / 148) ** 2;
    const degree = steps[beat % 8]! + (Math.floor(beat / 16) % 2 ? -2 : 0);
    desk.add(pluck(pitch(note(50, degree)), 2.2, 0.35 + 0.5 * swell, random), t, 0.5 * swell, ((beat % 5) - 2) / 3);
    if (beat % 8 === 0) desk.add(pluck(pitch(note(38, steps[0]!)), 3.2, 0.3, random), t, 0.75 * swell, 0);
    if (beat % 16 === 0) desk.add(bow(pitch(note(50, 7)), 4.4, swell, random), t, 0.5 * swell, -0.3, 0.6);
  }
  return desk.mixed(2.1, 0.7);
}

/** Dense and loud, with one spike far above the rest. */
function kestrelWeather(): Planar {
  const random = new Random(202);
  const desk = new StereoDesk(52);
  for (let beat = 0; beat < 122; beat++) {
    const t = 0.2 + beat * 0.42;
    desk.add(drum(58, 0.45, 0.15, random), t, 0.9, 0, 0.05);
    if (beat % 2 === 1) desk.add(drum(190, 0.28, 0.75, random), t, 0.55, 0.1, 0.2);
    desk.add(drum(900, 0.07, 0.97, random), t + 0.21, 0.3, 0.5, 0.05);
    for (const degree of [0, 2, 4]) {
      const root = note(38, degree + [0, 3, 5, 4][Math.floor(beat / 4) % 4]!);
      desk.add(pluck(pitch(root + 12), 0.9, 0.9, random), t, 0.42, degree / 3 - 0.6);
      desk.add(pluck(pitch(root), 0.9, 0.8, random), t + 0.21, 0.42, 0.6 - degree / 3);
    }
    if (beat % 8 === 0)
      for (const degree of [0, 4, 7])
        desk.add(bow(pitch(note(50, degree)), 3.6, 0.9, random), t, 0.3, degree / 8 - 0.4, 0.4);
  }
  const block = desk.mixed(1.2, 1.9).map((channel) => channel.map((v) => 0.74 * Math.tanh(v)));
  // Something fell over in the studio.
  const at = Math.round(31.417 * RATE);
  for (let i = 0; i < 90; i++) {
    const blow = 0.97 * Math.exp(-i / 26) * Math.cos(i * 0.42);
    block[0]![at + i] = Math.max(-0.99, Math.min(0.99, block[0]![at + i]! * 0.2 + blow));
    block[1]![at + i] = Math.max(-0.99, Math.min(0.99, block[1]![at + i]! * 0.2 + 0.8 * blow));
  }
  return block;
}

/** Bowed strings, and a hum that came in through a cable. */
function theWeirAtNight(): Planar {
  const random = new Random(303);
  const desk = new StereoDesk(46);
  const chords = [
    [0, 4, 9],
    [-1, 3, 8],
    [-2, 2, 7],
    [0, 5, 9],
  ];
  for (let bar = 0; bar < 8; bar++) {
    chords[bar % 4]!.forEach((degree, voiceIndex) => {
      desk.add(
        bow(pitch(note(45 + (voiceIndex === 0 ? -12 : 0), degree)), 5.6, 0.45 + 0.05 * bar, random),
        0.5 + bar * 5.4,
        0.42,
        (voiceIndex - 1) * 0.6,
        0.5,
      );
    });
    desk.add(bow(pitch(note(57, [4, 6, 7, 2][bar % 4]!)), 3.2, 0.8, random), 1.6 + bar * 5.4, 0.3, 0.15, 0.6);
  }
  const block = desk.mixed(2.8, 0.55);
  for (const channel of block) {
    for (let i = 0; i < channel.length; i++) {
      const t = (2 * Math.PI * 50 * i) / RATE;
      channel[i]! +=
        0.0042 * Math.sin(t) +
        0.0016 * Math.sin(2 * t + 0.4) +
        0.0022 * Math.sin(3 * t + 1.1) +
        0.0005 * random.between(-1, 1);
    }
  }
  return block;
}

/** Voices and percussion; the right side came in 2.6 dB too low. */
function lowDoor(): Planar {
  const random = new Random(404);
  const desk = new StereoDesk(44);
  const vowels = ["a", "o", "e", "u"] as const;
  for (let bar = 0; bar < 10; bar++) {
    const t = 0.4 + bar * 4.2;
    [0, 2, 4, 7].forEach((degree, singer) => {
      desk.add(
        voice(pitch(note(50, degree + (bar % 3) - 1)), 4.3, vowels[(bar + singer) % 4]!, random),
        t,
        0.34,
        (singer - 1.5) / 2,
        0.45,
      );
    });
    for (let hit = 0; hit < 8; hit++)
      desk.add(
        drum(hit % 4 === 0 ? 72 : 240, 0.4, hit % 4 === 0 ? 0.1 : 0.6, random),
        t + hit * 0.525,
        hit % 4 === 0 ? 0.9 : 0.3,
        hit % 2 ? 0.4 : -0.4,
        0.15,
      );
  }
  const [left, right] = desk.mixed(1.7, 0.82);
  return [left!, right!.map((v) => v * 10 ** (-2.6 / 20))];
}

/** A quiet end: a few bells and one string. */
function letterToOdda(): Planar {
  const random = new Random(505);
  const desk = new StereoDesk(40);
  [0, 7, 4, 9, 2, 7, 4].forEach((degree, index) => {
    desk.add(bell(pitch(note(62, degree)), 6), 1 + index * 5, 0.35, (index % 3) / 2 - 0.5, 0.7);
    desk.add(pluck(pitch(note(50, degree - 7)), 4, 0.4, random), 1.9 + index * 5, 0.4, 0.2, 0.5);
  });
  desk.add(bow(pitch(note(50, 0)), 8, 0.3, random), 29, 0.3, -0.2, 0.7);
  return desk.mixed(3.4, 0.24);
}

export const ALBUM: readonly Piece[] = [
  { file: "01 Tin Lanterns.wav", title: "Tin Lanterns", make: tinLanterns },
  { file: "02 Kestrel Weather.wav", title: "Kestrel Weather", make: kestrelWeather },
  { file: "03 The Weir at Night.wav", title: "The Weir at Night", make: theWeirAtNight },
  { file: "04 Low Door.wav", title: "Low Door", make: lowDoor },
  { file: "05 Letter to Odda.wav", title: "Letter to Odda", make: letterToOdda },
];
