/** Sounds that are made rather than recorded: line-up tone, sweep, noises, silence, a leader of beeps. */
import { dbToGain } from "../audio/decibel";
import type { Layout } from "../audio/layout";
import { emptyPlanar, type Decibels, type Frames, type Hertz, type Planar, type Seconds } from "../audio/units";
import { log2, power, sinCosTurns } from "../math/deterministic-math";
import { Random } from "../math/random";

export const MADE_SOUNDS = {
  tone: {
    label: "Line-up tone",
    help: "A sine of steady level on all channels, to set levels by",
    levelDb: -18,
    seconds: 30,
  },
  identification: {
    label: "Channel identification",
    help: "The tone on all channels; each but the last is interrupted in its turn, so that each can be told",
    levelDb: -18,
    seconds: 30,
  },
  sweep: {
    label: "Sine sweep",
    help: "From 20 Hz to 20 kHz, the same time for each octave",
    levelDb: -18,
    seconds: 20,
  },
  pink: { label: "Pink noise", help: "The same power in each octave; RMS level", levelDb: -20, seconds: 30 },
  white: { label: "White noise", help: "The same power at each frequency; RMS level", levelDb: -20, seconds: 30 },
  silence: { label: "Silence", help: "Digital silence", levelDb: 0, seconds: 2 },
  leader: {
    label: "Leader of beeps",
    help: "A short beep each second, and none in the last two: the programme begins 2 s after the last",
    levelDb: -18,
    seconds: 8,
  },
} as const satisfies Record<string, { label: string; help: string; levelDb: Decibels; seconds: Seconds }>;
export type MadeSound = keyof typeof MADE_SOUNDS;

export interface MadeSettings {
  kind: MadeSound;
  seconds: Seconds;
  /** Peak of a sine, RMS of a noise: dBFS, a full-scale sine's peak being 0. */
  levelDb: Decibels;
  hertz: Hertz;
}

/** Each begins and ends over this long, so that nothing clicks. */
const EDGE: Seconds = 0.01;
const SWEEP_HZ = [20, 20_000] as const;
/** One beep of a leader, and how long it is quiet before the programme. */
const BEEP: Seconds = 0.1;
const QUIET_END: Seconds = 2;
/** An interruption of the tone, and from one channel's to the next. */
const GAP: Seconds = 0.25;
const EVERY: Seconds = 0.5;

/** The sound on all channels of a layout. */
export function makeSound({ kind, seconds, levelDb, hertz }: MadeSettings, layout: Layout, sampleRate: Hertz): Planar {
  const frames = Math.round(seconds * sampleRate);
  const channels = layout.speakers.length;
  const block = emptyPlanar(channels, frames);
  if (kind === "silence") return block;
  const level = dbToGain(levelDb);
  block.forEach((x, c) => {
    if (kind === "pink" || kind === "white") noise(x, kind, level, c + 1);
    else
      for (let i = 0; i < frames; i++)
        x[i] = level * toneAt(kind, i, { frames, sampleRate, hertz, channel: c, channels });
    edges(x, sampleRate);
  });
  return block;
}

interface At {
  frames: Frames;
  sampleRate: Hertz;
  hertz: Hertz;
  channel: number;
  channels: number;
}

function toneAt(kind: MadeSound, i: Frames, { frames, sampleRate, hertz, channel, channels }: At): number {
  const seconds = i / sampleRate;
  const sine = (turns: number) => sinCosTurns(turns - Math.floor(turns)).sin;
  if (kind === "sweep") {
    // Farina 2000: phase of a sweep whose frequency grows by the same factor each second.
    const [low, high] = [SWEEP_HZ[0], Math.min(SWEEP_HZ[1], sampleRate / 2.2)];
    const length = frames / sampleRate;
    const rate = log2(high / low);
    return sine((low * length * (power(2, (seconds / length) * rate) - 1)) / (rate * LN2));
  }
  if (kind === "leader") {
    const isQuiet = seconds % 1 >= BEEP || seconds > frames / sampleRate - QUIET_END + BEEP;
    return isQuiet ? 0 : sine(hertz * seconds) * bell((seconds % 1) / BEEP);
  }
  if (kind === "identification") {
    const within = seconds % (EVERY * (channels + 2));
    const starts = EVERY * (channel + 1);
    const isInterrupted = channel < channels - 1 && within >= starts && within < starts + GAP;
    return isInterrupted ? 0 : sine(hertz * seconds);
  }
  return sine(hertz * seconds);
}

const LN2 = 0.6931471805599453;

/** Rises and falls at the ends of a beep. */
const bell = (t: number): number => Math.min(1, t / EDGE / 10, (1 - t) / EDGE / 10);

/** Noise of an RMS level, the same each time. Pink by three first-order stages (Kellet 1999). */
function noise(x: Float32Array, kind: "pink" | "white", level: number, seed: number): void {
  const random = new Random(seed);
  let [b0, b1, b2] = [0, 0, 0];
  let sum = 0;
  for (let i = 0; i < x.length; i++) {
    const white = random.between(-1, 1);
    if (kind === "white") x[i] = white;
    else {
      b0 = 0.99765 * b0 + white * 0.099046;
      b1 = 0.963 * b1 + white * 0.2965164;
      b2 = 0.57 * b2 + white * 1.0526913;
      x[i] = b0 + b1 + b2 + white * 0.1848;
    }
    sum += x[i]! * x[i]!;
  }
  const gain = level / Math.sqrt(2 * (sum / Math.max(1, x.length)));
  for (let i = 0; i < x.length; i++) x[i]! *= gain;
}

function edges(x: Float32Array, sampleRate: Hertz): void {
  const length = Math.min(Math.round(EDGE * sampleRate), x.length >> 1);
  for (let i = 0; i < length; i++) {
    const gain = sinCosTurns((i + 0.5) / length / 4).sin;
    x[i]! *= gain;
    x[x.length - 1 - i]! *= gain;
  }
}
