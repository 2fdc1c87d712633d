import * as z from "zod";

/** A number that a person sets: its range, step and unit are what form, help, CLI and validation show and enforce. */
export interface NumberParameter {
  kind: "number";
  label: string;
  help: string;
  unit: string;
  min: number;
  max: number;
  step: number;
  scale: "linear" | "log";
  default: number;
}

export interface SwitchParameter {
  kind: "switch";
  label: string;
  help: string;
  default: boolean;
}

/** One of a few ways. */
export interface ChoiceParameter {
  kind: "choice";
  label: string;
  help: string;
  options: readonly { value: string; label: string }[];
  default: string;
}

type PlainParameter = NumberParameter | SwitchParameter | ChoiceParameter;
/** One line of a list, by the names of its columns. */
export type Row = Record<string, number | boolean | string>;

/** A list of things of one kind: the bands of an equaliser. */
export interface RowsParameter {
  kind: "rows";
  label: string;
  help: string;
  /** One of them: "band". */
  one: string;
  columns: Record<string, PlainParameter>;
  least: number;
  most: number;
  default: readonly Row[];
}

/** A line through points, x rising: gain over time, or over frequency. */
export type Breakpoint = readonly [x: number, y: number];

export interface Axis {
  unit: string;
  min: number;
  max: number;
}

export interface BreakpointsParameter {
  kind: "points";
  label: string;
  help: string;
  x: Axis;
  y: Axis;
  most: number;
  default: readonly Breakpoint[];
}

export type Parameter = PlainParameter | RowsParameter | BreakpointsParameter;
export type Setting = number | boolean | string | readonly Row[] | readonly Breakpoint[];
export type Parameters = Record<string, Parameter>;

type PlainSettingOf<P> = P extends SwitchParameter
  ? boolean
  : P extends ChoiceParameter
    ? P["options"][number]["value"]
    : number;

type SettingOf<P extends Parameter> = P extends RowsParameter
  ? readonly { [K in keyof P["columns"]]: PlainSettingOf<P["columns"][K]> }[]
  : P extends BreakpointsParameter
    ? readonly Breakpoint[]
    : PlainSettingOf<P>;

/** A setting as it comes from outside, before the definition has checked it. */
export const settingSchema: z.ZodType<Setting> = z.union([
  z.number(),
  z.boolean(),
  z.string().max(40),
  z.array(z.record(z.string().max(40), z.union([z.number(), z.boolean(), z.string().max(40)]))).max(64),
  z.array(z.tuple([z.number(), z.number()])).max(20_000),
]);

/** The settings that a set of parameters describes. */
export type SettingsOf<P extends Parameters> = { [K in keyof P]: SettingOf<P[K]> };

/** Zod shape of the parameters: every field checked against its range and optional, with its default. */
export const parameterShape = (parameters: Parameters): Record<string, z.ZodType> =>
  Object.fromEntries(
    Object.entries(parameters).map(([name, parameter]) => [name, schemaOf(parameter).describe(parameter.help)]),
  );

function schemaOf(parameter: Parameter): z.ZodType {
  if (parameter.kind === "switch") return z.boolean().default(parameter.default);
  if (parameter.kind === "choice")
    return z.enum(parameter.options.map(({ value }) => value)).default(parameter.default);
  if (parameter.kind === "rows")
    return z
      .array(z.strictObject(parameterShape(parameter.columns)))
      .min(parameter.least)
      .max(parameter.most)
      .default(parameter.default as Row[]);
  if (parameter.kind === "points") {
    const { x, y } = parameter;
    return z
      .array(z.tuple([z.number().min(x.min).max(x.max), z.number().min(y.min).max(y.max)]))
      .max(parameter.most)
      .refine(
        (points) => points.every(([at], i) => i === 0 || at > points[i - 1]![0]),
        "points must follow one another",
      )
      .default(parameter.default as [number, number][]);
  }
  return z.number().min(parameter.min).max(parameter.max).default(parameter.default);
}

/** A setting in words, for the history: "Gain −3 dB", "Invert polarity on". */
export function settingWords(parameter: Parameter | undefined, setting: Setting, name = ""): string {
  const label = parameter?.label ?? name;
  if (typeof setting === "boolean") return `${label} ${setting ? "on" : "off"}`;
  if (typeof setting === "object") return `Change ${label.toLowerCase()}`;
  if (parameter?.kind === "choice")
    return `${label} ${parameter.options.find(({ value }) => value === setting)?.label ?? setting}`;
  const unit = parameter?.kind === "number" ? ` ${parameter.unit}` : "";
  return `${label} ${String(setting).replace("-", "−")}${unit}`.trim();
}

/** Settings out of a flat entry, with defaults for what it does not name. */
export function settingsFrom(entry: Record<string, unknown>, parameters: Parameters): SettingsOf<Parameters> {
  const settings = defaultsOf(parameters);
  for (const name of Object.keys(parameters)) {
    const set = entry[name];
    if (typeof set === "number" || typeof set === "boolean" || typeof set === "string") settings[name] = set;
    else if (Array.isArray(set)) settings[name] = set as Row[] | Breakpoint[];
  }
  return settings;
}

export const defaultsOf = (parameters: Parameters): Record<string, Setting> =>
  Object.fromEntries(Object.entries(parameters).map(([name, parameter]) => [name, parameter.default]));

type Range = Pick<NumberParameter, "unit" | "min" | "max" | "step" | "default"> & { scale?: "linear" | "log" };

/** A number to set, linear unless it says otherwise. */
export const number = (label: string, help: string, { scale = "linear", ...range }: Range): NumberParameter => ({
  kind: "number",
  label,
  help,
  scale,
  ...range,
});

export const onOff = (label: string, help: string, on = false): SwitchParameter => ({
  kind: "switch",
  label,
  help,
  default: on,
});

/** One of a few ways, the first unless it says otherwise. Shape of `options`: value: words. */
export function choice<const Value extends string>(
  label: string,
  help: string,
  options: Record<Value, string>,
  chosen?: NoInfer<Value>,
): ChoiceParameter & { options: readonly { value: Value; label: string }[] } {
  const values = Object.keys(options) as Value[];
  return {
    kind: "choice",
    label,
    help,
    options: values.map((value) => ({ value, label: options[value] })),
    default: chosen ?? values[0]!,
  };
}
