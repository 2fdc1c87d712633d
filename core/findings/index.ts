import type { SoughtEvents } from "../events/sought-events";
import type { Figures } from "../measure";
import type { DeliverySpec } from "../delivery/spec";
import { channels } from "./channels";
import { events } from "./events";
import type { Finder, Finding } from "./finding";
import { levels } from "./levels";
import { origins } from "./origins";
import { silences } from "./silences";

/** Every finder of what a recording's figures tell. A new one: its file, and a line here. */
const FINDERS: readonly Finder[] = [...channels, ...levels, ...silences, ...origins, events];

/** What is noticed in a recording, faults first. `spec` is the one in force, if any; `sought` what the search found. */
export const findingsOf = (
  figures: Figures,
  spec: DeliverySpec | null,
  sought: readonly SoughtEvents[] = [],
): Finding[] =>
  FINDERS.flatMap((finder) =>
    finder.find(figures, spec, sought).map((finding) => ({ kind: finder.kind, ...finding })),
  ).sort((a, b) => Number(b.severity === "fault") - Number(a.severity === "fault"));
