import { powerToDb } from "../audio/decibel";
import type { Decibels } from "../audio/units";
import { correlationOf } from "./correlation";
import type { MeasurementDefinition } from "./measurement";
import { BAND_COUNT, BAND_EDGES, HOPS_PER_BLOCK, pairsOf } from "./analysis-block";

export type ChannelFaultKind = "dead" | "duplicate" | "inverted" | "quieter" | "swapped";

export interface ChannelFault {
  channel: string;
  kind: ChannelFaultKind;
  /** The channel that it is held against. */
  other: string | null;
  /** How far below `other`, for those that are quieter. */
  belowDb: Decibels | null;
}

export interface ChannelFaultFigures {
  channelFaults: ChannelFault[];
}

const DEAD_DBFS = -90;
/** A channel is only dead where another one is alive. */
const ALIVE_DBFS = -60;
const SAME_CORRELATION = 0.9999;
const SAME_LEVEL_DB = 0.1;
const INVERTED_CORRELATION = -0.9;
const QUIETER_DB = 6;
/** An LFE holds its energy below this. */
const LFE_TO = 250;
const FULL_RANGE_SHARE = 0.5;
const LOW_ONLY_SHARE = 0.02;

/** What is wrong with a channel, by itself and against the others. */
export const channelFaults: MeasurementDefinition<ChannelFaultFigures> = {
  id: "channel-faults",
  help: "Channels that are dead, duplicates, inverted, much quieter than their other side, or swapped with the LFE",
  source: "Resonum: RMS, correlation of pairs and energy above 250 Hz over the whole recording",
  create({ layout }) {
    const { speakers } = layout;
    const pairs = pairsOf(speakers);
    const power = new Float64Array(speakers.length);
    const cross = new Float64Array(pairs.length);
    const low = new Float64Array(speakers.length);
    const high = new Float64Array(speakers.length);
    let frames = 0;

    const mirrored = (a: number, b: number) =>
      speakers[a]!.azimuth === -speakers[b]!.azimuth &&
      speakers[a]!.azimuth !== 0 &&
      speakers[a]!.elevation === speakers[b]!.elevation;

    return {
      block({ frames: count, energy, products, bands, hasBands }) {
        frames += count;
        for (let c = 0; c < speakers.length; c++) {
          for (let hop = 0; hop < HOPS_PER_BLOCK; hop++) power[c]! += energy[c * HOPS_PER_BLOCK + hop]!;
          if (!hasBands) continue;
          for (let band = 0; band < BAND_COUNT; band++)
            (BAND_EDGES[band]! < LFE_TO ? low : high)[c]! += bands[c * BAND_COUNT + band]!;
        }
        for (let p = 0; p < pairs.length; p++) cross[p]! += products[p]!;
      },
      result() {
        const levels = Array.from(power, (sum) => powerToDb(sum / Math.max(1, frames)));
        const label = (c: number) => speakers[c]!.label;
        const faults: ChannelFault[] = [];
        const add = (c: number, kind: ChannelFaultKind, other: number | null, belowDb: Decibels | null = null) =>
          faults.push({ channel: label(c), kind, other: other === null ? null : label(other), belowDb });
        const alive = levels.some((level) => level > ALIVE_DBFS);
        const dead = levels.map((level, c) => alive && level < DEAD_DBFS && !speakers[c]!.lfe);
        dead.forEach((isDead, c) => isDead && add(c, "dead", null));
        pairs.forEach(([a, b], p) => {
          if (dead[a] || dead[b]) return;
          const correlation = correlationOf(cross[p]!, power[a]!, power[b]!);
          if (correlation === null) return;
          const difference = levels[a]! - levels[b]!;
          if (correlation > SAME_CORRELATION && Math.abs(difference) < SAME_LEVEL_DB) add(b, "duplicate", a);
          else if (correlation < INVERTED_CORRELATION) add(b, "inverted", a);
          if (mirrored(a, b) && Math.abs(difference) >= QUIETER_DB) {
            const [quiet, loud] = difference < 0 ? [a, b] : [b, a];
            add(quiet, "quieter", loud, Math.abs(difference));
          }
        });
        const highShare = (c: number) => high[c]! / (high[c]! + low[c]!);
        speakers.forEach((speaker, lfe) => {
          if (!speaker.lfe || !(highShare(lfe) > FULL_RANGE_SHARE)) return;
          const like = speakers.findIndex((one, c) => !one.lfe && !dead[c] && highShare(c) < LOW_ONLY_SHARE);
          add(lfe, "swapped", like < 0 ? null : like);
        });
        return { figures: { channelFaults: faults } };
      },
    };
  },
};
