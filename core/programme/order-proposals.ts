/** What would make an order more even: gains, pauses, fades. Each is a change of places, to be heard and taken. */
import type { Decibels, Seconds } from "../audio/units";
import { newFade } from "./fade";
import { placementOf, type Placeable, type PlacementChanges } from "./placement";
import { LEVEL_STEP_SECONDS, type ItemLevels, type ProgrammeLevels } from "./programme-levels";

export interface OrderProposal {
  id: "steps" | "pauses" | "stops";
  title: string;
  why: string;
  changes: { item: string; changes: PlacementChanges }[];
}

/** Steps are brought under this where nothing else is wanted. */
export const DEFAULT_STEP_LIMIT: Decibels = 4;

/** To so many parts of one. */
const rounded = (value: number, parts = 10): number => Math.round(value * parts) / parts;

/**
 * Gains that bring every step at a join to the limit or below: the louder side gives as much as the quieter gets, so that
 * who is louder than whom stays as it is.
 * @returns dB for each item of the order
 */
export function evenedGains(stepsLu: readonly (number | null)[], limit: Decibels): Decibels[] {
  const gains = new Array<number>(stepsLu.length + 1).fill(0);
  for (let round = 0; round < 400; round++) {
    let most = 0;
    stepsLu.forEach((step, i) => {
      if (step === null) return;
      const now = step + gains[i + 1]! - gains[i]!;
      const excess = Math.abs(now) - limit;
      if (excess <= 0) return;
      most = Math.max(most, excess);
      const half = (Math.sign(now) * excess) / 2;
      gains[i]! += half;
      gains[i + 1]! -= half;
    });
    if (most < 0.01) break;
  }
  return gains;
}

/** Nearer to each other than this, two have no places that could be told. */
const SAME_LU = 1;

/** As much of the gains as leaves who is louder than whom as it is, by integrated loudness; `null` where it is not known. */
export function keepingPlaces(gains: readonly Decibels[], lufs: readonly (number | null)[]): Decibels[] {
  let share = 1;
  lufs.forEach((a, i) => {
    lufs.slice(i + 1).forEach((b, n) => {
      if (a === null || b === null || Math.abs(a - b) < SAME_LU) return;
      const [apart, closing] = [Math.abs(a - b), (gains[i]! - gains[i + 1 + n]!) * -Math.sign(a - b)];
      if (closing > 0) share = Math.min(share, apart / closing);
    });
  });
  return gains.map((gain) => gain * share);
}

/** Seconds at the end of an item that lie far below its loudness: it dies away, and is a pause already. */
export function tailSeconds({ momentaryLufs }: ItemLevels, integratedLufs: number): Seconds {
  let last = momentaryLufs.length - 1;
  while (last >= 0 && momentaryLufs[last]! < integratedLufs - TAIL_BELOW) last--;
  return (momentaryLufs.length - 1 - last) * LEVEL_STEP_SECONDS;
}

const TAIL_BELOW = 25; // LU
/** From the end of what is heard of one to the beginning of the next. */
const USUAL_PAUSE: Seconds = 2;
const LEAST_PAUSE: Seconds = 0.3;
/** A fade that lets a sound die away which would be heard to stop. */
const STOP_FADE: Seconds = 1.5;

interface Tempo {
  beatsPerMinute: number;
  beatsPerBar: number;
}

/** A pause that with the dying away of one item makes the usual one; whole beats, where its tempo is known. */
export function agreeablePause(tail: Seconds, tempo: Tempo | undefined): Seconds {
  const wanted = Math.max(LEAST_PAUSE, USUAL_PAUSE - tail);
  if (!tempo) return rounded(wanted);
  const beat = 60 / tempo.beatsPerMinute;
  // From the last that is heard to the next beginning, in beats.
  let beats = Math.max(1, Math.round((wanted + tail) / beat));
  while (beats * beat - tail < LEAST_PAUSE) beats++;
  return rounded(beats * beat - tail, 1000);
}

export function orderProposals(
  items: readonly (Placeable & { tempo?: Tempo | undefined })[],
  levels: ProgrammeLevels,
  levelsOf: (id: string) => ItemLevels | null,
  stepLimit: Decibels = DEFAULT_STEP_LIMIT,
): OrderProposal[] {
  const proposals: OrderProposal[] = [];
  const byId = new Map(items.map((item) => [item.id, item]));
  const order =
    levels.joins.length > 0 ? [levels.joins[0]!.before.item, ...levels.joins.map(({ after }) => after.item)] : [];

  const gains = keepingPlaces(
    evenedGains(
      levels.joins.map(({ stepLu }) => stepLu),
      stepLimit,
    ),
    order.map((id) => levels.items.get(id)?.integratedLufs ?? null),
  );
  const moved = order.flatMap((id, i) => {
    const gainDb = rounded(placementOf(byId.get(id)!).gainDb + gains[i]!);
    return Math.abs(gains[i]!) < 0.05 || gainDb < -60 || gainDb > 24 ? [] : [{ item: id, changes: { gainDb } }];
  });
  const steep = levels.joins.filter(({ stepLu }) => stepLu !== null && Math.abs(stepLu) > stepLimit + 0.01);
  const left = Math.max(
    0,
    ...levels.joins.map(({ stepLu }, i) => (stepLu === null ? 0 : Math.abs(stepLu + gains[i + 1]! - gains[i]!))),
  );
  if (steep.length > 0 && moved.length > 0)
    proposals.push({
      id: "steps",
      title:
        left > stepLimit + 0.1 ? `Bring steps down to ${rounded(left)} LU` : `Bring steps to ${stepLimit} LU or below`,
      why: `${steep.length === 1 ? "One step is" : `${steep.length} steps are`} larger than ${stepLimit} LU. Who is louder than whom stays as it is${left > stepLimit + 0.1 ? ", which allows no more" : ""}.`,
      changes: moved,
    });

  const pauses = levels.joins.flatMap(({ before, after }) => {
    const known = levelsOf(before.item);
    const integrated = levels.items.get(before.item)?.integratedLufs ?? null;
    const next = byId.get(after.item)!;
    // An overlap was decided.
    if (!known || integrated === null || placementOf(next).gapSeconds < 0) return [];
    const faded = placementOf(byId.get(before.item)!).fadeOut !== undefined;
    const gapSeconds = agreeablePause(
      faded ? 0 : tailSeconds(known, integrated - placementOf(byId.get(before.item)!).gainDb),
      byId.get(before.item)!.tempo,
    );
    return Math.abs(gapSeconds - placementOf(next).gapSeconds) < 0.25
      ? []
      : [{ item: after.item, changes: { gapSeconds } }];
  });
  if (pauses.length > 0)
    proposals.push({
      id: "pauses",
      title: "Pauses by how items die away",
      why: `${pauses.length === 1 ? "One pause differs" : `${pauses.length} pauses differ`} from 2 s after the last that is heard, in whole beats where a tempo is known. Overlaps stay.`,
      changes: pauses,
    });

  const stops = levels.joins.filter(({ stopsAtLufs }) => stopsAtLufs !== null);
  if (stops.length > 0)
    proposals.push({
      id: "stops",
      title: "Let what stops dead die away",
      why: `At ${stops.length === 1 ? "one join" : `${stops.length} joins`} a sound above −60 LUFS ends before a pause: it would be heard to stop.`,
      changes: stops.map(({ before }) => ({
        item: before.item,
        changes: { fadeOut: { ...newFade(STOP_FADE, "exponential"), insetSeconds: 0 } },
      })),
    });
  return proposals;
}
