import { PROCESSORS } from "@core/processors";
import type { Parameter, Parameters } from "@core/parameters/parameter";
import { REPAIRS } from "@core/repair";
import { print, printJson } from "./outcome";

interface Listed {
  id: string;
  name: string;
  help: string;
  parameters: Parameters;
}

export const listProcessors = (options: { json?: boolean }): void => list(PROCESSORS, options);
export const listRepairs = (options: { json?: boolean }): void => list(REPAIRS, options);

/** How a parameter is set, in words. */
function about(parameter: Parameter): string {
  if (parameter.kind === "switch") return `on or off, default ${parameter.default ? "on" : "off"}`;
  if (parameter.kind === "choice")
    return `${parameter.options.map(({ value }) => value).join(", ")}; default ${parameter.default}`;
  if (parameter.kind === "rows")
    return `a list of ${parameter.least} to ${parameter.most}, each ${Object.keys(parameter.columns).join(", ")}`;
  if (parameter.kind === "points")
    return `a list of [${parameter.x.unit}, ${parameter.y.unit}], at most ${parameter.most}`;
  return `${parameter.min} to ${parameter.max} ${parameter.unit}, default ${parameter.default}`;
}

function list(definitions: readonly Listed[], { json }: { json?: boolean }): void {
  if (json) return printJson(definitions.map(({ id, name, help, parameters }) => ({ id, name, help, parameters })));
  for (const { id, help, parameters } of definitions) {
    print(`${id.padEnd(12)}${help}`);
    for (const [name, parameter] of Object.entries(parameters))
      print(`  ${name.padEnd(18)}${parameter.help} (${about(parameter)})`);
  }
}
