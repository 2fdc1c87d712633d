/**
 * Loudness of the whole before it is rendered, in steps of 100 ms: energies of all that sounds, with gains and fades.
 * An estimate: what overlaps is taken as unrelated, and duckers are left out. The render measures.
 */
import { dbToGain, dbToPower, finiteOrNull } from "../audio/decibel";
import type { Lufs } from "../audio/units";
import { integratedLoudness, LOUDNESS_OFFSET, lufsOf } from "../measure/gating";
import { energiesOf } from "../measure/short-term-estimate";
import { envelopeAt } from "../parameters/breakpoints";
import { fadeGain, type Fade } from "./fade";
import { placementOf, type Placeable } from "./placement";
import { audibleLanes, type Lane } from "./programme";
import { joinsOf, type Join, type PlacedItem, type Timeline } from "./timeline";

export const LEVEL_STEP_SECONDS = 0.1;
/** What lies on each side of a join that its step is told by. */
const SIDE_STEPS = 30;
/** What lies further below the loudness of its item is its dying away, or its coming, and tells no step. */
const BODY_WITHIN = 12; // LU
/** A sound that ends above this, with nothing after it, is heard to stop. */
const HEARD_TO_STOP: Lufs = -60;

/** What is known of an item after its chain. */
export interface ItemLevels {
  /** In steps of 100 ms. */
  momentaryLufs: Float32Array;
  truePeakDbtp: number | null;
}

export interface PlacedLevels {
  integratedLufs: number | null;
  truePeakDbtp: number | null;
}

export interface JoinLevels extends Join {
  /** Loudness of the 3 s before and after that are no more than 12 LU below their item's. */
  outgoingLufs: number | null;
  incomingLufs: number | null;
  /** LU up, or down below 0; `null` where a side is silent. */
  stepLu: number | null;
  /** Level at which a sound stops dead before a pause; `null` where it has died away. */
  stopsAtLufs: number | null;
}

export interface ProgrammeLevels {
  /** Mean squares of each 3 s of the whole, in steps of 100 ms; `shortTermAt` tells loudness. */
  shortTerm: Float64Array;
  integratedLufs: number | null;
  truePeakDbtp: number | null;
  items: ReadonlyMap<string, PlacedLevels>;
  joins: JoinLevels[];
  loudest: string | null;
  quietest: string | null;
}

/** Energies of an item with its gain, its line and its fades. */
function placedEnergies(levels: ItemLevels, { start, end }: PlacedItem, item: Placeable, rate: number): Float64Array {
  const { gainDb, envelope, fadeIn, fadeOut } = placementOf(item);
  const power = dbToPower(gainDb);
  const energies = energiesOf(levels.momentaryLufs).map((energy) => energy * power);
  const length = (end - start) / rate;
  const reach = (fade: Fade | undefined) => (fade ? fade.insetSeconds + fade.seconds : 0);
  const times = (from: number, to: number, amplitude: (seconds: number) => number) => {
    const last = Math.min(energies.length, Math.ceil(to / LEVEL_STEP_SECONDS));
    for (let i = Math.max(0, Math.floor(from / LEVEL_STEP_SECONDS)); i < last; i++) {
      const gain = amplitude((i + 0.5) * LEVEL_STEP_SECONDS);
      energies[i]! *= gain * gain;
    }
  };
  if (fadeIn) times(0, reach(fadeIn), (at) => fadeGain(fadeIn, (at - fadeIn.insetSeconds) / fadeIn.seconds));
  if (fadeOut)
    times(length - reach(fadeOut), Infinity, (at) =>
      fadeGain(fadeOut, (length - at - fadeOut.insetSeconds) / fadeOut.seconds),
    );
  if (envelope.length > 0) times(0, Infinity, (at) => dbToGain(envelopeAt(envelope, at)));
  return energies;
}

/** @returns `null` while the levels of an item are not known */
export function programmeLevels(
  timeline: Timeline,
  items: readonly Placeable[],
  lanes: readonly Lane[],
  levelsOf: (id: string) => ItemLevels | null,
): ProgrammeLevels | null {
  const { sampleRate, frames } = timeline;
  const steps = Math.max(1, Math.ceil(frames / sampleRate / LEVEL_STEP_SECONDS));
  const whole = new Float64Array(steps);
  const byId = new Map(items.map((item) => [item.id, item]));
  const placedLevels = new Map<string, PlacedSound>();
  const gains = new Map<string | null, number>([[null, lanes.some(({ solo }) => solo) ? 0 : 1]]);
  for (const lane of audibleLanes(lanes)) gains.set(lane.id, dbToPower(lane.gainDb));
  for (const placed of [...timeline.order, ...timeline.onLanes]) {
    const levels = levelsOf(placed.item);
    if (!levels) return null;
    const item = byId.get(placed.item)!;
    const first = Math.round(placed.start / sampleRate / LEVEL_STEP_SECONDS);
    const energies = placedEnergies(levels, placed, item, sampleRate);
    const gain = gains.get(placed.lane) ?? 0;
    energies.forEach((energy, i) => {
      if (first + i < steps) whole[first + i]! += energy * gain;
    });
    placedLevels.set(placed.item, {
      energies,
      integratedLufs: finiteOrNull(integratedLoudness(energies)),
      truePeakDbtp: levels.truePeakDbtp === null ? null : levels.truePeakDbtp + placementOf(item).gainDb,
    });
  }
  const peaks = [...placedLevels.values()].flatMap(({ truePeakDbtp }) => truePeakDbtp ?? []);
  const [loudest, quietest] = extremes(timeline, placedLevels);
  return {
    shortTerm: meansOf(whole, SIDE_STEPS),
    integratedLufs: finiteOrNull(integratedLoudness(whole)),
    truePeakDbtp: peaks.length > 0 ? Math.max(...peaks) : null,
    items: placedLevels,
    joins: joinsOf(timeline).map((join) => joinLevels(join, placedLevels, sampleRate)),
    loudest,
    quietest,
  };
}

/** Means over `length` values, each step. */
function meansOf(values: Float64Array, length: number): Float64Array {
  const means = new Float64Array(Math.max(0, values.length - length + 1));
  let sum = 0;
  for (let i = 0; i < values.length; i++) {
    sum += values[i]! - (i >= length ? values[i - length]! : 0);
    if (i >= length - 1) means[i - length + 1] = Math.max(0, sum) / length;
  }
  return means;
}

/** Short-term loudness of the 3 s that begin at a step; `null` beyond the ends. */
export function shortTermAt({ shortTerm }: Pick<ProgrammeLevels, "shortTerm">, step: number): number | null {
  const energy = shortTerm[step];
  return energy === undefined ? null : lufsOf(energy);
}

function extremes({ order }: Timeline, levels: ReadonlyMap<string, PlacedLevels>): [string | null, string | null] {
  const known = order.flatMap(({ item }) => {
    const lufs = levels.get(item)?.integratedLufs ?? null;
    return lufs === null ? [] : [{ item, lufs }];
  });
  known.sort((a, b) => b.lufs - a.lufs);
  return [known[0]?.item ?? null, known.at(-1)?.item ?? null];
}

/**
 * Mean loudness of the 3 s nearest to an end that belong to the item's body, from step `from` on towards `to`; `null` where
 * nothing sounds.
 */
function nearestBodyLufs({ energies, integratedLufs }: PlacedSound, from: number, to: number): number | null {
  if (integratedLufs === null) return null;
  const least = dbToPower(integratedLufs - BODY_WITHIN - LOUDNESS_OFFSET);
  const direction = to > from ? 1 : -1;
  let [count, sum] = [0, 0];
  for (let i = from; i !== to && count < SIDE_STEPS; i += direction) {
    if ((energies[i] ?? 0) <= least) continue;
    sum += energies[i]!;
    count++;
  }
  return count === 0 ? null : lufsOf(sum / count);
}

interface PlacedSound extends PlacedLevels {
  energies: Float64Array;
}

function joinLevels(join: Join, own: ReadonlyMap<string, PlacedSound>, sampleRate: number): JoinLevels {
  const { before, after } = join;
  const [outgoing, incoming] = [own.get(before.item)!, own.get(after.item)!];
  const steps = (frames: number) => Math.round(frames / sampleRate / LEVEL_STEP_SECONDS);
  const over = Math.min(outgoing.energies.length, steps(before.fadeEnd - before.start));
  // Where they overlap, what lies under the other does not tell the step.
  const under = Math.max(0, steps(before.fadeEnd - after.start));
  const outgoingLufs = nearestBodyLufs(outgoing, Math.max(0, over - under) - 1, -1);
  const incomingLufs = nearestBodyLufs(incoming, Math.min(under, incoming.energies.length), incoming.energies.length);
  const last = lufsOf(outgoing.energies[over - 1] ?? 0);
  return {
    ...join,
    outgoingLufs,
    incomingLufs,
    stepLu: outgoingLufs === null || incomingLufs === null ? null : incomingLufs - outgoingLufs,
    stopsAtLufs: after.start > before.fadeEnd && last > HEARD_TO_STOP ? last : null,
  };
}
