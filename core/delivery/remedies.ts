/** What would make a master pass: changes that were tried on the figures first, and help. None is made unseen. */
import type { Curves, Figures } from "../measure";
import { newChainEntry, type ChainEntry } from "../processors";
import { levellingTo } from "./normalisation";
import { levelsAfter } from "./predict-chain";
import { AUDIBLE_LIMITING_DB, predictDelivery, type DeliveryContext, type Prediction } from "./predict-delivery";
import { fileFacts, formatWords, type MasterFormat } from "./recipe";
import { newRepairStep, type RepairStep } from "../repair";
import type { Decibels } from "../audio/units";
import { formatDb, formatTime } from "../audio/format";
import { CONTAINER_ABOUT, isLossy } from "../files/containers";
import type { LimitViolation } from "./limit-violations";
import { ANCHORS, type DeliverySpec } from "./spec";
import { check, type Verdict } from "./compliance";

/** One change. What is absent stays as it is. */
export interface Remedy {
  id: string;
  title: string;
  /** What it comes to, as predicted. */
  reaches: string;
  /** Put at the end of the item's chain. */
  entries?: ChainEntry[];
  /** Put at the end of its repairs. */
  steps?: RepairStep[];
  format?: MasterFormat;
  passes: boolean;
}

export interface RemedyContext extends DeliveryContext {
  figures: Figures;
  curves: Curves;
  /** All that the item goes through: its own chain first, `own` entries of it. */
  chain: readonly ChainEntry[];
  own: number;
  spec: DeliverySpec;
  format: MasterFormat;
  layout: string;
  /** Where the finished master breaks limits, if one is there. */
  places?: readonly LimitViolation[];
  /** By how much noise reduction was found to lower the floor when it was tried on the sound. */
  triedNoise?: readonly TriedNoise[];
}

export interface TriedNoise {
  step: RepairStep;
  lowersDb: Decibels;
}

interface Idea {
  id: string;
  title: string;
  entries?: ChainEntry[];
  steps?: RepairStep[];
  /** What of the noise it takes away. */
  floorDb?: number;
  format?: MasterFormat;
}

const MOST_WAYS = 6;

const NOISE_DEPTHS: readonly Decibels[] = [8, 14, 24];

/** Noise reduction to be tried on the sound; none where the floor is inside its limit. */
export function noiseToTry(spec: DeliverySpec, verdict: Verdict): RepairStep[] {
  const floor = verdict.limits.find(({ limit }) => limit.figure === "noiseFloorDbfs" && limit.required);
  if (verdict.specId !== spec.id || floor?.status !== "fail") return [];
  return NOISE_DEPTHS.map((maxReductionDb) => ({
    ...newRepairStep("noise", ""),
    maxReductionDb,
    tonalMaxReductionDb: maxReductionDb + 6,
  }));
}

/** How far figures are from passing: broken limits weigh more than limiting that is heard. */
function badness(verdict: Verdict, { limitingDb }: Prediction): number {
  const broken = verdict.limits
    .filter(({ limit, status }) => limit.required && status === "fail")
    .reduce((sum, { margin }) => sum + 10 + Math.min(10, Math.abs(margin ?? 10)), 0);
  const unmet = verdict.fileRequirements.filter(({ met }) => !met).length * 20;
  return broken + unmet + Math.max(0, limitingDb - AUDIBLE_LIMITING_DB);
}

/** Changes that bring a master nearer to its spec, the best first; empty where it passes without limiting that is heard. */
export function remediesFor(context: RemedyContext): Remedy[] {
  const { figures, curves, chain, own, spec, format, layout } = context;
  const judged = (entries: readonly ChainEntry[], floorDb: number, as: MasterFormat) => {
    const known = figures.noiseFloorDbfs;
    const cleaned = floorDb > 0 && known !== null ? { ...figures, noiseFloorDbfs: known - floorDb } : figures;
    const all = [...chain.slice(0, own), ...entries, ...chain.slice(own)];
    const prediction = predictDelivery(cleaned, curves, all, spec, context);
    return { prediction, verdict: check(spec, prediction.figures, fileFacts(as, figures.sampleRate, layout)) };
  };
  const now = judged([], 0, format);
  const bad = badness(now.verdict, now.prediction);
  if (bad === 0) return [];
  return ideasFor(context, now)
    .map((idea) => ({ idea, ...judged(idea.entries ?? [], idea.floorDb ?? 0, idea.format ?? format) }))
    .map((tried) => ({ ...tried, bad: badness(tried.verdict, tried.prediction) }))
    .filter((tried) => tried.bad < bad - 0.2)
    .sort((a, b) => a.bad - b.bad)
    .slice(0, MOST_WAYS)
    .map(({ idea: { floorDb: _, ...idea }, verdict, prediction }) => ({
      ...idea,
      reaches: reachesWords(spec, verdict, prediction),
      passes:
        verdict.limits.every(({ limit, status }) => !limit.required || status !== "fail") &&
        verdict.fileRequirements.every(({ met }) => met),
    }));
}

/** In the figure and unit that the spec brings the level by. */
function reachesWords(spec: DeliverySpec, verdict: Verdict, { limitingDb, figures }: Prediction): string {
  const broken = verdict.limits.filter(({ limit, status }) => limit.required && status === "fail").length;
  const limiting = limitingDb > 0 ? `, limited ${formatDb(limitingDb)}` : "";
  const { figure, unit } = ANCHORS[spec.anchor];
  const level = `${formatDb(figures[figure] ?? null)} ${unit}${limiting}`;
  return `${level}: ${broken === 0 ? "inside" : `${broken} outside`}`;
}

function ideasFor(
  context: RemedyContext,
  { verdict, prediction }: { verdict: Verdict; prediction: Prediction },
): Idea[] {
  const { figures, curves, chain, spec } = context;
  const ideas: Idea[] = [...formatIdeas(context)];
  const out = (figure: string) =>
    verdict.limits.find(({ limit, status }) => limit.figure === figure && limit.required && status === "fail");
  const levels = levelsAfter(figures, curves, chain, context.known ?? null);
  const loudness = (prediction.figures.integratedLufs ?? -23) - prediction.gainDb;

  const floor = out("noiseFloorDbfs");
  if (floor) {
    const tried = context.triedNoise ?? [];
    // Nothing firmer than what is enough.
    const enough = tried.findIndex(({ lowersDb }) => lowersDb >= -(floor.margin ?? 0));
    for (const { step, lowersDb } of enough < 0 ? tried : tried.slice(0, enough + 1))
      ideas.push({
        id: `noise-${String(step["maxReductionDb"])}`,
        title: `Noise reduction ${String(step["maxReductionDb"])} dB: floor −${formatDb(lowersDb)} dB`,
        steps: [step],
        floorDb: lowersDb,
      });
  }
  if (prediction.limitingDb > AUDIBLE_LIMITING_DB || out("shortTermMaxLufs") || out("momentaryMaxLufs"))
    for (const [ratio, above, words] of [
      [2, 4, "gently"],
      [3, 2, "firmly"],
      [5, 2, "hard"],
    ] as const)
      ideas.push({
        id: `compress-${ratio}`,
        title: `Compress ${words}, ${ratio}:1 above ${formatDb(loudness + above)} dBFS`,
        entries: [{ ...newChainEntry("compressor", ""), ratio, thresholdDb: Number((loudness + above).toFixed(1)) }],
      });
  const short = out("shortTermMaxLufs");
  const broken = (context.places ?? []).filter(({ figure }) => figure === "shortTermMaxLufs");
  if (short?.margin && broken.length > 0) ideas.push(tamed(broken, -short.margin));
  for (const most of rangeWanted(context, prediction)) {
    const levelling = levellingTo(most, levels, loudness);
    if (levelling) {
      const { id: _, ...settings } = levelling;
      ideas.push({
        id: `level-${most}`,
        title: `Ride the level to a range of ${formatDb(most)} LU`,
        entries: [settings as ChainEntry],
      });
    }
  }
  if (spec.normalise === "none") ideas.push(...levelIdeas(context, verdict));
  return ideas;
}

/** A ride over the places that are too loud. */
function tamed(broken: readonly LimitViolation[], overLu: number): Idea {
  const down = -Number((overLu + 0.4).toFixed(1));
  const line = broken.flatMap(({ startSeconds, endSeconds }): [number, number][] => {
    // A short-term value holds the three seconds before it.
    const from = Math.max(0, startSeconds - 3);
    return [
      [Math.max(0, from - 0.5), 0],
      [from, down],
      [endSeconds, down],
      [endSeconds + 0.5, 0],
    ];
  });
  const sorted = line.filter(([at], i) => i === 0 || at > line[i - 1]![0]);
  return {
    id: "tame",
    title: `Lower ${broken.length === 1 ? formatTime(broken[0]!.startSeconds, 1) : `${broken.length} places`} by ${formatDb(-down)} dB`,
    entries: [{ ...newChainEntry("leveller", ""), line: sorted, amountPercent: 100 }],
  };
}

function rangeWanted({ spec, figures }: RemedyContext, prediction: Prediction): number[] {
  const limit = spec.limits.find(({ figure, scope }) => figure === "loudnessRangeLu" && scope !== "album")?.max;
  const range = figures.loudnessRangeLu ?? 0;
  if (limit !== undefined && (prediction.figures.loudnessRangeLu ?? 0) > limit) return [limit - 0.3];
  return prediction.limitingDb > AUDIBLE_LIMITING_DB ? [range * 0.75, range * 0.5].filter((most) => most > 3) : [];
}

/** Gain and limiter for specs that leave the level alone. */
function levelIdeas({ figures }: RemedyContext, verdict: Verdict): Idea[] {
  const peak = verdict.limits.find(
    ({ limit, status }) => (limit.figure === "truePeakDbtp" || limit.figure === "samplePeakDbfs") && status === "fail",
  );
  if (!peak || peak.limit.max === undefined) return [];
  const ceilingDbtp = Number((peak.limit.max - 0.1).toFixed(1));
  const over = Math.max(0, (figures.truePeakDbtp ?? 0) - ceilingDbtp);
  return [
    {
      id: "limit",
      title: `Limit at ${formatDb(ceilingDbtp)} dBTP`,
      entries: [{ ...newChainEntry("limiter", ""), ceilingDbtp }],
    },
    {
      id: "lower",
      title: `Lower the whole by ${formatDb(over)} dB`,
      entries: [{ ...newChainEntry("gain", ""), gainDb: -Number((over + 0.05).toFixed(1)) }],
    },
  ];
}

/** The format that the spec asks for. */
function formatIdeas({ spec, format, figures, layout }: RemedyContext): Idea[] {
  const fileRequirements = spec.fileRequirements;
  if (!fileRequirements) return [];
  const wanted: MasterFormat = { ...format };
  const { containers, sampleRates, depths, minBitrateKbps, constantBitrate, layouts } = fileRequirements;
  if (containers && !containers.includes(wanted.container)) wanted.container = containers[0]!;
  const rate = wanted.sampleRate ?? figures.sampleRate;
  if (sampleRates && !sampleRates.includes(rate)) wanted.sampleRate = sampleRates[0]!;
  if (depths && !isLossy(wanted.container) && !depths.includes(wanted.bitDepth)) wanted.bitDepth = depths[0]!;
  if (minBitrateKbps !== undefined && isLossy(wanted.container) && wanted.bitrateKbps < minBitrateKbps)
    wanted.bitrateKbps =
      CONTAINER_ABOUT[wanted.container].bitrateKbps?.find((bitrateKbps) => bitrateKbps >= minBitrateKbps) ??
      minBitrateKbps;
  if (constantBitrate) wanted.variableBitrate = false;
  if (layouts && !layouts.includes(layout) && layouts.includes("stereo") && figures.channels > 2)
    wanted.channels = "stereo";
  if (JSON.stringify(wanted) === JSON.stringify(format)) return [];
  return [{ id: "format", title: `Deliver as ${formatWords(wanted)}`, format: wanted }];
}
