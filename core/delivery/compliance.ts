import * as z from "zod";
import { checkFile, requirementVerdictSchema, type FileFacts, type RequirementVerdict } from "./file-requirements";
import type { Figures } from "../measure";
import { formatDb, formatTime } from "../audio/format";
import { LIMITED_FIGURES, limitSchema, type DeliverySpec, type Limit, type LimitedFigure } from "./spec";

export const COMPLIANCE_STATUSES = ["pass", "marginal", "fail", "unknown"] as const;
export type ComplianceStatus = (typeof COMPLIANCE_STATUSES)[number];

/** As a person reads it. */
export const STATUS_LABELS: Readonly<Record<ComplianceStatus, string>> = {
  pass: "inside",
  marginal: "close",
  fail: "outside",
  unknown: "not known yet",
};

const statusSchema = z.enum(COMPLIANCE_STATUSES);

/** One limit of a spec against one measured value. */
const limitVerdictSchema = z.object({
  limit: limitSchema,
  value: z.number().nullable(),
  margin: z.number().nullable().describe("Signed distance to the nearest limit; + is inside."),
  status: statusSchema,
  channel: z.number().int().optional().describe("The worst one, where the limit is one of each channel."),
});
export type LimitVerdict = z.infer<typeof limitVerdictSchema>;

export const verdictSchema = z
  .object({
    specId: z.string(),
    pass: z.boolean().describe("Whether every hard limit is met."),
    status: statusSchema,
    limits: z.array(limitVerdictSchema),
    fileRequirements: z
      .array(requirementVerdictSchema)
      .describe("What the specification asks of the file; empty where the file is not known."),
  })
  .meta({ id: "Verdict" });
export type Verdict = z.infer<typeof verdictSchema>;

export type LimitedFigures = Partial<Record<LimitedFigure, number | null>> &
  Partial<Pick<Figures, "samplePeakPerChannelDbfs" | "rmsPerChannelDbfs" | "truePeakPerChannelDbtp">>;

/** Distance from `value` to the nearer end of the permitted range, + inside. */
export function marginOf(limit: Pick<Limit, "min" | "max">, value: number): number {
  return Math.min(
    limit.max === undefined ? Infinity : limit.max - value,
    limit.min === undefined ? Infinity : value - limit.min,
  );
}

/** One limit against one value; `undefined` was not measured, `null` is silence, or could not be told. */
export function checkLimit(limit: Limit, value: number | null | undefined, channel?: number): LimitVerdict {
  const of = channel === undefined ? { limit } : { limit, channel };
  if (value === undefined || (value === null && !LIMITED_FIGURES[limit.figure].silent))
    return { ...of, value: null, margin: null, status: "unknown" };
  if (value === null) {
    // Silence is −∞: under every maximum, and under every minimum too.
    const status = limit.min === undefined ? "pass" : "fail";
    return { ...of, value, margin: null, status };
  }
  const margin = marginOf(limit, value);
  return { ...of, value, margin, status: margin < 0 ? "fail" : margin < limit.marginalWithin ? "marginal" : "pass" };
}

type PerChannel = Partial<Record<LimitedFigure, readonly (number | null)[] | undefined>>;

const perChannel = (figures: LimitedFigures): PerChannel => ({
  samplePeakDbfs: figures.samplePeakPerChannelDbfs,
  rmsDbfs: figures.rmsPerChannelDbfs,
  truePeakDbtp: figures.truePeakPerChannelDbtp,
});

/** A limit of each channel: the verdict is that of the worst. */
function judgeChannels(limit: Limit, figures: LimitedFigures): LimitVerdict {
  const values = perChannel(figures)[limit.figure];
  if (!values) return checkLimit(limit, undefined);
  return values
    .map((value, channel) => checkLimit(limit, value, channel))
    .reduce((a, b) => ((b.margin ?? Infinity) < (a.margin ?? Infinity) ? b : a));
}

const RANK: Record<ComplianceStatus, number> = { pass: 0, unknown: 1, marginal: 2, fail: 3 };

export const worstStatus = (standings: readonly ComplianceStatus[]): ComplianceStatus =>
  standings.reduce((a, b) => (RANK[b] > RANK[a] ? b : a), "pass" as ComplianceStatus);

/** Holds figures against every limit of a spec, and a file against its demands. */
export function check(spec: DeliverySpec, figures: LimitedFigures, file?: FileFacts): Verdict {
  const limits = spec.limits
    .filter(({ scope }) => scope !== "album")
    .map((limit) =>
      limit.scope === "channel" ? judgeChannels(limit, figures) : checkLimit(limit, figures[limit.figure]),
    );
  return verdictOf(spec, limits, file ? checkFile(spec.fileRequirements, file) : [], figures);
}

const standingOfDemand = ({ met }: RequirementVerdict): ComplianceStatus => (met ? "pass" : "fail");

function verdictOf(
  spec: DeliverySpec,
  limits: LimitVerdict[],
  fileRequirements: RequirementVerdict[],
  figures: LimitedFigures,
): Verdict {
  const hard = limits.filter(({ limit }) => limit.required);
  const told = ({ limit, status }: LimitVerdict) =>
    status === "pass" || status === "marginal" || (status === "unknown" && figures[limit.figure] === null);
  return {
    specId: spec.id,
    pass: hard.every(told) && fileRequirements.every(({ met }) => met),
    status: worstStatus([
      ...hard.map(({ status }) => status),
      ...limits.filter(({ limit, status }) => !limit.required && status === "fail").map(() => "marginal" as const),
      ...fileRequirements.map(standingOfDemand),
    ]),
    limits,
    fileRequirements,
  };
}

/** What holds for a programme as a whole: one gain keeps the relations of its titles. */
const OF_THE_WHOLE: readonly LimitedFigure[] = [
  ...(["integratedLufs", "dialogueLufs", "shortTermMaxLufs", "momentaryMaxLufs"] as const),
  ...(["loudnessRangeLu", "durationSeconds"] as const),
];

/** What a file that is cut from a programme must hold by itself: all but what holds for the whole. */
export const partSpec = (spec: DeliverySpec): DeliverySpec => ({
  ...spec,
  limits: spec.limits.filter(({ figure }) => !OF_THE_WHOLE.includes(figure)),
});

/** What all items of a running order are together: the loudest for levels, the sum of lengths. */
export function albumFigures(items: readonly LimitedFigures[]): LimitedFigures {
  const names = Object.keys(LIMITED_FIGURES) as LimitedFigure[];
  const joined = names.flatMap((name): [LimitedFigure, number | null][] => {
    const values = items.map((item) => item[name]);
    if (values.length === 0 || values.some((value) => value === undefined)) return [];
    const known = values.filter((value): value is number => value !== null && value !== undefined);
    if (known.length === 0) return [[name, null]];
    return [[name, name === "durationSeconds" ? known.reduce((sum, v) => sum + v, 0) : Math.max(...known)]];
  });
  return Object.fromEntries(joined);
}

/** Holds a running order against the limits that a spec sets on it as a whole. */
export function checkAlbum(spec: DeliverySpec, items: readonly LimitedFigures[], layouts: readonly string[]): Verdict {
  const figures = albumFigures(items);
  const limits = spec.limits
    .filter(({ scope }) => scope === "album")
    .map((limit) => checkLimit(limit, figures[limit.figure]));
  const same = new Set(layouts);
  const fileRequirements: RequirementVerdict[] =
    spec.fileRequirements?.sameChannels && same.size > 0
      ? [
          {
            what: "Channels of all items",
            value: [...same].join(", "),
            wanted: "the same",
            met: same.size === 1,
            clause: spec.fileRequirements.clause,
          },
        ]
      : [];
  return verdictOf(spec, limits, fileRequirements, figures);
}

/** "0.4 dB to spare", "1.1 LU over", "2.0 LU under". */
export function marginWords(limit: Limit | undefined, value: number | null): string {
  if (!limit) return "no limit";
  if (value === null && !LIMITED_FIGURES[limit.figure].silent) return "not to be told";
  if (value === null) return limit.min === undefined ? "silent" : "silent, too low";
  const margin = marginOf(limit, value);
  const unit = LIMITED_FIGURES[limit.figure].marginUnit;
  if (margin >= 0 && limit.figure === "durationSeconds") return `${formatTime(margin)} to spare`;
  if (margin >= 0) return `${formatDb(margin)} ${unit} to spare`;
  const over = limit.max !== undefined && value > limit.max;
  // A miss is never rounded away: below a tenth, two digits are told.
  return `${formatDb(-margin, { digits: margin > -0.1 ? 2 : 1 })} ${unit} ${over ? "over" : "under"}`;
}
