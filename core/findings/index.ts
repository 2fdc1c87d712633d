import type { SoughtEvents } from "../events/sought-events";
import type { Figures } from "../measure";
import type { ComplianceStatus } from "../delivery/compliance";
import type { DeliverySpec } from "../delivery/spec";
import { channels } from "./channels";
import { events } from "./events";
import type { Finder, Finding } from "./finding";
import { levels } from "./levels";
import { origins } from "./origins";
import { silences } from "./silences";

/** Every finder of what a recording's figures tell. A new one: its file, and a line here. */
const FINDERS: readonly Finder[] = [...channels, ...levels, ...silences, ...origins, events];

const SEVERITIES: readonly Finding["severity"][] = ["fault", "doubt", "note"];

/** How findings stand, as the worst of them. */
export const STATUS_OF_SEVERITY: Readonly<Record<Finding["severity"], ComplianceStatus>> = {
  fault: "fail",
  doubt: "marginal",
  note: "unknown",
};

/** What is noticed in a recording, faults first. `spec` is the one in force, if any; `sought` what the search found. */
export const findingsOf = (
  figures: Figures,
  spec: DeliverySpec | null,
  sought: readonly SoughtEvents[] = [],
): Finding[] =>
  FINDERS.flatMap((finder) =>
    finder.find(figures, spec, sought).map((finding) => ({ kind: finder.kind, ...finding })),
  ).sort((a, b) => SEVERITIES.indexOf(a.severity) - SEVERITIES.indexOf(b.severity));
