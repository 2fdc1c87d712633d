"use client";

import { ArrowDown, ArrowUp, Plus, Trash2 } from "lucide-react";
import { REPAIRS, repairNamed, repairSettings } from "@core/repair";
import { USUAL_REPAIRS } from "@core/project/usual-work";
import { AddMenu } from "@ui/design-system/add-menu";
import { IconButton } from "@ui/design-system/icon-button";
import { Button } from "@ui/design-system/button";
import { PickedBar } from "@ui/design-system/picked-bar";
import { isPick, pick, pickByEnter, pickNothing, usePicked, usePickedOf } from "@ui/state/picked";
import { useWorkspace } from "@ui/state/workspace-store";
import { useCurrentItem } from "@ui/state/current-item";
import { useAddStep } from "./use-add-step";
import { regionsOfSelection, regionsLabel } from "../../state/step-regions";

/** The item's repairs in the order in which they are done. */
export function StepList() {
  const { item, edit, facts } = useCurrentItem();
  const chosen = useWorkspace((workspace) => workspace.step);
  const picked = usePicked((now) => now.repairs.ids);
  if (!item || !facts) return null;
  if (item.repairs.length === 0) return <UsualRepairs />;
  const order = item.repairs.map(({ id }) => id ?? "");
  return (
    <>
      <ol data-testid="repairs">
        {item.repairs.map((step, index) => {
          const own = { item: item.id, step: step.id ?? "" };
          const definition = repairNamed(step.type);
          return (
            <li
              key={step.id}
              className={`flex items-center gap-1.5 border-b border-grid py-1 ${step.id === chosen || picked.includes(own.step) ? "-mx-2 bg-act-ground px-2" : ""}`}
            >
              <input
                type="checkbox"
                className="size-4 shrink-0 accent-act"
                aria-label={`${definition.name} on`}
                title="Whether this step is done"
                checked={step.enabled}
                onChange={(event) => void edit({ type: "switchRepair", ...own, enabled: event.target.checked })}
              />
              <button
                type="button"
                aria-pressed={step.id === chosen}
                onClick={(event) => {
                  pick("repairs", own.step, order, event);
                  if (!isPick(event)) useWorkspace.setState({ step: step.id === chosen ? null : own.step });
                }}
                onKeyDown={pickByEnter("repairs", own.step, order)}
                title="Ctrl or Shift with a click or Enter selects several"
                className={`min-w-0 flex-1 text-left ${step.enabled ? "" : "opacity-55"}`}
              >
                <span className="figure mr-1.5 text-label text-soft">{index + 1}</span>
                <span className="font-semibold">{definition.name}</span>{" "}
                <span className="text-label text-soft">{definition.summary(repairSettings(step), step.learned)}</span>
                <span className="block truncate text-label text-soft">{regionsLabel(step.regions, facts)}</span>
              </button>
              <IconButton
                label="Earlier"
                disabled={index === 0}
                onClick={() => void edit({ type: "moveRepair", ...own, to: index - 1 })}
              >
                <ArrowUp size={14} />
              </IconButton>
              <IconButton
                label="Later"
                disabled={index === item.repairs.length - 1}
                onClick={() => void edit({ type: "moveRepair", ...own, to: index + 1 })}
              >
                <ArrowDown size={14} />
              </IconButton>
              <IconButton
                label="Remove"
                onClick={() => {
                  void edit({ type: "removeRepair", ...own });
                  if (step.id === chosen) useWorkspace.setState({ step: null });
                }}
              >
                <Trash2 size={14} />
              </IconButton>
            </li>
          );
        })}
      </ol>
      <PickedSteps order={order} />
    </>
  );
}

/** What is done with several repairs at once. */
function PickedSteps({ order }: { order: readonly string[] }) {
  const { item, edit } = useCurrentItem();
  const steps = [...usePickedOf("repairs", order)];
  if (!item || steps.length === 0) return null;
  const clear = () => pickNothing("repairs");
  const set = (enabled: boolean) => void edit({ type: "switchRepairs", item: item.id, steps, enabled });
  return (
    <PickedBar count={steps.length} noun="repair" onClear={clear}>
      <Button kind="quiet" onClick={() => set(true)}>
        On
      </Button>
      <Button kind="quiet" onClick={() => set(false)}>
        Off
      </Button>
      <Button
        kind="quiet"
        onClick={() => {
          void edit({ type: "removeRepairs", item: item.id, steps });
          clear();
        }}
      >
        <Trash2 size={13} /> Remove
      </Button>
    </PickedBar>
  );
}

/** What is usually mended in this kind of project: shown while nothing is. */
function UsualRepairs() {
  const { view } = useCurrentItem();
  const add = useAddStep();
  return (
    <>
      <p className="py-2 text-soft">
        No repairs: the recording is used as it came. Take a proposal, or add a step; the recording itself is never
        changed, and each step can be turned down or off.
      </p>
      <h3 className="border-b border-hair pt-1 pb-0.5 text-label font-semibold">Usual in this kind of project</h3>
      <ul data-testid="usual-repairs">
        {USUAL_REPAIRS[view.document.template].map(({ type, why }) => (
          <li key={type} className="flex items-center gap-2 border-b border-grid py-1">
            <span className="min-w-0 flex-1">
              {repairNamed(type).name}
              <span className="block text-label text-soft">{why}</span>
            </span>
            <IconButton label={`Add ${repairNamed(type).name.toLowerCase()}`} onClick={() => add(type, [])}>
              <Plus size={14} />
            </IconButton>
          </li>
        ))}
      </ul>
    </>
  );
}

export function AddRepair() {
  const { facts } = useCurrentItem();
  const add = useAddStep();
  const selected = useWorkspace((workspace) => workspace.selection !== null);
  if (!facts) return null;
  return (
    <AddMenu
      trigger={
        <>
          <Plus size={14} aria-hidden /> Add a repair
        </>
      }
      className="flex items-center gap-1 font-normal text-act"
      note={selected ? "On what is selected; it can be changed later." : "On the whole item; select first for a part."}
      of={REPAIRS}
      onAdd={(type) => add(type, regionsOfSelection(facts))}
    />
  );
}
