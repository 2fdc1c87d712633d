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

export type Parameter = NumberParameter | SwitchParameter;
export type Parameters = Record<string, Parameter>;

type SettingOf<P extends Parameter> = P extends SwitchParameter ? boolean : number;

/** The settings that a set of parameters describes. */
export type SettingsOf<P extends Parameters> = { [K in keyof P]: SettingOf<P[K]> };

/** Zod shape of the parameters: every field checked against its range and optional, with its default. */
export function parameterShape(parameters: Parameters): Record<string, z.ZodType> {
  return Object.fromEntries(
    Object.entries(parameters).map(([name, parameter]) => {
      const schema =
        parameter.kind === "switch"
          ? z.boolean().default(parameter.default)
          : z.number().min(parameter.min).max(parameter.max).default(parameter.default);
      return [name, schema.describe(parameter.help)];
    }),
  );
}

export const defaultsOf = (parameters: Parameters): Record<string, number | boolean> =>
  Object.fromEntries(Object.entries(parameters).map(([name, parameter]) => [name, parameter.default]));
