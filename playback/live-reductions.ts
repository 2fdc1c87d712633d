/** What each processor of the chain that is heard takes off, at the moment at which it is heard. */
import { processorNamed, settingsOf, type ChainEntry } from "@core/processors";
import type { Reductions } from "@core/render/chain-stage";
import type { Decibels } from "@core/audio/units";
import { framesBetween, MAX_REDUCTIONS, type Ring } from "./ring";

/** Held and let down by this from one turn to the next, so that an eye can read it. */
const FALL_DB: Decibels = 0.15;

/** Where a processor's reductions stand in the ring: one value for the whole, or one for each band. */
export interface ReductionPlace {
  first: number;
  count: number;
}

/** Places of all processors of a chain that tell reductions, by id; those for which there is no room have none. */
export function reductionPlaces(chain: readonly ChainEntry[]): Map<string, ReductionPlace> {
  const places = new Map<string, ReductionPlace>();
  let first = 0;
  for (const entry of chain) {
    const count = processorNamed(entry.type).reductionNames?.(settingsOf(entry)).length ?? 0;
    if (!entry.id || entry.bypass || count === 0 || first + count > MAX_REDUCTIONS) continue;
    places.set(entry.id, { first, count });
    first += count;
  }
  return places;
}

/** Keeps what was taken off in blocks that are written ahead until they are heard. */
export class LiveReductions {
  #places = new Map<string, ReductionPlace>();
  #waiting: { device: number; reductions: Reductions }[] = [];

  constructor(readonly ring: Ring) {}

  /** Another chain is heard. */
  become(chain: readonly ChainEntry[]): void {
    this.#places = reductionPlaces(chain);
    this.ring.clearReductions();
  }

  /** A block was written at a device frame; what waited for that frame and later ones was written over. */
  written(device: number, reductions: Reductions): void {
    this.#waiting = this.#waiting.filter((one) => framesBetween(device, one.device) > 0);
    if (Object.keys(reductions).length > 0) this.#waiting.push({ device, reductions });
  }

  /** Shows what was heard since the last call. */
  update(): void {
    const { ring } = this;
    const heard = this.#waiting.filter(({ device }) => framesBetween(ring.read, device) >= 0);
    this.#waiting = this.#waiting.slice(heard.length);
    let most = Math.max(0, ring.meter("reductionDb") - FALL_DB);
    for (const { reductions } of heard) most = Math.max(most, ...Object.values(reductions).flat());
    ring.setMeter("reductionDb", most);
    for (const [entry, { first, count }] of this.#places)
      for (let row = 0; row < count; row++) {
        const now = heard.map(({ reductions }) => reductions[entry]?.[row] ?? 0);
        ring.setReduction(first + row, Math.max(0, ring.reduction(first + row) - FALL_DB, ...now));
      }
  }
}
