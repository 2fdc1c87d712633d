import { newRepairStep, REPAIRS, type RepairStep } from "@core/repair";
import { regionsOfSelection } from "@ui/state/step-regions";
import { playEdit } from "../../state/edit-actions";
import { useWorkspace } from "../../state/workspace-store";
import type { ItemFacts } from "../../state/current-item";
import { newId } from "../../api/use-project";
import { workspaceState, withFacts, type CommandContext, type WorkspaceCommand } from "./command";

/** Gain goes down and up by this, a key at a time. */
const STEP_DB = 1.5;

/** Repairs of what is selected, at once: its level in steps, silence, and replacing it from around. */
export function regionCommands(context: CommandContext): WorkspaceCommand[] {
  const group = "Editing";
  const treat = (
    facts: ItemFacts,
    type: string,
    change: (same: RepairStep | undefined) => Partial<RepairStep>,
    what: string,
  ) => {
    const { selection } = workspaceState();
    if (!selection) return;
    const regions = regionsOfSelection(facts);
    const { repairs } = context.latest(facts.item.id) ?? facts.item;
    const same = repairs.find((one) => one.type === type && JSON.stringify(one.regions) === JSON.stringify(regions));
    const changes = { regions, ...change(same) };
    void context.edit(
      same
        ? { type: "setRepair", item: facts.item.id, step: same.id!, changes, what }
        : { type: "addRepairs", item: facts.item.id, steps: [{ ...newRepairStep(type, newId()), ...changes }] },
    );
    playEdit(facts, selection.start, selection.end - selection.start);
  };
  const gain = (by: number) =>
    withFacts(context, (facts) =>
      treat(
        facts,
        "region-gain",
        (same) => ({ gainDb: Math.max(-100, Math.min(24, Number(same?.gainDb ?? 0) + by)) }),
        `${by > 0 ? "up" : "down"} by ${STEP_DB} dB`,
      ),
    );
  /** Does something with the step in hand. */
  const withStep = (work: (facts: ItemFacts, step: RepairStep, index: number) => void) =>
    withFacts(context, (facts) => {
      const { repairs } = context.latest(facts.item.id) ?? facts.item;
      const index = repairs.findIndex(({ id }) => id === workspaceState().step);
      const step = repairs[index];
      if (step) work(facts, step, index);
    });
  const move = (by: number) =>
    withStep(({ item }, step, index) => {
      if (index + by >= 0 && index + by < item.repairs.length)
        void context.edit({ type: "moveRepair", item: item.id, step: step.id ?? "", to: index + by });
    });
  return [
    { id: "gain-down", group, label: `Selection ${STEP_DB} dB down`, keys: "shift+arrowdown", run: gain(-STEP_DB) },
    { id: "gain-up", group, label: `Selection ${STEP_DB} dB up`, keys: "shift+arrowup", run: gain(STEP_DB) },
    {
      id: "silence",
      group,
      label: "Silence the selection, or its band",
      keys: "shift+backspace",
      run: withFacts(context, (facts) => treat(facts, "region-gain", () => ({ gainDb: -100 }), "silence")),
    },
    {
      id: "replace",
      group,
      label: "Replace the selection from around",
      keys: "shift+f",
      run: withFacts(context, (facts) => treat(facts, "spectral-inpainting", () => ({}), "anew")),
    },
    {
      id: "step-on",
      group,
      label: "Switch the repair in hand on or off",
      keys: "shift+b",
      run: withStep(
        ({ item }, step) =>
          void context.edit({ type: "switchRepair", item: item.id, step: step.id ?? "", enabled: !step.enabled }),
      ),
    },
    { id: "step-earlier", group, label: "The repair in hand one place earlier", run: move(-1) },
    { id: "step-later", group, label: "The repair in hand one place later", run: move(1) },
    ...REPAIRS.map(({ id: type, name }): WorkspaceCommand => ({
      id: `add-${type}`,
      group,
      label: `Add a repair: ${name}`,
      run: withFacts(context, (facts) => {
        const id = newId();
        const step = { ...newRepairStep(type, id), regions: regionsOfSelection(facts) };
        void context.edit({ type: "addRepairs", item: facts.item.id, steps: [step] });
        useWorkspace.setState({ step: id, stage: "repair" });
      }),
    })),
  ];
}
