import type { SoughtEvents } from "../events/sought-events";
import type { Figures } from "../measure";
import type { Seconds } from "../audio/units";
import type { DeliverySpec } from "../delivery/spec";

/** Something that was noticed: where, how bad, and what could be done. */
export interface Finding {
  /** Which finder; several findings of one kind differ by `about`. */
  kind: string;
  /** What it is about, if not the whole: a channel, a limit. */
  about: string | null;
  /** A note is of what belongs in a recording, and may be wanted or not. */
  severity: "fault" | "doubt" | "note";
  /** A few words: "R is dead". */
  title: string;
  /** The measured facts. */
  facts: string;
  advice: string;
  /** Where it can be seen; none for what is everywhere. */
  places: { seconds: Seconds; length: Seconds }[];
}

export interface Finder {
  kind: string;
  /** @param sought what was found in the background after intake */
  find(figures: Figures, spec: DeliverySpec | null, sought: readonly SoughtEvents[]): Omit<Finding, "kind">[];
}
