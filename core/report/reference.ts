/** Reference pages as Markdown, made from the definitions: processors, repairs, measurements, specifications. */
import { formatRate } from "../audio/format";
import { SPECS } from "../delivery/specs";
import { ANCHORS, LIMITED_FIGURES, type DeliverySpec, type Limit } from "../delivery/spec";
import { MEASUREMENTS } from "../measure";
import type { Parameter, Parameters } from "../parameters/parameter";
import { PROCESSORS } from "../processors";
import { groupNamed } from "../processors/groups";
import { REPAIRS } from "../repair";

export interface ReferencePage {
  /** File name below `docs/reference`. */
  file: string;
  text: string;
}

const cell = (text: string): string => text.replaceAll("|", "\\|").replaceAll("\n", " ");

/** A Markdown table, aligned as the formatter of the house aligns it. */
function table(head: readonly string[], rows: readonly (readonly string[])[]): string {
  const all = [head, ...rows].map((row) => row.map(cell));
  const widths = head.map((_, column) => Math.max(3, ...all.map((row) => row[column]!.length)));
  const line = (row: readonly string[]) => `| ${row.map((text, column) => text.padEnd(widths[column]!)).join(" | ")} |`;
  const [first, ...others] = all.map(line);
  return [first, `| ${widths.map((width) => "-".repeat(width)).join(" | ")} |`, ...others].join("\n");
}

const signed = (value: number): string => String(value).replace("-", "−");

function rangeOf(parameter: Parameter): string {
  switch (parameter.kind) {
    case "number":
      return `${signed(parameter.min)} to ${signed(parameter.max)} ${parameter.unit}`.trim();
    case "switch":
      return "on, off";
    case "choice":
      return parameter.options.map(({ label }) => label).join(", ");
    case "rows":
      return `${parameter.least} to ${parameter.most} of: ${Object.keys(parameter.columns).join(", ")}`;
    case "points":
      return `points: ${parameter.x.unit} → ${parameter.y.unit}`;
  }
}

function defaultOf(parameter: Parameter): string {
  switch (parameter.kind) {
    case "number":
      return `${signed(parameter.default)} ${parameter.unit}`.trim();
    case "switch":
      return parameter.default ? "on" : "off";
    case "choice":
      return parameter.options.find(({ value }) => value === parameter.default)?.label ?? parameter.default;
    default:
      return `${parameter.default.length}`;
  }
}

/** Parameters of rows stand below their list: "bands.hertz". */
const parameterRows = (parameters: Parameters, before = ""): string[][] =>
  Object.entries(parameters).flatMap(([name, parameter]) => [
    [`\`${before}${name}\``, parameter.label, rangeOf(parameter), defaultOf(parameter), parameter.help],
    ...(parameter.kind === "rows" ? parameterRows(parameter.columns, `${name}.`) : []),
  ]);

const parameterTable = (parameters: Parameters): string =>
  table(["name", "label", "range", "default", "what it does"], parameterRows(parameters));

const page = (file: string, title: string, about: string, sections: readonly string[]): ReferencePage => ({
  file,
  text: `${[`# ${title}`, `Made by \`npm run reference\` from the definitions. ${about}`, ...sections].join("\n\n")}\n`,
});

const processors = (): ReferencePage =>
  page(
    "processors.md",
    "Processors",
    "`id` and parameter names are those of recipes and of the command line.",
    PROCESSORS.map(({ id, name, help, group, parameters, presets, automatable }) =>
      [
        `## ${name}`,
        `\`${id}\`, ${groupNamed(group).name.toLowerCase()}. ${help}.`,
        parameterTable(parameters),
        ...(automatable?.length ? [`Can be automated: ${automatable.map((one) => `\`${one}\``).join(", ")}.`] : []),
        ...(presets.length
          ? [`Presets: ${presets.map((preset) => `_${preset.name}_ (${preset.use})`).join(", ")}.`]
          : []),
      ].join("\n\n"),
    ),
  );

const repairs = (): ReferencePage =>
  page(
    "repairs.md",
    "Repairs",
    "Each works on the whole item or on regions in time and frequency.",
    REPAIRS.map(({ id, name, help, parameters, learned }) =>
      [
        `## ${name}`,
        `\`${id}\`. ${help}.${learned ? " Learns or lists what it works on (`learned`)." : ""}`,
        parameterTable(parameters),
      ].join("\n\n"),
    ),
  );

const measurements = (): ReferencePage =>
  page("measurements.md", "Measurements", "Each names the clause that defines its figures.", [
    table(
      ["id", "what it tells", "source"],
      MEASUREMENTS.map(({ id, help, source }) => [`\`${id}\``, help, source]),
    ),
  ]);

function limitWords({ figure, min, max, scope, required }: Limit): string {
  const { label, unit } = LIMITED_FIGURES[figure];
  const range = [min === undefined ? "" : `≥ ${signed(min)}`, max === undefined ? "" : `≤ ${signed(max)}`];
  const whose = scope === "channel" ? ", each channel" : scope === "album" ? ", the whole order" : "";
  return `${label} ${range.filter(Boolean).join(" and ")} ${unit}${whose}${required ? "" : " (advice)"}`;
}

function requirementWords({ fileRequirements }: DeliverySpec): string {
  if (!fileRequirements) return "";
  const { sampleRates, depths, containers, minBitrateKbps, layouts } = fileRequirements;
  return [
    sampleRates?.map(formatRate).join(" or "),
    depths && `${depths.join(" or ")} bit`,
    containers?.join(" or "),
    layouts?.join(" or "),
    minBitrateKbps && `≥ ${minBitrateKbps} kbit/s`,
  ]
    .filter(Boolean)
    .join(", ");
}

const specifications = (): ReferencePage =>
  page(
    "specifications.md",
    "Delivery specifications",
    "Own ones are kept with a project or read from JSON.",
    SPECS.map((spec) => {
      const { id, name, help, source, edition, target, anchor, ceilingDbtp, limits } = spec;
      const aim =
        target === null ? "level kept" : `${signed(target)} ${ANCHORS[anchor].unit}, ${ANCHORS[anchor].label}`;
      const file = requirementWords(spec);
      return [
        `## ${name}`,
        `\`${id}\`. ${help}. ${source}, ${edition}.`,
        [
          `- target: ${aim}; ceiling ${signed(ceilingDbtp)} dBTP`,
          ...limits.map((limit) => `- ${limitWords(limit)}: ${limit.clause}`),
          ...(file ? [`- file: ${file}`] : []),
        ].join("\n"),
      ].join("\n\n");
    }),
  );

/** All pages that come from definitions of the core. */
export const referencePages = (): ReferencePage[] => [processors(), repairs(), measurements(), specifications()];
