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

export type Parameter = NumberParameter | SwitchParameter | ChoiceParameter;
export type Setting = number | boolean | string;
export type Parameters = Record<string, Parameter>;

type SettingOf<P extends Parameter> = P extends SwitchParameter
  ? boolean
  : P extends ChoiceParameter
    ? P["options"][number]["value"]
    : number;

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
  return z.number().min(parameter.min).max(parameter.max).default(parameter.default);
}

/** A setting in words, for the history: "Gain −3 dB", "Invert polarity on". */
export function settingWords(parameter: Parameter | undefined, setting: Setting, name = ""): string {
  const label = parameter?.label ?? name;
  if (typeof setting === "boolean") return `${label} ${setting ? "on" : "off"}`;
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
  }
  return settings;
}

export const defaultsOf = (parameters: Parameters): Record<string, Setting> =>
  Object.fromEntries(Object.entries(parameters).map(([name, parameter]) => [name, parameter.default]));
