import { cos } from "../math/deterministic-math";
import { finiteOrNull } from "../audio/decibel";
import { loudnessWeight } from "../audio/layout";
import type { Seconds } from "../audio/units";
import { ABSOLUTE_GATE, lufsOf } from "./gating";
import type { MeasurementDefinition } from "./measurement";
import { BAND_COUNT, BAND_EDGES, HOPS_PER_BLOCK, hopStart, BLOCKS_PER_SECOND } from "./analysis-block";

export interface DialogueFigures {
  /** Loudness of the stretches that seem to be speech: an estimate; `null` where there are none. */
  dialogueLufs: number | null;
  /** Part of the time that seems to be speech. */
  dialoguePercent: number;
  /** These stretches. */
  dialogueStretches: { startSeconds: Seconds; endSeconds: Seconds }[];
}

/** Speech is judged over a second at a time, each half second. */
const WINDOW_HOPS = 100;
const STEP_TICKS = BLOCKS_PER_SECOND / 2;
/** Syllables come at this pace, in 1/s. */
const SYLLABLES = { from: 2, to: 9 };
/** Part of the envelope's swing that is at the pace of syllables. */
const LEAST_SYLLABIC = 0.55;
/** Part of the hops that are well below the mean: between syllables and words there is little. */
const LEAST_LOW_HOPS = 0.4;
const LOW_HOP = 0.35;
/** Part of the energy where voices are. */
const VOICE = { from: 150, to: 4500 };
const LEAST_VOICED = 0.6;
const LEAST_LUFS = -55;
const MOST_STRETCHES = 2000;

/** How much of an envelope of 10 ms hops swings at the pace of syllables, 0…1; its mean is left out. */
export function syllabicShare(envelope: Float64Array): number {
  const n = envelope.length;
  let total = 0;
  let syllabic = 0;
  const mean = envelope.reduce((sum, level) => sum + level, 0) / n;
  for (let k = 1; k <= 25; k++) {
    let [re, im] = [0, 0];
    for (let i = 0; i < n; i++) {
      const angle = ((k * i) % n) / n;
      re += (envelope[i]! - mean) * COSINES[Math.round(angle * n) % n]!;
      im += (envelope[i]! - mean) * COSINES[(Math.round(angle * n) + (n * 3) / 4) % n]!;
    }
    const power = re * re + im * im;
    total += power;
    if (k >= SYLLABLES.from && k <= SYLLABLES.to) syllabic += power;
  }
  return total > 0 ? syllabic / total : 0;
}
const COSINES = Float64Array.from({ length: WINDOW_HOPS }, (_, i) => cos((2 * Math.PI * i) / WINDOW_HOPS));

/** Loudness of what seems to be speech. */
export const dialogue: MeasurementDefinition<DialogueFigures> = {
  id: "dialogue",
  help: "Loudness and share of the stretches that seem to be speech: an estimate",
  source: "Resonum: envelope at the pace of syllables, pauses between them, energy where voices are",
  create({ sampleRate, layout }) {
    const weights = layout.speakers.map((speaker) => (Math.abs(speaker.azimuth) <= 60 ? loudnessWeight(speaker) : 0));
    const hops = new Float64Array(WINDOW_HOPS);
    const envelope = new Float64Array(WINDOW_HOPS);
    const bands = BAND_EDGES.flatMap((edge, band) =>
      band < BAND_COUNT && edge >= VOICE.from * 0.9 && edge < VOICE.to ? [band] : [],
    );
    const voiced = new Float64Array(BLOCKS_PER_SECOND);
    const whole = new Float64Array(BLOCKS_PER_SECOND);
    const stretches: { first: number; last: number }[] = [];
    const energies = new Float64Array(BLOCKS_PER_SECOND);
    let ticks = 0;
    let speechTicks = 0;
    let energy = 0;
    let energyFrames = 0;

    const seemsSpeech = (): boolean => {
      const mean = hops.reduce((sum, hop) => sum + hop, 0) / WINDOW_HOPS;
      if (lufsOf(mean) < LEAST_LUFS) return false;
      const low = hops.reduce((count, hop) => count + (hop < LOW_HOP * mean ? 1 : 0), 0) / WINDOW_HOPS;
      if (low < LEAST_LOW_HOPS) return false;
      const all = whole.reduce((sum, part) => sum + part, 0);
      if (voiced.reduce((sum, part) => sum + part, 0) < LEAST_VOICED * all) return false;
      for (let i = 0; i < WINDOW_HOPS; i++) envelope[i] = Math.sqrt(hops[i]!);
      return syllabicShare(envelope) >= LEAST_SYLLABIC;
    };
    /** Marks the second that ends with the last tick. */
    const mark = () => {
      const first = Math.max(0, ticks - BLOCKS_PER_SECOND);
      const last = stretches[stretches.length - 1];
      const from = last && last.last >= first ? last.last : first;
      for (let tick = from; tick < ticks; tick++) {
        const power = energies[tick % BLOCKS_PER_SECOND]!;
        speechTicks++;
        if (lufsOf(power) < ABSOLUTE_GATE) continue;
        energy += power;
        energyFrames++;
      }
      if (last && last.last >= first) last.last = ticks;
      else stretches.push({ first, last: ticks });
    };

    return {
      block({ index, hops: count, weighted, bands: powers, hasBands }) {
        if (count < HOPS_PER_BLOCK) return;
        const slot = index % BLOCKS_PER_SECOND;
        energies[slot] = 0;
        for (let hop = 0; hop < HOPS_PER_BLOCK; hop++) {
          const number = index * HOPS_PER_BLOCK + hop;
          let sum = 0;
          for (let c = 0; c < weights.length; c++) sum += weights[c]! * weighted[c * HOPS_PER_BLOCK + hop]!;
          hops[number % WINDOW_HOPS] = sum / (hopStart(number + 1, sampleRate) - hopStart(number, sampleRate));
          energies[slot]! += hops[number % WINDOW_HOPS]! / HOPS_PER_BLOCK;
        }
        voiced[slot] = 0;
        whole[slot] = 0;
        for (let c = 0; c < weights.length && hasBands; c++) {
          if (weights[c] === 0) continue;
          for (const band of bands) voiced[slot]! += powers[c * BAND_COUNT + band]!;
          for (let band = 0; band < BAND_COUNT; band++) whole[slot]! += powers[c * BAND_COUNT + band]!;
        }
        ticks = index + 1;
        if (ticks >= BLOCKS_PER_SECOND && ticks % STEP_TICKS === 0 && seemsSpeech()) mark();
      },
      result: () => ({
        figures: {
          dialogueLufs: energyFrames === 0 ? null : finiteOrNull(lufsOf(energy / energyFrames)),
          dialoguePercent: ticks === 0 ? 0 : (100 * speechTicks) / ticks,
          dialogueStretches: stretches.slice(0, MOST_STRETCHES).map(({ first, last }) => ({
            startSeconds: first / BLOCKS_PER_SECOND,
            endSeconds: last / BLOCKS_PER_SECOND,
          })),
        },
      }),
    };
  },
};
