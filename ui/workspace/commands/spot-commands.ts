import { newRepairStep, type RepairStep } from "@core/repair";
import { regionsOfSelection } from "@ui/stages/repair/where";
import { hearEdit } from "../cutting";
import type { ItemFacts } from "../in-hand";
import { newId } from "../use-project";
import { desk, withFacts, type CommandContext, type DeskCommand } from "./command";

/** Gain goes down and up by this, a key at a time. */
const STEP_DB = 1.5;

/** Repairs of what is selected, at once: its level in steps, silence, and replacing it from around. */
export function spotCommands(context: CommandContext): DeskCommand[] {
  const group = "Editing";
  const treat = (
    facts: ItemFacts,
    type: string,
    change: (same: RepairStep | undefined) => Partial<RepairStep>,
    what: string,
  ) => {
    const { selection } = desk();
    if (!selection) return;
    const where = regionsOfSelection(facts);
    const same = facts.item.repairs.find(
      (one) => one.type === type && JSON.stringify(one.where) === JSON.stringify(where),
    );
    const step: RepairStep = { ...(same ?? newRepairStep(type, newId())), where, ...change(same) };
    void context.edit(
      same
        ? { type: "setRepair", item: facts.item.id, step, what }
        : { type: "addRepairs", item: facts.item.id, steps: [step] },
    );
    hearEdit(facts, selection.start, selection.end - selection.start);
  };
  const gain = (by: number) =>
    withFacts(context, (facts) =>
      treat(
        facts,
        "level",
        (same) => ({ gainDb: Math.max(-100, Math.min(24, Number(same?.gainDb ?? 0) + by)) }),
        `${by > 0 ? "up" : "down"} by ${STEP_DB} dB`,
      ),
    );
  return [
    { id: "gain-down", group, words: `Selection ${STEP_DB} dB down`, keys: "shift+arrowdown", run: gain(-STEP_DB) },
    { id: "gain-up", group, words: `Selection ${STEP_DB} dB up`, keys: "shift+arrowup", run: gain(STEP_DB) },
    {
      id: "silence",
      group,
      words: "Silence the selection, or its band",
      keys: "shift+backspace",
      run: withFacts(context, (facts) => treat(facts, "level", () => ({ gainDb: -100 }), "silence")),
    },
    {
      id: "replace",
      group,
      words: "Replace the selection from around",
      keys: "shift+f",
      run: withFacts(context, (facts) => treat(facts, "replace", () => ({}), "anew")),
    },
  ];
}
