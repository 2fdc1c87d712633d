"use client";

import type { ComponentType } from "react";
import { repairNamed, repairSettings, type RepairStep } from "@core/repair";
import type { RepairDefinition } from "@core/repair/repair";
import { settingWords, type Parameter } from "@core/parameters/parameter";
import { Button } from "@ui/design-system/button";
import { ParameterField } from "@ui/design-system/parameter-field";
import { MixSwitches } from "@ui/features/shape/mix-switches";
import { useWorkspace } from "@ui/state/workspace-store";
import { useCurrentItem, type ItemFacts } from "@ui/state/current-item";
import { MonitorStep } from "./monitor-step";
import { fieldChanges, type ChangeStep } from "./change-step";
import { OpenParts } from "./open-parts";
import { HumLearning } from "./hum-learning";
import { StepEvents } from "./step-events";
import { NoiseLearning } from "./noise-learning";
import { SimilarRegions } from "./similar-regions";
import { ReverbLearning } from "./reverb-learning";
import { ToneList } from "./tone-list";
import { regionsOfSelection, regionsLabel } from "../../state/step-regions";

interface PanelProps {
  step: RepairStep;
  facts: ItemFacts;
  change: ChangeStep;
}

/** What stands beside the settings, as definitions of repairs ask for it. */
const PANELS: Record<NonNullable<RepairDefinition["panel"]>, ComponentType<PanelProps>> = {
  "noise profile": NoiseLearning,
  room: ReverbLearning,
  hum: HumLearning,
  tones: ToneList,
  "similar regions": SimilarRegions,
  parts: OpenParts,
};

/** One repair: its settings, what it learned, where it applies, and how to hear what it does. */
export function StepEditor({ step, facts }: { step: RepairStep; facts: ItemFacts }) {
  const { item, edit } = useCurrentItem();
  const definition = repairNamed(step.type);
  if (!item) return null;
  const change = (next: Partial<RepairStep>, what: string) =>
    void edit({ type: "setRepair", item: item.id, step: step.id!, changes: fieldChanges(next), what });
  const place = { step, facts, change };
  const Panel = definition.panel && PANELS[definition.panel];
  const beside = Panel || definition.find;
  return (
    <section className="flex h-full min-h-0 flex-col px-4 py-2.5" aria-label={`${definition.name} settings`}>
      <div className="flex items-center gap-3 border-b border-hair pb-1.5">
        <h2 className="font-semibold">{definition.name}</h2>
        <MonitorStep />
        <button type="button" className="ml-auto text-act" onClick={() => useWorkspace.setState({ step: null })}>
          to the proposals
        </button>
      </div>
      <Where step={step} facts={facts} change={change} />
      <MixSwitches work={step.id!} />
      <div
        className={`grid min-h-0 flex-1 gap-5 ${beside ? "grid-cols-[minmax(0,1fr)_minmax(0,1fr)]" : "grid-cols-1"}`}
      >
        <div className="min-h-0 overflow-y-auto pr-1">
          <p className="py-1 text-label text-soft">{definition.help}</p>
          {Object.entries(definition.parameters).map(([name, parameter]) => (
            <StepSetting key={name} name={name} parameter={parameter} step={step} change={change} />
          ))}
        </div>
        {beside && (
          <div className="min-h-0 overflow-y-auto">
            {Panel && <Panel key={step.id} {...place} />}
            {definition.find && <StepEvents {...place} />}
          </div>
        )}
      </div>
    </section>
  );
}

function StepSetting({
  name,
  parameter,
  step,
  change,
}: {
  name: string;
  parameter: Parameter;
  step: RepairStep;
  change: ChangeStep;
}) {
  const kept = repairSettings(step)[name]!;
  const moving = useWorkspace((workspace) =>
    workspace.pendingParameter?.entry === step.id && workspace.pendingParameter?.parameter === name
      ? workspace.pendingParameter.setting
      : null,
  );
  return (
    <ParameterField
      id={`${step.id}-${name}`}
      parameter={parameter}
      setting={moving ?? kept}
      onMove={(setting) =>
        useWorkspace.setState({ pendingParameter: { entry: step.id ?? "", parameter: name, setting } })
      }
      onCommit={(setting) => {
        useWorkspace.setState({ pendingParameter: null });
        if (setting !== kept) change({ [name]: setting }, settingWords(parameter, setting));
      }}
    />
  );
}

function Where({ step, facts, change }: { step: RepairStep; facts: ItemFacts; change: ChangeStep }) {
  const selected = useWorkspace((workspace) => workspace.selection !== null);
  return (
    <div className="flex flex-wrap items-center gap-2 border-b border-grid py-1.5">
      <span className="text-soft">Applies to</span> {regionsLabel(step.regions, facts)}
      <span className="ml-auto flex gap-1.5">
        <Button
          disabled={!selected}
          hint="Only what is selected, in time and frequency"
          onClick={() => change({ regions: regionsOfSelection(facts) }, "where it applies")}
        >
          Only the selection
        </Button>
        <Button
          disabled={!selected || step.regions.length === 0}
          hint="What is selected, besides where it applies already"
          onClick={() => change({ regions: [...step.regions, ...regionsOfSelection(facts)] }, "where it applies")}
        >
          The selection too
        </Button>
        <Button
          disabled={step.regions.length === 0}
          hint="The whole item"
          onClick={() => change({ regions: [] }, "where it applies")}
        >
          The whole
        </Button>
      </span>
    </div>
  );
}
