import { formatTime } from "@core/audio/format";
import type { Region as StepRegion } from "@core/repair/time-frequency-region";
import { bandLabel, type SelectionRegion } from "@ui/state/selection-region";
import { useWorkspace } from "@ui/state/workspace-store";
import { itemFrame, recordingFrame, secondsOfRecording } from "@ui/state/item-time";
import type { ItemFacts } from "@ui/state/current-item";

/** A selection as a step keeps it: frames of the recording, apart where the item is cut. */
export function stepRegions({ start, end, band, channel, outline }: SelectionRegion, facts: ItemFacts): StepRegion[] {
  const corners = outline?.map(({ seconds, hertz }) => ({ frame: recordingFrame(facts, seconds), hertz }));
  return facts.editList.stretchesOf(itemFrame(facts, start), itemFrame(facts, end)).map((stretch) => ({
    ...stretch,
    ...(band ? { lowHz: band.low, highHz: band.high } : {}),
    ...(corners ? { outline: corners } : {}),
    ...(channel === undefined ? {} : { channel }),
  }));
}

/** All that is selected, or nothing for the whole. */
export function regionsOfSelection(facts: ItemFacts): StepRegion[] {
  const { selection, otherSelections } = useWorkspace.getState();
  return [...otherSelections, ...(selection ? [selection] : [])].flatMap((region) => stepRegions(region, facts));
}

/** "0:12.40 to 0:13.10, 2 kHz – 4 kHz, and 3 more". */
export function regionsLabel(where: readonly StepRegion[], facts: ItemFacts): string {
  const [first] = where;
  if (!first) return "the whole item";
  const { sampleRate } = facts;
  const at = secondsOfRecording(facts, first.start);
  const band =
    first.lowHz === undefined ? "" : `, ${bandLabel({ low: first.lowHz, high: first.highHz ?? sampleRate / 2 })}`;
  const more = where.length > 1 ? `, and ${where.length - 1} more` : "";
  if (at === null) return `a place that is cut out${more}`;
  return `${formatTime(at, 2)} to ${formatTime(at + (first.end - first.start) / sampleRate, 2)}${band}${more}`;
}
