import * as z from "zod";
import type { SoughtEvents } from "../events/sought-events";
import type { Figures } from "../measure";
import type { DeliverySpec } from "../delivery/spec";

/** Something that was noticed: where, how bad, and what could be done. */
export const findingSchema = z.object({
  kind: z.string().describe("Which finder; several findings of one kind differ by what they are about."),
  about: z.string().nullable().describe("What it is about, if not the whole: a channel, a limit."),
  severity: z
    .enum(["fault", "doubt", "note"])
    .describe("A note is of what belongs in a recording, and may be wanted or not."),
  title: z.string().describe("A few words: “R is dead”."),
  facts: z.string().describe("The measured facts."),
  advice: z.string(),
  places: z
    .array(z.object({ seconds: z.number(), length: z.number() }))
    .describe("Where it can be seen; none for what is everywhere."),
});
export type Finding = z.infer<typeof findingSchema>;

export interface Finder {
  kind: string;
  /** @param sought what was found in the background after intake */
  find(figures: Figures, spec: DeliverySpec | null, sought: readonly SoughtEvents[]): Omit<Finding, "kind">[];
}
