/**
 * Loudness of the whole before it is rendered, in steps of 100 ms: energies of all that sounds, with gains and fades.
 * An estimate: what overlaps is taken as unrelated, and duckers are left out. The render measures.
 */
import { dbToPower, finiteOrNull } from "../audio/decibel";
import type { Lufs } from "../audio/units";
import { integratedLoudness, LOUDNESS_OFFSET, lufsOf } from "../measure/gating";
import { shortTermOf } from "../measure/short-term-estimate";
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
  /** Of the whole, in steps of 100 ms. */
  momentaryLufs: Float32Array;
  shortTermLufs: Float32Array;
  integratedLufs: number | null;
  truePeakDbtp: number | null;
  items: ReadonlyMap<string, PlacedLevels>;
  joins: JoinLevels[];
  loudest: string | null;
  quietest: string | null;
}

const energyOf = (lufs: number): number => (lufs === -Infinity ? 0 : dbToPower(lufs - LOUDNESS_OFFSET));

/** Power that an item's gain, line and fades leave at a time of it. */
function shareAt({ start, end }: PlacedItem, item: Placeable, seconds: number, rate: number): number {
  const { gainDb, envelope, fadeIn, fadeOut } = placementOf(item);
  const length = (end - start) / rate;
  const faded = (fade: Fade | undefined, distance: number) =>
    fade ? fadeGain(fade, (distance - fade.insetSeconds) / fade.seconds) : 1;
  const gain = faded(fadeIn, seconds) * faded(fadeOut, length - seconds);
  return gain * gain * dbToPower(gainDb + (envelope.length > 0 ? envelopeAt(envelope, seconds) : 0));
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
  const placedLevels = new Map<string, PlacedLevels>();
  const own = new Map<string, Float64Array>();
  const gains = new Map<string | null, number>([[null, lanes.some(({ solo }) => solo) ? 0 : 1]]);
  for (const lane of audibleLanes(lanes)) gains.set(lane.id, dbToPower(lane.gainDb));
  for (const placed of [...timeline.order, ...timeline.onLanes]) {
    const levels = levelsOf(placed.item);
    if (!levels) return null;
    const item = byId.get(placed.item)!;
    const first = Math.round(placed.start / sampleRate / LEVEL_STEP_SECONDS);
    const energies = Float64Array.from(levels.momentaryLufs, (lufs, i) =>
      lufs === -Infinity ? 0 : energyOf(lufs) * shareAt(placed, item, (i + 0.5) * LEVEL_STEP_SECONDS, sampleRate),
    );
    const gain = gains.get(placed.lane) ?? 0;
    energies.forEach((energy, i) => {
      if (first + i < steps) whole[first + i]! += energy * gain;
    });
    own.set(placed.item, energies);
    placedLevels.set(placed.item, {
      integratedLufs: finiteOrNull(integratedLoudness(energies)),
      truePeakDbtp: levels.truePeakDbtp === null ? null : levels.truePeakDbtp + placementOf(item).gainDb,
    });
  }
  const momentaryLufs = Float32Array.from(whole, lufsOf);
  const peaks = [...placedLevels.values()].flatMap(({ truePeakDbtp }) => truePeakDbtp ?? []);
  const [loudest, quietest] = extremes(timeline, placedLevels);
  return {
    momentaryLufs,
    shortTermLufs: Float32Array.from(shortTermOf(momentaryLufs), lufsOf),
    integratedLufs: finiteOrNull(integratedLoudness(whole)),
    truePeakDbtp: peaks.length > 0 ? Math.max(...peaks) : null,
    items: placedLevels,
    joins: joinsOf(timeline).map((join) => joinLevels(join, own, sampleRate)),
    loudest,
    quietest,
  };
}

function extremes({ order }: Timeline, levels: ReadonlyMap<string, PlacedLevels>): [string | null, string | null] {
  const known = order.flatMap(({ item }) => {
    const lufs = levels.get(item)?.integratedLufs ?? null;
    return lufs === null ? [] : [{ item, lufs }];
  });
  known.sort((a, b) => b.lufs - a.lufs);
  return [known[0]?.item ?? null, known.at(-1)?.item ?? null];
}

/** Mean loudness of the 3 s nearest to the beginning of `energies` that belong to the item's body; `null` where nothing sounds. */
function nearestBodyLufs(energies: Float64Array): number | null {
  const least = integratedLoudness(energies) - BODY_WITHIN;
  const body: number[] = [];
  for (const energy of energies) {
    if (lufsOf(energy) > least) body.push(energy);
    if (body.length === SIDE_STEPS) break;
  }
  return body.length === 0 ? null : lufsOf(body.reduce((sum, energy) => sum + energy, 0) / body.length);
}

function joinLevels(join: Join, own: ReadonlyMap<string, Float64Array>, sampleRate: number): JoinLevels {
  const { before, after } = join;
  const [outgoing, incoming] = [own.get(before.item)!, own.get(after.item)!];
  const over = Math.min(outgoing.length, Math.round((before.fadeEnd - before.start) / sampleRate / LEVEL_STEP_SECONDS));
  // Where they overlap, what lies under the other does not tell the step.
  const under = Math.max(0, Math.round((before.fadeEnd - after.start) / sampleRate / LEVEL_STEP_SECONDS));
  const outgoingLufs = nearestBodyLufs(outgoing.slice(0, Math.max(0, over - under)).reverse());
  const incomingLufs = nearestBodyLufs(incoming.subarray(under));
  const last = lufsOf(outgoing[over - 1] ?? 0);
  return {
    ...join,
    outgoingLufs,
    incomingLufs,
    stepLu: outgoingLufs === null || incomingLufs === null ? null : incomingLufs - outgoingLufs,
    stopsAtLufs: after.start > before.fadeEnd && last > HEARD_TO_STOP ? last : null,
  };
}
