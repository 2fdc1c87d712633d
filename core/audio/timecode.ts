/**
 * Times as people write them: samples, seconds, clock, timecode of SMPTE ST 12-1 at its rates, and bars. Formats are
 * data; each can be written and read back.
 */
import { formatTime } from "./format";
import type { Hertz, Seconds } from "./units";

/** A rate of timecode: `nominal` frames are counted a second, `exact` ones pass. */
export interface TimecodeRate {
  nominal: number;
  exact: number;
  /** Numbers left out so that the count keeps with the clock: `nominal` / 15 each minute but every tenth. */
  dropFrame: boolean;
}

const PULLED_DOWN = 1000 / 1001;
const rate = (nominal: number, exact = nominal, dropFrame = false): TimecodeRate => ({ nominal, exact, dropFrame });

export const TIMECODE_RATES = {
  "23.976": rate(24, 24 * PULLED_DOWN),
  "24": rate(24),
  "25": rate(25),
  "29.97": rate(30, 30 * PULLED_DOWN),
  "29.97 drop": rate(30, 30 * PULLED_DOWN, true),
  "30": rate(30),
  "50": rate(50),
  "59.94": rate(60, 60 * PULLED_DOWN),
  "59.94 drop": rate(60, 60 * PULLED_DOWN, true),
  "60": rate(60),
} as const;
export type TimecodeName = keyof typeof TIMECODE_RATES;

const MINUTES_PER_LONG_RUN = 10;

/** Numbers left out in a minute. */
const droppedPerMinute = ({ nominal, dropFrame }: TimecodeRate): number => (dropFrame ? nominal / 15 : 0);

/** The number that frame `frame` of the programme is called by. */
function numberOf(frame: number, format: TimecodeRate): number {
  const dropped = droppedPerMinute(format);
  if (dropped === 0) return frame;
  const minute = 60 * format.nominal - dropped;
  const tenMinutes = MINUTES_PER_LONG_RUN * 60 * format.nominal - (MINUTES_PER_LONG_RUN - 1) * dropped;
  const tens = Math.floor(frame / tenMinutes);
  const rest = frame % tenMinutes;
  // The first minute of ten is whole.
  const minutes = rest < 60 * format.nominal ? 0 : 1 + Math.floor((rest - 60 * format.nominal) / minute);
  return frame + dropped * ((MINUTES_PER_LONG_RUN - 1) * tens + minutes);
}

const two = (n: number): string => String(n).padStart(2, "0");

/** "01:00:00:12", with ";" before the frames where numbers are dropped. The frame that `seconds` lies in. */
export function formatTimecode(seconds: Seconds, format: TimecodeRate): string {
  // A time that was rounded to samples still lies in its frame.
  const number = numberOf(Math.max(0, Math.floor(seconds * format.exact + 1e-4)), format);
  const whole = Math.floor(number / format.nominal);
  const clock = `${two(Math.floor(whole / 3600))}:${two(Math.floor(whole / 60) % 60)}:${two(whole % 60)}`;
  return `${clock}${format.dropFrame ? ";" : ":"}${two(number % format.nominal)}`;
}

/** Seconds at which a timecode's frame begins; `null` for what is none, and for numbers that are left out. */
export function parseTimecode(text: string, format: TimecodeRate): Seconds | null {
  const parts = /^(\d{1,2}):(\d{2}):(\d{2})[:;](\d{2})$/.exec(text.trim());
  if (!parts) return null;
  const [hours, minutes, seconds, frames] = parts.slice(1).map(Number) as [number, number, number, number];
  if (minutes > 59 || seconds > 59 || frames >= format.nominal) return null;
  const dropped = droppedPerMinute(format);
  if (dropped > 0 && seconds === 0 && frames < dropped && minutes % MINUTES_PER_LONG_RUN !== 0) return null;
  const totalMinutes = 60 * hours + minutes;
  const number = (totalMinutes * 60 + seconds) * format.nominal + frames;
  return (number - dropped * (totalMinutes - Math.floor(totalMinutes / MINUTES_PER_LONG_RUN))) / format.exact;
}

/** A steady beat: where bars can be told. */
export interface Tempo {
  beatsPerMinute: number;
  beatsPerBar: number;
  /** Where the first bar begins, seconds of the item. */
  startSeconds: Seconds;
}

export const beatSeconds = ({ beatsPerMinute }: Tempo): Seconds => 60 / beatsPerMinute;

/** "12.3.50": bar, beat, hundredths of a beat. Bars before the first are 0, −1 … */
export function formatBars(seconds: Seconds, tempo: Tempo): string {
  const hundredths = Math.floor(((seconds - tempo.startSeconds) / beatSeconds(tempo)) * 100 + 1e-6);
  const beats = Math.floor(hundredths / 100);
  const bar = Math.floor(beats / tempo.beatsPerBar);
  const text = `${bar + 1}.${beats - bar * tempo.beatsPerBar + 1}.${two(hundredths - beats * 100)}`;
  return text.replace("-", "−");
}

export const TIME_FORMATS = ["clock", "seconds", "samples", "blocks", "bars", ...Object.keys(TIMECODE_RATES)] as const;
export type TimeFormat = "clock" | "seconds" | "samples" | "blocks" | "bars" | TimecodeName;

/** Samples of a block where nothing else is set. */
export const BLOCK_SAMPLES = 1024;

/** What else a format needs to know. */
export interface TimeContext {
  sampleRate: Hertz;
  tempo: Tempo | null;
  /** Timecode at the beginning, from midnight; 0 where nothing tells it. Other formats count from the beginning itself. */
  startSeconds?: Seconds;
  /** Samples of a block, where times are told in blocks. */
  blockSamples?: number;
}

/** "12.0345": the block, from 0, and the sample in it with as many digits as a block needs. */
export function formatBlocks(samples: number, blockSamples: number): string {
  const block = Math.floor(samples / blockSamples);
  const digits = String(blockSamples - 1).length;
  return `${block}.${String(samples - block * blockSamples).padStart(digits, "0")}`.replace("-", "−");
}

const isTimecode = (format: TimeFormat): format is TimecodeName => Object.hasOwn(TIMECODE_RATES, format);

/** A time in any format; clock where bars have no tempo. `decimals` for clock and seconds. */
export function formatIn(
  format: TimeFormat,
  seconds: Seconds,
  { sampleRate, tempo, startSeconds = 0, blockSamples = BLOCK_SAMPLES }: TimeContext,
  decimals = 3,
): string {
  if (isTimecode(format)) return formatTimecode(startSeconds + seconds, TIMECODE_RATES[format]);
  if (format === "samples") return String(Math.round(seconds * sampleRate)).replace("-", "−");
  if (format === "blocks") return formatBlocks(Math.round(seconds * sampleRate), blockSamples);
  if (format === "seconds") return seconds.toFixed(decimals).replace("-", "−");
  if (format === "bars" && tempo) return formatBars(seconds, tempo);
  return formatTime(seconds, decimals);
}

const CLOCK_STEPS = [1, 2, 5, 10, 15, 30, 60, 120, 300, 600, 900, 1800, 3600, 7200, 14_400];
const SHORTEST_STEP = 1e-6;

const firstFrom = (steps: readonly number[], wanted: number): number =>
  steps.find((step) => step >= wanted) ?? steps.at(-1)!;

/** 1, 2 or 5 times a power of ten, at least `wanted`. */
function decimalStep(wanted: number): number {
  for (let power = SHORTEST_STEP; ; power *= 10)
    for (const digit of [1, 2, 5]) if (digit * power >= wanted * 0.999_999) return digit * power;
}

/** The lines of a grid in a format: where they begin, from one to the next, and in how many parts each is divided. */
export interface TimeGrid {
  origin: Seconds;
  step: Seconds;
  parts: number;
  decimals: number;
}

/** A grid whose lines are at least `wanted` seconds apart. */
export function gridOf(
  format: TimeFormat,
  wanted: Seconds,
  { sampleRate, tempo, startSeconds = 0, blockSamples = BLOCK_SAMPLES }: TimeContext,
): TimeGrid {
  if (isTimecode(format)) {
    const { exact, nominal } = TIMECODE_RATES[format];
    const frames = [1, 2, 5, 10, nominal / 2, ...CLOCK_STEPS.map((step) => step * nominal)];
    const step = firstFrom(frames, wanted * exact) / exact;
    const origin = startSeconds === 0 ? 0 : Math.ceil(startSeconds / step - 1e-6) * step - startSeconds;
    return { origin, step, parts: step * exact <= 10 ? Math.round(step * exact) : 5, decimals: 0 };
  }
  if (format === "samples") {
    const samples = decimalStep(Math.max(1, wanted * sampleRate));
    return { origin: 0, step: samples / sampleRate, parts: samples < 10 ? Math.round(samples) : 5, decimals: 0 };
  }
  if (format === "blocks") {
    const block = blockSamples / sampleRate;
    // Whole blocks, each with its first sample on a line, however far in: a block is what is looked for.
    const blocks = Math.max(1, Math.round(decimalStep(wanted / block)));
    return { origin: 0, step: blocks * block, parts: blocks % 5 === 0 ? 5 : blocks % 2 === 0 ? 2 : 1, decimals: 0 };
  }
  if (format === "bars" && tempo) {
    const beat = beatSeconds(tempo);
    const beats = [0.125, 0.25, 0.5, 1, ...[1, 2, 4, 8, 16, 32, 64, 128, 256, 512].map((n) => n * tempo.beatsPerBar)];
    const step = firstFrom(beats, wanted / beat);
    const parts = step > tempo.beatsPerBar ? 4 : step === tempo.beatsPerBar ? tempo.beatsPerBar : 2;
    return { origin: tempo.startSeconds, step: step * beat, parts, decimals: 0 };
  }
  const step = wanted > 0.5 ? firstFrom(CLOCK_STEPS, wanted) : decimalStep(wanted);
  return { origin: 0, step, parts: 5, decimals: step >= 1 ? 0 : Math.ceil(-Math.log10(step) - 1e-9) };
}
