/** What is looked for in a recording of speech, and what is done about it. */
import type { Features } from "@core/events/speech-features";
import type { DetectedEvent } from "@core/events/event";
import { retakeMarks } from "@core/events/retakes";
import { breaths, coughs, highFloors, longPauses, plosives } from "@core/events/speech-events";
import { newRepairStep, type RepairStep } from "@core/repair";
import type { Region } from "@core/repair/time-frequency-region";
import type { DeliverySpec } from "@core/delivery/spec";

export interface EventSettings {
  /** A pause is long from here on, and is cut down to this. */
  pauseSeconds: number;
  keptSeconds: number;
  /** Breaths and coughs are lowered by so much. */
  lowerDb: number;
}

export interface EventKind {
  id: string;
  name: string;
  /** What one of them is called in the singular, for buttons. */
  one: string;
  help: string;
  /** What the size is: "dBFS", "dB over". */
  unit: string;
  /** For a recording that the deliverable limits in this, or any. */
  /** Why nothing can be looked for, in words; `null` where it can. */
  without?: (spec: DeliverySpec | null) => string | null;
  find: (features: Features, settings: EventSettings, spec: DeliverySpec | null) => DetectedEvent[];
  /**
   * What treating them does: a level repair over these regions, pauses cut down, takes cut, tones taken away, or nothing
   * but going there.
   */
  treatment: "lower" | "lower the lows" | "shorten" | "retake" | "take out" | "look";
}

const floorLimit = (spec: DeliverySpec | null) => spec?.limits.find(({ figure }) => figure === "noiseFloorDbfs")?.max;

export const EVENT_KINDS: readonly EventKind[] = [
  {
    id: "retakes",
    name: "Retake marks",
    one: "retake",
    help: "Two claps, or two clicks of a clicker, where the reader began again",
    unit: "dBFS",
    find: (features) => retakeMarks(features),
    treatment: "retake",
  },
  {
    id: "breaths",
    name: "Breaths",
    one: "breath",
    help: "Soft noise between phrases; those under the line are left as they are",
    unit: "dBFS",
    find: (features) => breaths(features),
    treatment: "lower",
  },
  {
    id: "coughs",
    name: "Coughs and knocks",
    one: "cough",
    help: "Loud, short and toneless, apart from what is said",
    unit: "dBFS",
    find: (features) => coughs(features),
    treatment: "lower",
  },
  {
    id: "plosives",
    name: "Plosives",
    one: "plosive",
    help: "Swells below 150 Hz at p and b, far above the voice's own",
    unit: "dB over",
    find: (features) => plosives(features),
    treatment: "lower the lows",
  },
  {
    id: "pauses",
    name: "Long pauses",
    one: "pause",
    help: "Nobody speaks for longer than a listener waits",
    unit: "dBFS",
    find: (features, { pauseSeconds }) => longPauses(features, pauseSeconds),
    treatment: "shorten",
  },
  {
    id: "tones",
    name: "Hum and ringing tones",
    one: "tone",
    help: "Steady tones that go on through words and pauses; a note that is held for long is one as well",
    unit: "dB over",
    find: ({ tones }) => tones,
    treatment: "take out",
  },
  {
    id: "floor",
    name: "Above the floor limit",
    one: "place",
    help: "Pauses in which the floor is louder than the deliverable allows: a noise step takes it down",
    unit: "dB over",
    without: (spec) =>
      floorLimit(spec) === undefined ? `${spec?.name ?? "No deliverable"} has no limit for the noise floor` : null,
    find(features, _, spec) {
      const limit = floorLimit(spec);
      return limit === undefined ? [] : highFloors(features, limit);
    },
    treatment: "look",
  },
];

/** Plosives are lowered by so much, below so many hertz. */
const PLOSIVE_DB = -18;
const PLOSIVE_HZ = 170;

/** The step that treats places of a kind. Breaths and coughs are lowered, blows of air only below the voice. */
export function treatmentStep(
  { treatment, name }: EventKind,
  places: DetectedEvent[],
  { lowerDb }: EventSettings,
  id: string,
) {
  const lows = treatment === "lower the lows";
  const regions = places.map(({ start, end }): Region => ({ start, end, ...(lows ? { highHz: PLOSIVE_HZ } : {}) }));
  const step: RepairStep = { ...newRepairStep("region-gain", id), gainDb: lows ? PLOSIVE_DB : lowerDb, regions };
  return { step, words: `${name.toLowerCase()}, ${places.length}` };
}
