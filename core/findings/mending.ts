/** What mends a finding: the repair or processor with settings that fit what was found, or where it is done by hand. */
import type { SoughtEvents } from "../events/sought-events";
import { repairProposals } from "../delivery/repair-proposals";
import type { DeliverySpec } from "../delivery/spec";
import type { Figures } from "../measure";
import { newChainEntry, processorNamed, type ChainEntry } from "../processors";
import { newRepairStep, repairNamed, type RepairStep } from "../repair";
import type { Finding } from "./finding";

export type Mending =
  | { kind: "repair"; words: string; step: RepairStep }
  | { kind: "processor"; words: string; entry: ChainEntry }
  /** A list or a tool in Repair. */
  | { kind: "by hand"; words: string; view: "lists" | "time" };

/** Of findings that a proposal answers: which one. */
const PROPOSALS: Readonly<Record<string, string>> = { clipping: "clipping", hum: "hum", floor: "noise" };

const repair = (step: RepairStep): Mending => ({
  kind: "repair",
  words: `Mend with ${repairNamed(step.type).name}`,
  step,
});

/** `null` where nothing but another recording helps, or the choice is a person's. */
export function mendingOf(
  { kind, about }: Pick<Finding, "kind" | "about">,
  figures: Figures,
  spec: DeliverySpec | null,
  sought: readonly SoughtEvents[] = [],
): Mending | null {
  const proposed = (id: string): Mending | null => {
    const proposal = repairProposals(figures, spec, sought).find((one) => one.id === id);
    return proposal ? repair(proposal.strengths[proposal.suggested]!.step) : null;
  };
  if (PROPOSALS[kind]) return proposed(PROPOSALS[kind]);
  switch (kind) {
    case "channel": {
      const fault = figures.channelFaults.find(({ channel }) => channel === about);
      return fault ? proposed(`sides-${fault.kind}`) : null;
    }
    case "dc": {
      const entry = { ...newChainEntry("channels", ""), blockDc: true };
      return { kind: "processor", words: `Take it away with ${processorNamed("channels").name}`, entry };
    }
    case "events":
      if (about === "clicks" || about === "mouth-noise") return proposed(about) ?? repair(newRepairStep(about, ""));
      return { kind: "by hand", words: "Open the list of events", view: "lists" };
    case "digital-silence":
    case "long-ends":
      return about === null ? null : { kind: "by hand", words: "Cut the ends", view: "time" };
    default:
      return null;
  }
}
