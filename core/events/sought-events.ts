/** What is looked for in every recording after intake: clicks, mouth noise, and in speech breaths and plosives. */
import { Cancelled, type Cancellation } from "../audio/cancellation";
import type { FrameSource } from "../audio/frame-source";
import type { Seconds } from "../audio/units";
import { newRepairStep } from "../repair";
import { findRepairEvents } from "../repair/find-events";
import type { DetectedEvent } from "./event";
import { breaths, plosives } from "./speech-events";
import { featuresOf } from "./speech-features";

export const SOUGHT_KINDS = ["clicks", "mouth-noise", "breaths", "plosives"] as const;
export type SoughtKind = (typeof SOUGHT_KINDS)[number];

/** What of one kind was found, by the defaults of the repair or list that treats it. */
export interface SoughtEvents {
  kind: SoughtKind;
  count: number;
  /** The first 200, seconds of the recording. */
  places: { seconds: Seconds; length: Seconds }[];
}

const MOST_PLACES = 200;

interface SearchOptions {
  cancellation?: Cancellation;
  onProgress?: (fraction: number) => void;
}

/**
 * Looks a recording through. Mouth noise, breaths and plosives are looked for in speech alone: instruments have such
 * sounds of their own.
 * @throws Cancelled
 */
export async function searchEvents(
  source: FrameSource,
  isSpeech: boolean,
  { cancellation, onProgress }: SearchOptions = {},
): Promise<SoughtEvents[]> {
  const { sampleRate, frames } = source;
  const kinds = isSpeech ? (["clicks", "mouth-noise"] as const) : (["clicks"] as const);
  const passes = isSpeech ? 3 : 1;
  const found: SoughtEvents[] = [];
  const keep = (kind: SoughtKind, count: number, events: readonly Pick<DetectedEvent, "start" | "end">[]) => {
    const places = events.slice(0, MOST_PLACES).map(({ start, end }) => ({
      seconds: start / sampleRate,
      length: (end - start) / sampleRate,
    }));
    if (count > 0) found.push({ kind, count, places });
  };
  for (const [pass, kind] of kinds.entries()) {
    const step = newRepairStep(kind, "");
    const { events, count } = await findRepairEvents(
      source,
      step,
      [{ start: 0, end: frames }],
      MOST_PLACES,
      (fraction) => {
        if (cancellation?.aborted) throw new Cancelled();
        onProgress?.((pass + fraction) / passes);
      },
    );
    keep(kind, count, events);
  }
  if (!isSpeech) return found;
  const features = await featuresOf(source, {
    ...(cancellation ? { cancellation } : {}),
    onProgress: (fraction) => onProgress?.((2 + fraction) / passes),
  });
  for (const [kind, events] of [
    ["breaths", breaths(features)],
    ["plosives", plosives(features)],
  ] as const)
    keep(kind, events.length, events);
  return found;
}
