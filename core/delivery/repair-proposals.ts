/** What the repairs could do for a recording, from what was measured of it: never applied by itself. */
import type { SoughtEvents } from "../events/sought-events";
import type { Figures } from "../measure";
import type { ChannelFault } from "../measure/channel-faults";
import { formatDb, formatHertz } from "../audio/format";
import { gainToTarget } from "./normalisation";
import { newChainEntry, type ChainEntry } from "../processors";
import type { Decibels, Seconds } from "../audio/units";
import type { DeliverySpec } from "./spec";
import type { LimitedFigures } from "./compliance";
import { newRepairStep, type RepairStep } from "../repair";

/** One way of mending one thing. */
export interface Strength {
  label: "gentle" | "medium" | "firm";
  step: RepairStep;
}

export interface RepairProposal {
  id: string;
  title: string;
  /** The measured facts it rests on. */
  why: string;
  /** From gentle to firm; one where there is no more or less. */
  strengths: Strength[];
  /** Which of them is as gentle as it may be: the first that reaches what is wanted. */
  suggested: number;
  /** Where it can be heard best, if somewhere in particular. */
  at: Seconds | null;
  /** Of noise: how far the floor must fall, so that the limit holds with some room. */
  wantedDb?: Decibels;
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

/** From gentle to firm. */
const NOISE_DEPTHS = [8, 14, 24] as const;

const noiseAt = (maxReductionDb: number): RepairStep =>
  step("noise", { maxReductionDb, tonalMaxReductionDb: maxReductionDb + 6 });

/** Fewer than this a minute are no trouble: a mouth makes some. */
const MOUTH_NOISES_A_MINUTE = 4;

/** Clicks and mouth noise that were found by the repairs' own defaults: firm is those, gentle a higher threshold. */
function impulseProposals(figures: Figures, sought: readonly SoughtEvents[]): RepairProposal[] {
  return sought.flatMap(({ kind, count, places }): RepairProposal[] => {
    if (kind !== "clicks" && kind !== "mouth-noise") return [];
    if (kind === "mouth-noise" && count < (MOUTH_NOISES_A_MINUTE * figures.durationSeconds) / 60) return [];
    const firm = newRepairStep(kind, "");
    const gentle = step(kind, { thresholdDb: Number(firm["thresholdDb"]) + 6 });
    return [
      {
        id: kind,
        title: kind === "clicks" ? "Take the clicks away" : "Take the mouth noise away",
        why: `Found at ${count} ${count === 1 ? "place" : "places"}.`,
        strengths: [
          { label: "gentle", step: gentle },
          { label: "firm", step: firm },
        ],
        suggested: 1,
        at: places[0]?.seconds ?? null,
      },
    ];
  });
}

/**
 * Proposals for a recording, in the order in which they should be applied.
 * @param spec the one in force, if any
 * @param sought what was found in the background after intake
 */
export function repairProposals(
  figures: Figures,
  spec: DeliverySpec | null,
  sought: readonly SoughtEvents[] = [],
): RepairProposal[] {
  const proposals: RepairProposal[] = sidesProposals(figures);
  const { count, places } = figures.clippedRuns;
  if (count > 0) {
    // Samples just below the lowest plateau were cut as well.
    const levelDbfs = Math.min(0, ...places.map((place) => place.levelDbfs)) - 0.01;
    proposals.push({
      id: "clipping",
      title: "Declip",
      why: `${count} clipped ${count === 1 ? "run" : "runs"}, the longest of ${figures.clippedRuns.longestSamples} samples.`,
      strengths: [{ label: "firm", step: step("clipping", { levelDbfs: Number(levelDbfs.toFixed(2)) }) }],
      suggested: 0,
      at: places[0]?.seconds ?? null,
    });
  }
  proposals.push(...impulseProposals(figures, sought));
  if (figures.humHz !== null) {
    const harmonics = Math.max(...figures.humHarmonics, 1);
    const fundamentalHz = Number(figures.humHz.toFixed(2));
    proposals.push({
      id: "hum",
      title: `Take the hum at ${formatHertz(fundamentalHz)} away`,
      why: `${figures.humHarmonics.length} harmonics stand ${formatDb(figures.humAboveFloorDb)} dB above the floor.`,
      strengths: [
        { label: "gentle", step: step("hum", { fundamentalHz, harmonics, maxReductionDb: 20 }) },
        { label: "firm", step: step("hum", { fundamentalHz, harmonics: Math.max(12, harmonics), maxReductionDb: 80 }) },
      ],
      suggested: 1,
      at: figures.noiseFloorSeconds,
    });
  }
  const floor = figures.noiseFloorDbfs;
  const limit = spec?.limits.find(({ figure }) => figure === "noiseFloorDbfs")?.max;
  const allowed = limit ?? AUDIBLE_FLOOR_DBFS;
  // What delivery raises, it raises with its floor.
  const raisedBy = spec ? Math.max(0, gainWanted(figures, spec)) : 0;
  // Between words there is nothing but noise; the quietest moment of music may be music.
  const isSpeech = figures.dialoguePercent > MOSTLY_SPEECH_PERCENT;
  if (floor !== null && floor + raisedBy > allowed - ROOM_BELOW_DB && (limit !== undefined || isSpeech)) {
    const over = floor + raisedBy - allowed;
    proposals.push({
      id: "noise",
      title: "Reduce the noise",
      why: `The quietest half second lies at ${formatDb(floor)} dBFS${
        raisedBy > 0 ? `, and at ${formatDb(floor + raisedBy)} once it is as loud as ${spec!.name} wants it` : ""
      }: ${formatDb(Math.abs(over))} dB ${over > 0 ? "above" : "below"} ${limit === undefined ? "what is heard in a quiet room" : "the limit"}.`,
      strengths: [
        { label: "gentle", step: noiseAt(NOISE_DEPTHS[0]) },
        { label: "medium", step: noiseAt(NOISE_DEPTHS[1]) },
        { label: "firm", step: noiseAt(NOISE_DEPTHS[2]) },
      ],
      suggested: Math.min(2, NOISE_DEPTHS.filter((depth) => depth < over + ROOM_BELOW_DB).length),
      at: figures.noiseFloorSeconds,
      wantedDb: Math.max(0, over + ROOM_BELOW_DB),
    });
  }
  return proposals;
}

/** Gain to what a spec aims at: its loudness, or the middle of its RMS range where it normalises nothing itself. */
function gainWanted(figures: LimitedFigures, spec: DeliverySpec): Decibels {
  const range = spec.limits.find(({ figure }) => figure === "rmsDbfs");
  const rms = figures.rmsDbfs ?? null;
  if (!range || rms === null) return gainToTarget(spec, figures);
  const [min, max] = [range.min ?? -Infinity, range.max ?? Infinity];
  return rms >= min && rms <= max ? 0 : (min + max) / 2 - rms;
}

/** Kept free below a peak limit, so that the limiter's ceiling holds by any meter. */
const PEAK_ROOM_DB: Decibels = 0.3;

/**
 * What the chain needs to bring a recording into the RMS range and under the peak of a spec: gain, and a limiter where the peaks would rise above. Nothing where it is inside, or where the spec asks for no
 * RMS.
 */
export function levelProposal(figures: LimitedFigures, spec: DeliverySpec | null): ChainEntry[] {
  if (!spec || !spec.limits.some(({ figure }) => figure === "rmsDbfs")) return [];
  const gainDb = Number(gainWanted(figures, spec).toFixed(1));
  const highest = spec.limits.find(({ figure }) => figure === "samplePeakDbfs" || figure === "truePeakDbtp")?.max;
  const peak = figures.truePeakDbtp ?? -Infinity;
  const entries: ChainEntry[] = gainDb === 0 ? [] : [{ ...newChainEntry("gain", ""), gainDb }];
  if (highest !== undefined && peak + gainDb > highest)
    entries.push({ ...newChainEntry("limiter", ""), ceilingDbtp: Number((highest - PEAK_ROOM_DB).toFixed(1)) });
  return entries;
}

interface SidesRemedy {
  title: string;
  why: string;
  settings: Record<string, unknown>;
}

/** What can be done about a fault between two sides; nothing for the others. */
function sidesRemedy({ kind, channel, other, belowDb }: ChannelFault): SidesRemedy | null {
  switch (kind) {
    case "dead":
      return {
        title: `Put the other side in the place of ${channel}`,
        why: `${channel} is dead.`,
        settings: { use: channel === "L" ? "right" : "left" },
      };
    case "inverted":
      return {
        title: "Invert the right channel",
        why: `${channel} is inverted against ${other}: in mono the two cancel.`,
        settings: { invertRight: true },
      };
    case "quieter":
      return {
        title: "Match the channel levels",
        why: `${channel} lies ${formatDb(belowDb)} dB below ${other}.`,
        settings: { rightGainDb: Number(((belowDb ?? 0) * (channel === "R" ? 1 : -1)).toFixed(1)) },
      };
    default:
      return null;
  }
}

function sidesProposals({ channels, channelFaults }: Figures): RepairProposal[] {
  if (channels !== 2) return [];
  return channelFaults.flatMap((fault) => {
    const remedy = sidesRemedy(fault);
    if (!remedy) return [];
    const { title, why, settings } = remedy;
    const strengths: Strength[] = [{ label: "firm", step: step("channel-repair", settings) }];
    return [{ id: `sides-${fault.kind}`, title, why, strengths, suggested: 0, at: null }];
  });
}
