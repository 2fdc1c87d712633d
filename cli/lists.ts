import { PROCESSORS } from "@core/process";
import { SPECS } from "@core/spec";
import { print, printJson } from "./outcome";

export function listSpecs({ json }: { json?: boolean }): void {
  if (json) return printJson(SPECS);
  for (const spec of SPECS) print(`${spec.id.padEnd(20)}${spec.name.padEnd(24)}${spec.source}, ${spec.edition}`);
}

export function listProcessors({ json }: { json?: boolean }): void {
  if (json) return printJson(PROCESSORS.map(({ id, name, help, parameters }) => ({ id, name, help, parameters })));
  for (const { id, help, parameters } of PROCESSORS) {
    print(`${id.padEnd(12)}${help}`);
    for (const [name, parameter] of Object.entries(parameters)) {
      const about =
        parameter.kind === "number"
          ? `${parameter.min} to ${parameter.max} ${parameter.unit}, default ${parameter.default}`
          : `on or off, default ${parameter.default ? "on" : "off"}`;
      print(`  ${name.padEnd(16)}${parameter.help} (${about})`);
    }
  }
}
