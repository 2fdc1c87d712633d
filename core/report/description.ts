/** A report as data: HTML and PDF are drawn from the same description, so that both say the same. */
import { formatDb, formatRate } from "../audio/format";
import { marginWords, STATUS_LABELS, type ComplianceStatus } from "../delivery/compliance";
import { limitWords, LIMITED_FIGURES, type DeliverySpec } from "../delivery/spec";
import { STATUS_OF_SEVERITY } from "../findings";
import { CHANNEL_COLUMNS, channelRows } from "./channels";
import { FIGURE_COLUMNS, figureWords, lengthWords } from "./columns";
import { entryStanding, type ReportEntry } from "./entry";
import { PLAIN_HEAD, type ReportHead } from "../project/report-head";
import type { Plot } from "./plot";
import { besidePlot, distributionPlot, loudnessPlot, responsePlot, spectrumPlot } from "./plots";

export type Tone = ComplianceStatus | "soft";

export interface Cell {
  text: string;
  tone?: Tone | undefined;
  /** Whether its tone's mark stands before it. */
  marked?: boolean;
}

export interface Column {
  label: string;
  /** Part of the width. */
  share: number;
  align?: "right";
}

export type Block =
  | { kind: "heading"; text: string; about: string; status: ComplianceStatus | null; words: string }
  | { kind: "subheading"; text: string }
  | { kind: "words"; text: string; tone?: Tone }
  | { kind: "points"; points: { title: string; tone: Tone; text: string }[] }
  | { kind: "table"; columns: Column[]; rows: Cell[][] }
  /** Names and values in two columns. */
  | { kind: "facts"; facts: (readonly [name: string, value: string])[] }
  /** Drawings beside one another. */
  | { kind: "plots"; height: number; plots: { words: string; draw: (width: number, height: number) => Plot }[] };

/** Blocks that begin a page of their own. */
export interface ReportSection {
  blocks: Block[];
}

export interface ReportDescription {
  title: string;
  head: ReportHead;
  /** Names and values at the head: client, engineer, date, what it was held against. */
  facts: (readonly [name: string, value: string])[];
  sections: ReportSection[];
}

export interface ReportOptions {
  title: string;
  head?: ReportHead | undefined;
  /** As it is to be read. */
  date: string;
  /** Whether the title names the one recording that it is of. */
  isNamed?: boolean;
}

export const MARKS: Readonly<Record<ComplianceStatus, string>> = { pass: "●", marginal: "◆", fail: "▲", unknown: "○" };

const STANDING_WORDS = {
  passes: "inside all limits",
  fails: "outside a limit",
  faults: "has faults",
  measured: "measured",
  unreadable: "could not be read",
} as const;

function statusOf(entry: ReportEntry): ComplianceStatus {
  const standing = entryStanding(entry);
  if (standing === "unreadable") return "unknown";
  if (standing === "fails" || standing === "faults") return "fail";
  return entry.verdict?.limits.some(({ status }) => status === "marginal") ? "marginal" : "pass";
}

/** Figures in the table of all. */
const OVERVIEW_COLUMNS = FIGURE_COLUMNS.slice(0, 6);

/** More are too narrow to be told apart. */
const MOST_BESIDE = 60;

function overview(entries: readonly ReportEntry[], spec: DeliverySpec | null): Block[] {
  const columns: Column[] = [
    { label: "No.", share: 0.05 },
    { label: "Result", share: 0.13 },
    { label: "Recording", share: 0.28 },
    ...OVERVIEW_COLUMNS.map(({ label, unit }): Column => ({ label: `${label}, ${unit}`, share: 0.09, align: "right" })),
  ];
  const rows = entries.map((entry, index): Cell[] => [
    { text: String(index + 1), tone: "soft" },
    { text: entryStanding(entry), tone: statusOf(entry), marked: true },
    { text: entry.name },
    ...OVERVIEW_COLUMNS.map((column) => ({
      text: entry.figures ? figureWords(column, entry.figures) : "",
      tone: entry.verdict?.limits.find(({ limit }) => limit.figure === column.limited)?.status,
    })),
  ]);
  const figures = entries.map((entry) => entry.figures);
  const beside: Block = {
    kind: "plots",
    height: 150,
    plots: [
      {
        words:
          "All beside one another: integrated loudness as a bar in ink, maximum short-term loudness grey, true peak as a line",
        draw: (width, height) => besidePlot(figures, spec?.limits ?? [], width, height),
      },
    ],
  };
  return [{ kind: "table", columns, rows }, ...(entries.length <= MOST_BESIDE ? [beside] : [])];
}

function limitsTable({ verdict }: ReportEntry): Block[] {
  if (!verdict) return [];
  const limits = verdict.limits.map(({ limit, value, status }): Cell[] => {
    const { name, unit } = LIMITED_FIGURES[limit.figure];
    return [
      { text: name },
      { text: `${formatDb(value, { digits: 2 })} ${unit}`, tone: status },
      { text: limitWords(limit) },
      { text: `${STATUS_LABELS[status]}, ${marginWords(limit, value)}`, tone: status, marked: true },
      { text: limit.clause, tone: "soft" },
    ];
  });
  const file = verdict.fileRequirements.map(({ what, value, wanted, met, clause }): Cell[] => {
    const tone = met ? "pass" : "fail";
    return [
      { text: what },
      { text: value, tone },
      { text: wanted },
      { text: met ? "as asked" : "not as asked", tone, marked: true },
      { text: clause, tone: "soft" },
    ];
  });
  const columns: Column[] = [
    { label: "Figure", share: 0.2 },
    { label: "Measured", share: 0.15, align: "right" },
    { label: "Limit", share: 0.19 },
    { label: "Margin", share: 0.21 },
    { label: "Clause", share: 0.25 },
  ];
  return [{ kind: "table", columns, rows: [...limits, ...file] }];
}

/** Figures that no limit is set on. */
function otherFigures({ figures, verdict }: ReportEntry): Block[] {
  const limited = new Set(verdict?.limits.map(({ limit }) => limit.figure as string));
  const facts = FIGURE_COLUMNS.filter((column) => !column.limited || !limited.has(column.limited)).map(
    (column): [string, string] => {
      const words = figureWords(column, figures!);
      return [column.name, words === "—" ? words : `${words} ${column.unit}`.trim()];
    },
  );
  return [
    { kind: "subheading", text: "Other figures" },
    { kind: "facts", facts },
  ];
}

function channelsTable({ figures }: ReportEntry): Block[] {
  const channels = channelRows(figures!);
  if (channels.length <= 2) return [];
  const columns: Column[] = [
    { label: "Channel", share: 0.2 },
    ...CHANNEL_COLUMNS.map((label): Column => ({ label, share: 0.2, align: "right" })),
  ];
  const rows = channels.map(({ label, cells }) => [{ text: label }, ...cells.map((text) => ({ text }))]);
  return [
    { kind: "subheading", text: "Channels" },
    { kind: "table", columns, rows },
  ];
}

function workTable({ work = [] }: ReportEntry): Block[] {
  if (work.length === 0) return [];
  const columns: Column[] = [
    { label: "Step", share: 0.12 },
    { label: "What", share: 0.23 },
    { label: "Settings", share: 0.65 },
  ];
  const rows = work.map(({ part, name, settings }): Cell[] => [
    { text: part, tone: "soft" },
    { text: name },
    { text: settings },
  ]);
  return [
    { kind: "subheading", text: "What was done" },
    { kind: "table", columns, rows },
  ];
}

function curves({ drawings, response = [] }: ReportEntry, spec: DeliverySpec | null): Block[] {
  if (!drawings) return [];
  const limits = spec?.limits ?? [];
  return [
    {
      kind: "plots",
      height: 120,
      plots: [
        {
          words: "Loudness over time, LUFS: short-term in ink, momentary grey, the target as a band",
          draw: (width, height) => loudnessPlot(drawings, limits, width, height),
        },
      ],
    },
    {
      kind: "plots",
      height: 100,
      plots: [
        {
          words: "Long-term spectrum, dBFS: average in ink, peak grey",
          draw: (width, height) => spectrumPlot(drawings, width, height),
        },
        {
          words: "Share of the time at each short-term loudness",
          draw: (width, height) => distributionPlot(drawings, width, height),
        },
      ],
    },
    ...(response.length > 0
      ? [
          {
            kind: "plots" as const,
            height: 90,
            plots: [
              {
                words: "Equalisers and filters of the chain together, dB; of one side or middle dashed",
                draw: (width: number, height: number) => responsePlot(response, width, height),
              },
            ],
          },
        ]
      : []),
  ];
}

/** @param isAlone whether the report is of nothing else: its title names it */
function entrySection(entry: ReportEntry, spec: DeliverySpec | null, isAlone: boolean): ReportSection {
  const { name, problem, figures, findings, warnings, facts = [] } = entry;
  const standing = entryStanding(entry);
  const status = statusOf(entry);
  const words = status === "marginal" ? "inside all limits, close to one" : STANDING_WORDS[standing];
  const heading = { kind: "heading" as const, text: isAlone ? "" : name, status, words };
  if (!figures)
    return {
      blocks: [
        { ...heading, about: "" },
        { kind: "words", text: problem ?? "", tone: "fail" },
      ],
    };
  const about = `${lengthWords(figures)} · ${formatRate(figures.sampleRate)} · ${figures.layout}`;
  const points = findings.map(({ severity, title, facts: found, advice }) => ({
    title,
    tone: STATUS_OF_SEVERITY[severity],
    text: `${found} ${advice}`,
  }));
  return {
    blocks: [
      { ...heading, about },
      ...limitsTable(entry),
      ...warnings.map((text): Block => ({ kind: "words", text, tone: "marginal" })),
      ...curves(entry, spec),
      ...otherFigures(entry),
      ...workTable(entry),
      ...channelsTable(entry),
      ...(points.length > 0
        ? [
            { kind: "subheading" as const, text: "Noticed" },
            { kind: "points" as const, points },
          ]
        : []),
      ...(facts.length > 0
        ? [
            { kind: "subheading" as const, text: "File" },
            { kind: "facts" as const, facts },
          ]
        : []),
    ],
  };
}

function headFacts(
  entries: readonly ReportEntry[],
  spec: DeliverySpec | null,
  { head = PLAIN_HEAD, date }: ReportOptions,
): ReportDescription["facts"] {
  const passed = entries.filter((entry) => entryStanding(entry) === "passes").length;
  const one = entries.length === 1;
  const result = spec ? (one ? [] : [["Result", `${passed} of ${entries.length} inside all limits`] as const]) : [];
  const held = spec ? [...new Set([spec.name, spec.source, spec.edition])].filter(Boolean).join(", ") : "nothing";
  return [
    ...(head.client ? [["Client", head.client] as const] : []),
    ...(head.engineer ? [["Engineer", head.engineer] as const] : []),
    ["Date", date],
    ["Held against", held],
    ...result,
    ["Measured by", "ITU-R BS.1770-5, EBU Tech 3341 and 3342"],
  ];
}

/** What a report of recordings says: a table of all where there are several, then a section for each. */
export function describeReport(
  entries: readonly ReportEntry[],
  spec: DeliverySpec | null,
  options: ReportOptions,
): ReportDescription {
  const sections = entries.map((entry) => entrySection(entry, spec, entries.length === 1 && options.isNamed === true));
  return {
    title: options.title,
    head: options.head ?? PLAIN_HEAD,
    facts: headFacts(entries, spec, options),
    sections: entries.length === 1 ? sections : [{ blocks: overview(entries, spec) }, ...sections],
  };
}
