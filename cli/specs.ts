import { SPECS } from "@core/delivery/specs";
import { print, printJson } from "./outcome";

/** `resonum specs`. */
export function listSpecs({ json }: { json?: boolean }): void {
  if (json) return printJson(SPECS);
  for (const spec of SPECS) print(`${spec.id.padEnd(20)}${spec.name.padEnd(24)}${spec.source}, ${spec.edition}`);
}
