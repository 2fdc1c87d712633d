"use client";

import { newRepairStep, repairNamed, repairSettings, type RepairStep } from "@core/repair";
import { voiceParts } from "@core/repair/voice-clean-up";
import { Button } from "@ui/design-system/button";
import { useCurrentItem } from "@ui/state/current-item";
import { useWorkspace } from "@ui/state/workspace-store";
import { newId } from "@ui/api/use-project";

/** What one control over a voice does, part by part; and its parts as steps of their own. */
export function OpenParts({ step }: { step: RepairStep }) {
  const { item, edit } = useCurrentItem();
  if (!item) return null;
  const parts = voiceParts(repairSettings(step) as Parameters<typeof voiceParts>[0]);
  const open = () => {
    const steps = parts.map(({ type, settings }) => ({ ...newRepairStep(type, newId()), ...settings }));
    void edit({ type: "replaceRepair", item: item.id, step: step.id!, with: steps });
    useWorkspace.setState({ step: steps[0]?.id ?? null });
  };
  return (
    <div data-testid="voice-parts">
      <h3 className="border-b border-hair py-1 text-label font-semibold">What it does now, in this order</h3>
      <ol>
        {parts.map(({ type, settings }) => (
          <li key={type} className="flex justify-between gap-2 border-b border-grid py-1">
            {repairNamed(type).name}
            <span className="text-label text-soft">
              {repairNamed(type).summary(repairSettings({ ...newRepairStep(type, type), ...settings }), undefined)}
            </span>
          </li>
        ))}
        {parts.length === 0 && <li className="py-1 text-soft">Nothing: its amount is 0, or all parts are off.</li>}
      </ol>
      <div className="py-1.5">
        <Button
          disabled={parts.length === 0}
          onClick={open}
          hint="Puts the parts in its place, each a step with settings of its own; the sound stays the same"
        >
          Open its parts
        </Button>
      </div>
    </div>
  );
}
