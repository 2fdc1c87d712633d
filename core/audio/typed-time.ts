/** Places and stretches as people type them: in the format in force or with a unit, absolute or from the playhead. */
import {
  beatSeconds,
  BLOCK_SAMPLES,
  parseTimecode,
  TIMECODE_RATES,
  type TimeContext,
  type TimeFormat,
} from "./timecode";
import type { Seconds } from "./units";

export type TypedTime = { kind: "place"; at: Seconds } | { kind: "stretch"; start: Seconds; end: Seconds };

export interface TypingContext extends TimeContext {
  /** What plain numbers are. */
  format: TimeFormat;
  /** What `+` and `−` count from. */
  playhead: Seconds;
}

const UNITS: Readonly<Record<string, (context: TimeContext) => Seconds | null>> = {
  ms: () => 0.001,
  s: () => 1,
  sec: () => 1,
  min: () => 60,
  h: () => 3600,
  smp: ({ sampleRate }) => 1 / sampleRate,
  samples: ({ sampleRate }) => 1 / sampleRate,
  blocks: ({ sampleRate, blockSamples = BLOCK_SAMPLES }) => blockSamples / sampleRate,
  beats: ({ tempo }) => (tempo ? beatSeconds(tempo) : null),
  bars: ({ tempo }) => (tempo ? beatSeconds(tempo) * tempo.beatsPerBar : null),
};

/** Seconds that a plain number counts by in the format in force. */
const plainUnit = (context: TypingContext): Seconds =>
  context.format === "samples" || context.format === "blocks" ? UNITS[context.format]!(context)! : 1;

const decimal = (text: string): number => Number(text.replace(",", "."));

/** A length, or a place from the beginning: "1:23.5", "83.5", "1200 ms", "48000 smp", "2 bars", or a timecode of the format in force. */
function typedLength(text: string, context: TypingContext, isLength: boolean): Seconds | null {
  const { format } = context;
  if (format in TIMECODE_RATES) {
    const timecode = parseTimecode(text, TIMECODE_RATES[format as keyof typeof TIMECODE_RATES]);
    if (timecode !== null) return timecode - (isLength ? 0 : (context.startSeconds ?? 0));
  }
  const clock = /^(?:(\d{1,3}):)?(\d{1,3}):(\d{1,2}(?:[.,]\d+)?)$/.exec(text);
  if (clock) {
    const [hours, minutes, seconds] = [clock[1] ?? "0", clock[2]!, clock[3]!].map(decimal) as [number, number, number];
    return seconds < 60 ? (hours * 60 + minutes) * 60 + seconds : null;
  }
  const counted = /^(\d+(?:[.,]\d+)?)\s*([a-z]*)$/i.exec(text);
  if (!counted) return null;
  const unit = counted[2]!.toLowerCase();
  if (unit === "") return decimal(counted[1]!) * plainUnit(context);
  const seconds = Object.hasOwn(UNITS, unit) ? UNITS[unit]!(context) : null;
  return seconds === null ? null : decimal(counted[1]!) * seconds;
}

/** "12.3.50" where bars are counted: bar, beat, hundredths. */
function typedBar(text: string, { format, tempo }: TypingContext): Seconds | null {
  const bar = format === "bars" && tempo ? /^(\d+)(?:\.(\d+)(?:\.(\d{1,2}))?)?$/.exec(text) : null;
  if (!bar || !tempo) return null;
  const beat = Number(bar[2] ?? 1) - 1 + Number(bar[3] ?? 0) / 100;
  return tempo.startSeconds + ((Number(bar[1]) - 1) * tempo.beatsPerBar + beat) * beatSeconds(tempo);
}

/** "12.0345" where blocks are counted: the block, from 0, and the sample in it. */
function typedBlock(text: string, { format, sampleRate, blockSamples = BLOCK_SAMPLES }: TypingContext): Seconds | null {
  const block = format === "blocks" ? /^(\d+)\.(\d+)$/.exec(text) : null;
  if (!block || Number(block[2]) >= blockSamples) return null;
  return (Number(block[1]) * blockSamples + Number(block[2])) / sampleRate;
}

function typedPlace(text: string, context: TypingContext, from: Seconds): Seconds | null {
  const relative = /^([+−-])\s*(.+)$/.exec(text);
  if (!relative) {
    if (context.format === "blocks" && text.includes(".")) return typedBlock(text, context);
    return typedBar(text, context) ?? typedLength(text, context, false);
  }
  const length = typedLength(relative[2]!, context, true);
  return length === null ? null : from + (relative[1] === "+" ? length : -length);
}

/**
 * A place ("1:23.5", "+2 s") or a stretch ("1:10 to 1:25", "1:10 to +5 s", where + counts from its start); `null` for
 * what is neither. Places before the beginning are the beginning.
 */
export function typedTime(text: string, context: TypingContext): TypedTime | null {
  const [from, to, ...more] = text
    .trim()
    .split(/\s+(?:to|–)\s+|\s*\.\.\.?\s*/)
    .map((part) => part.trim());
  if (!from || more.length > 0) return null;
  const start = typedPlace(from, context, context.playhead);
  if (start === null) return null;
  if (to === undefined) return { kind: "place", at: Math.max(0, start) };
  const end = typedPlace(to, context, start);
  if (end === null || end <= start) return null;
  return { kind: "stretch", start: Math.max(0, start), end };
}
