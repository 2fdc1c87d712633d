/** What the repairs could do for a recording, from what was measured of it: never applied by itself. */
import type { Figures } from "../measure";
import { formatDb, formatHertz } from "../signal/format";
import { gainToTarget } from "../render/predict";
import type { Seconds } from "../signal/units";
import type { DeliverySpec } from "../spec/spec";
import { newRepairStep, type RepairStep } from "./index";

/** One way of mending one thing. */
export interface Strength {
  words: "gentle" | "medium" | "firm";
  step: RepairStep;
}

export interface Proposal {
  id: string;
  title: string;
  /** The measured facts it rests on. */
  why: string;
  /** From gentle to firm; one where there is no more or less. */
  strengths: Strength[];
  /** Where it can be heard best, if somewhere in particular. */
  at: Seconds | null;
}

/** Floors above this are heard in a quiet room, whatever a spec says. */
const AUDIBLE_FLOOR_DBFS = -60;
/** Wanted below a limit, so that it holds. */
const ROOM_BELOW_DB = 3;
const MOSTLY_SPEECH_PERCENT = 40;

const step = (type: string, settings: Record<string, unknown>): RepairStep => ({
  ...newRepairStep(type, ""),
  ...settings,
});

const noiseAt = (depthDb: number): RepairStep => step("noise", { depthDb, tonalDepthDb: depthDb + 6 });

/** Proposals for a recording, in the order in which they should be applied. `spec` is the one in force, if any. */
export function proposalsFor(figures: Figures, spec: DeliverySpec | null): Proposal[] {
  const proposals: Proposal[] = [];
  const { count, places } = figures.clippedRuns;
  if (count > 0) {
    // Samples just below the lowest plateau were cut as well.
    const levelDbfs = Math.min(0, ...places.map((place) => place.levelDbfs)) - 0.01;
    proposals.push({
      id: "clipping",
      title: "Put the clipped crests back",
      why: `${count} clipped ${count === 1 ? "run" : "runs"}, the longest of ${figures.clippedRuns.longestSamples} samples.`,
      strengths: [{ words: "firm", step: step("clipping", { levelDbfs: Number(levelDbfs.toFixed(2)) }) }],
      at: places[0]?.seconds ?? null,
    });
  }
  if (figures.humHz !== null) {
    const harmonics = Math.max(...figures.humHarmonics, 1);
    const fundamentalHz = Number(figures.humHz.toFixed(2));
    proposals.push({
      id: "hum",
      title: `Take the hum at ${formatHertz(fundamentalHz)} away`,
      why: `${figures.humHarmonics.length} harmonics stand ${formatDb(figures.humAboveFloorDb)} dB above the floor.`,
      strengths: [
        { words: "gentle", step: step("hum", { fundamentalHz, harmonics, depthDb: 20 }) },
        { words: "firm", step: step("hum", { fundamentalHz, harmonics: Math.max(12, harmonics), depthDb: 80 }) },
      ],
      at: figures.noiseFloorSeconds,
    });
  }
  const floor = figures.noiseFloorDbfs;
  const limit = spec?.limits.find(({ figure }) => figure === "noiseFloorDbfs")?.max;
  const allowed = limit ?? AUDIBLE_FLOOR_DBFS;
  // What delivery raises, it raises with its floor.
  const raisedBy = spec && spec.normalise !== "none" ? Math.max(0, gainToTarget(spec, figures.integratedLufs)) : 0;
  // Between words there is nothing but noise; the quietest moment of music may be music.
  const isSpeech = figures.dialoguePercent > MOSTLY_SPEECH_PERCENT;
  if (floor !== null && floor + raisedBy > allowed - ROOM_BELOW_DB && (limit !== undefined || isSpeech)) {
    const over = floor + raisedBy - allowed;
    proposals.push({
      id: "noise",
      title: "Turn the noise down",
      why: `The quietest half second lies at ${formatDb(floor)} dBFS${
        raisedBy > 0 ? `, and at ${formatDb(floor + raisedBy)} once it is as loud as ${spec!.name} wants it` : ""
      }: ${formatDb(Math.abs(over))} dB ${over > 0 ? "above" : "below"} ${limit === undefined ? "what is heard in a quiet room" : "the limit"}.`,
      strengths: [
        { words: "gentle", step: noiseAt(8) },
        { words: "medium", step: noiseAt(14) },
        { words: "firm", step: noiseAt(22) },
      ],
      at: figures.noiseFloorSeconds,
    });
  }
  return proposals;
}
