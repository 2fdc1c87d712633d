"use client";

import { useState } from "react";
import { prettifyError } from "zod";
import { ANCHORS, deliverySpecSchema, SPEC_DEFAULTS, type DeliverySpec } from "@core/delivery/spec";
import { formatRate } from "@core/audio/format";
import { Button } from "@ui/design-system/button";
import { CheckboxField, SelectField } from "@ui/design-system/controls";
import { SheetDialog } from "@ui/design-system/sheet-dialog";
import { useCurrentItem } from "@ui/state/current-item";
import { LimitsTable } from "./limits-table";
import { NumberField, TextField } from "./spec-fields";

interface Props {
  spec: DeliverySpec;
  isNew: boolean;
  onClose: () => void;
  onKept: (id: string) => void;
}

/** A delivery spec of one's own: what it aims at, its limits, what it asks of the file. */
export function SpecEditor({ spec: given, isNew, onClose, onKept }: Props) {
  const { edit } = useCurrentItem();
  const [spec, setSpec] = useState(given);
  const [problem, setProblem] = useState<string | null>(null);
  const set = (change: Partial<DeliverySpec>) => setSpec({ ...spec, ...change });
  const keep = async () => {
    const parsed = deliverySpecSchema.safeParse(spec);
    if (!parsed.success) return setProblem(prettifyError(parsed.error));
    await edit({ type: isNew ? "addSpec" : "setSpec", spec: parsed.data });
    onKept(parsed.data.id);
  };
  return (
    <SheetDialog
      open
      onClose={onClose}
      title={isNew ? "An own specification" : `Change ${given.name}`}
      help="Kept with this project. Where its numbers are from is told wherever it is used."
    >
      <div className="grid grid-cols-2 gap-x-4 gap-y-2">
        <TextField label="Name" value={spec.name} onChange={(name) => set({ name })} />
        <TextField label="Id" value={spec.id} onChange={(id) => set({ id })} disabled={!isNew} />
        <TextField label="What it is for" value={spec.help} onChange={(help) => set({ help })} wide />
        <TextField label="Source" value={spec.source} onChange={(source) => set({ source })} />
        <TextField label="Edition" value={spec.edition} onChange={(edition) => set({ edition })} />
        <SelectField
          className="w-full"
          label="Level is taken from"
          value={spec.anchor}
          options={Object.fromEntries(Object.entries(ANCHORS).map(([id, { label }]) => [id, label]))}
          onChange={(anchor) => set({ anchor: anchor as DeliverySpec["anchor"] })}
        />
        <NumberField
          label={`Target, ${ANCHORS[spec.anchor].unit} (empty: level kept)`}
          value={spec.target ?? undefined}
          onChange={(target) => set({ target: target ?? null })}
        />
        <SelectField
          className="w-full"
          label="The normaliser may use"
          value={spec.normalise}
          options={{ none: "nothing", gain: "gain", "gain and limiter": "gain and limiter" }}
          onChange={(normalise) => set({ normalise: normalise as DeliverySpec["normalise"] })}
        />
        <NumberField
          label="Ceiling of the limiter, dBTP"
          value={spec.ceilingDbtp}
          onChange={(ceilingDbtp) => set({ ceilingDbtp: ceilingDbtp ?? 0 })}
        />
        <NumberField
          label="Deepest limiting allowed, dB"
          value={spec.maxLimitingDb}
          onChange={(maxLimitingDb) => set({ maxLimitingDb: maxLimitingDb ?? SPEC_DEFAULTS.maxLimitingDb })}
        />
        <NumberField
          label="Loudness that limiting may take, LU"
          value={spec.maxLimitingLossLu}
          onChange={(lost) => set({ maxLimitingLossLu: lost ?? SPEC_DEFAULTS.maxLimitingLossLu })}
        />
        <SelectField
          className="w-full"
          label="Gain"
          value={spec.gainScope}
          options={{ item: "of each item", album: "one for all, relations kept" }}
          onChange={(gainScope) => set({ gainScope: gainScope as DeliverySpec["gainScope"] })}
        />
        <SelectField
          className="w-full"
          label="Loudness is measured on"
          value={spec.measuredOn}
          options={{ programme: "the programme", "5.1": "its 5.1 fold-down", stereo: "its stereo fold-down" }}
          onChange={(measuredOn) => set({ measuredOn: measuredOn as DeliverySpec["measuredOn"] })}
        />
        <CheckboxField
          label="leave what lies in the range already"
          checked={spec.keepWithinRange}
          onChange={(keepWithinRange) => set({ keepWithinRange })}
        />
        <CheckboxField
          label="ride the level where its range is too wide"
          checked={spec.adaptsRange}
          onChange={(adaptsRange) => set({ adaptsRange })}
        />
      </div>
      <LimitsTable limits={spec.limits} onChange={(limits) => set({ limits })} />
      <FileDemands spec={spec} onChange={set} />
      {problem && (
        <p role="alert" className="mt-2 whitespace-pre-wrap text-outside">
          {problem}
        </p>
      )}
      <div className="mt-3 flex justify-end gap-2">
        <Button onClick={onClose}>Back</Button>
        <Button kind="main" onClick={() => void keep()}>
          Keep it
        </Button>
      </div>
    </SheetDialog>
  );
}

const RATE_CHOICES = [0, 44100, 48000, 96000];

function FileDemands({ spec, onChange }: { spec: DeliverySpec; onChange: (change: Partial<DeliverySpec>) => void }) {
  const fileRequirements = spec.fileRequirements ?? { clause: "own" };
  const set = (change: Partial<typeof fileRequirements>) => {
    const next = { ...fileRequirements, ...change };
    for (const key of Object.keys(next) as (keyof typeof next)[]) if (next[key] === undefined) delete next[key];
    onChange({ fileRequirements: Object.keys(next).length > 1 ? next : undefined });
  };
  return (
    <div className="mt-3 grid grid-cols-2 gap-x-4 gap-y-2">
      <SelectField
        className="w-full"
        label="Sample rate that it asks for"
        value={String(fileRequirements.sampleRates?.[0] ?? 0)}
        options={Object.fromEntries(RATE_CHOICES.map((rate) => [String(rate), rate ? formatRate(rate) : "any"]))}
        onChange={(rate) => set({ sampleRates: rate === "0" ? undefined : [Number(rate)] })}
      />
      <NumberField
        label="Least data rate of lossy files, kbit/s"
        value={fileRequirements.minBitrateKbps}
        onChange={(minBitrateKbps) => set({ minBitrateKbps })}
      />
      <CheckboxField
        label="all items must have the same channels"
        checked={fileRequirements.sameChannels ?? false}
        onChange={(same) => set({ sameChannels: same || undefined })}
      />
      <CheckboxField
        label="the data rate must be constant"
        checked={fileRequirements.constantBitrate ?? false}
        onChange={(constant) => set({ constantBitrate: constant || undefined })}
      />
    </div>
  );
}
