/** What was done to a master, in the order of the signal, and what its equalisers and filters do together. */
import { formatDb, formatTime } from "../audio/format";
import { powerToDb } from "../audio/decibel";
import type { Decibels, Hertz } from "../audio/units";
import type { MasterResult } from "../delivery/master-job";
import type { Recipe } from "../delivery/recipe";
import type { Clip } from "../edit-list/clip";
import { powerAt, type AnalogueBiquad } from "../dsp/analogue-filter";
import { processorNamed, settingsOf, type ChainEntry } from "../processors";
import { biquadsOfBand, type EqualiserBand } from "../processors/equaliser";
import { repairNamed, repairSettings } from "../repair";

export interface WorkStep {
  part: "repair" | "edit" | "chain" | "delivery";
  name: string;
  settings: string;
}

function editsOf(clips: readonly Clip[] | null): WorkStep[] {
  const count = clips?.filter(({ kind }) => kind === "recording").length ?? 0;
  if (count === 0) return [];
  return [
    { part: "edit", name: "Cuts", settings: count === 1 ? "one stretch of the recording" : `${count} stretches` },
  ];
}

function regionsOf({ regions }: Recipe["repairs"][number]): string {
  return regions.length === 0 ? "" : `, in ${regions.length} ${regions.length === 1 ? "region" : "regions"}`;
}

/** @param clips of an item that was cut; `null` where all of the recording is used */
export function workDone(
  { repairs, chain, format }: Recipe,
  clips: readonly Clip[] | null,
  { gainDb, limiterCeilingDbtp, limitingDb, levelling, dithered }: Omit<MasterResult, "curves">,
): WorkStep[] {
  const active = repairs.filter(({ enabled }) => enabled);
  return [
    ...active.map((step): WorkStep => {
      const definition = repairNamed(step.type);
      const summary = definition.summary(repairSettings(step), step.learned);
      return { part: "repair", name: definition.name, settings: `${summary}${regionsOf(step)}` };
    }),
    ...editsOf(clips),
    ...chain
      .filter(({ bypass }) => !bypass)
      .map((entry): WorkStep => {
        const { name, summary } = processorNamed(entry.type);
        return { part: "chain", name, settings: `${summary(settingsOf(entry))}${movesWords(entry)}` };
      }),
    ...(levelling
      ? [{ part: "delivery" as const, name: "Level riding", settings: "so that the loudness range fits" }]
      : []),
    { part: "delivery", name: "Gain", settings: `${formatDb(gainDb, { sign: true, digits: 2 })} dB` },
    {
      part: "delivery",
      name: "True-peak limiter",
      settings:
        limiterCeilingDbtp === null
          ? "not needed"
          : `ceiling ${formatDb(limiterCeilingDbtp, { digits: 2 })} dBTP, reduces by ${formatDb(limitingDb)} dB at most`,
    },
    { part: "delivery", name: "Dither", settings: dithered ? format.dither : "none" },
  ];
}

function movesWords({ automation }: ChainEntry): string {
  const lines = Object.values(automation ?? {});
  if (lines.length === 0) return "";
  const last = Math.max(...lines.flatMap((line) => line.map(([seconds]) => seconds)));
  return `, automated to ${formatTime(last)}`;
}

/** A magnitude response: of all channels, or of one side of a stereo signal. */
export interface Response {
  sides: string;
  points: [hertz: Hertz, db: Decibels][];
}

const POINTS = 160;
const [LOWEST, HIGHEST]: [Hertz, Hertz] = [20, 20_000];
const HERTZ = Array.from({ length: POINTS }, (_, i) => LOWEST * (HIGHEST / LOWEST) ** (i / (POINTS - 1)));

function sectionsOf(entry: ChainEntry): { sides: string; sections: AnalogueBiquad[] }[] {
  const settings = settingsOf(entry);
  const side = (settings as { sides?: string }).sides ?? "all";
  const { visualiser } = processorNamed(entry.type);
  if (visualiser?.kind === "response") return [{ sides: side, sections: [...visualiser.sections(settings)] }];
  if (entry.type !== "equaliser") return [];
  const { bands } = settings as unknown as { bands: EqualiserBand[] };
  return bands.filter(({ on }) => on).map((band) => ({ sides: band.sides, sections: biquadsOfBand(band) }));
}

/** What equalisers and filters do together, by sides; nothing where there are none. */
export function responseOf(chain: readonly ChainEntry[]): Response[] {
  const bySides = new Map<string, AnalogueBiquad[]>();
  for (const { sides, sections } of chain.filter(({ bypass }) => !bypass).flatMap(sectionsOf))
    bySides.set(sides, [...(bySides.get(sides) ?? []), ...sections]);
  return [...bySides].map(([sides, sections]) => ({
    sides,
    points: HERTZ.map((hertz) => [
      hertz,
      powerToDb(sections.reduce((product, section) => product * powerAt(section, hertz), 1)),
    ]),
  }));
}
