import { formatTime } from "@core/signal/format";
import type { Region as StepRegion } from "@core/repair/where";
import { bandWords, type Region } from "@ui/programme/region";
import { useDesk } from "@ui/workspace/desk";
import type { ItemFacts } from "@ui/workspace/in-hand";

/** A selection as a step keeps it: frames of the recording. */
export function stepRegion({ start, end, band, channel }: Region, { range, sampleRate }: ItemFacts): StepRegion {
  const frame = (seconds: number) => range.start + Math.round(seconds * sampleRate);
  return {
    start: Math.max(0, frame(start)),
    end: Math.max(1, frame(end)),
    ...(band ? { lowHz: band.low, highHz: band.high } : {}),
    ...(channel === undefined ? {} : { channel }),
  };
}

/** All that is selected, or nothing for the whole. */
export function regionsOfSelection(facts: ItemFacts): StepRegion[] {
  const { selection, others } = useDesk.getState();
  return [...others, ...(selection ? [selection] : [])].map((region) => stepRegion(region, facts));
}

/** "0:12.40 to 0:13.10, 2 kHz – 4 kHz, and 3 more". */
export function whereWords(where: readonly StepRegion[], { range, sampleRate }: ItemFacts): string {
  const [first] = where;
  if (!first) return "the whole item";
  const seconds = (frame: number) => formatTime((frame - range.start) / sampleRate, 2);
  const band =
    first.lowHz === undefined ? "" : `, ${bandWords({ low: first.lowHz, high: first.highHz ?? sampleRate / 2 })}`;
  const more = where.length > 1 ? `, and ${where.length - 1} more` : "";
  return `${seconds(first.start)} to ${seconds(first.end)}${band}${more}`;
}
