"use client";

import { Plus, Trash2 } from "lucide-react";
import { useState } from "react";
import { prettifyError } from "zod";
import {
  ANCHORS,
  deliverySpecSchema,
  LIMITED_FIGURES,
  SPEC_DEFAULTS,
  type DeliverySpec,
  type Limit,
} from "@core/delivery/spec";
import { formatRate } from "@core/audio/format";
import { Button } from "@ui/design-system/button";
import { CheckboxField, SelectField } from "@ui/design-system/controls";
import { IconButton } from "@ui/design-system/icon-button";
import { SheetDialog } from "@ui/design-system/sheet-dialog";
import { useCurrentItem } from "@ui/state/current-item";

interface Props {
  spec: DeliverySpec;
  isNew: boolean;
  onClose: () => void;
  onKept: (id: string) => void;
}

const FIELD =
  "h-7 w-full rounded-[4px] border border-hair bg-sheet px-1.5 text-body text-ink outline-none focus:border-act";
const SCOPES = { item: "each item", channel: "each channel", album: "the whole order" } as const;

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
        <Text label="Name" value={spec.name} onChange={(name) => set({ name })} />
        <Text label="Id" value={spec.id} onChange={(id) => set({ id })} disabled={!isNew} />
        <Text label="What it is for" value={spec.help} onChange={(help) => set({ help })} wide />
        <Text label="Source" value={spec.source} onChange={(source) => set({ source })} />
        <Text label="Edition" value={spec.edition} onChange={(edition) => set({ edition })} />
        <SelectField
          className="w-full"
          label="Loudness is taken from"
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
      <Limits limits={spec.limits} onChange={(limits) => set({ limits })} />
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

function Limits({ limits, onChange }: { limits: Limit[]; onChange: (limits: Limit[]) => void }) {
  const set = (index: number, change: Partial<Limit>) =>
    onChange(limits.map((limit, i) => (i === index ? tidy({ ...limit, ...change }) : limit)));
  return (
    <table className="mt-3 w-full">
      <caption className="text-left text-label text-soft">Limits</caption>
      <thead className="text-left text-label text-soft">
        <tr>
          <th className="font-normal">figure</th>
          <th className="w-16 font-normal">lowest</th>
          <th className="w-16 font-normal">highest</th>
          <th className="w-28 font-normal">of</th>
          <th className="w-16 font-normal">must</th>
          <td className="w-7" />
        </tr>
      </thead>
      <tbody>
        {limits.map((limit, index) => (
          <tr key={index} className="border-t border-grid">
            <td>
              <select
                aria-label={`Figure of limit ${index + 1}`}
                className={FIELD}
                value={limit.figure}
                onChange={(event) => set(index, { figure: event.target.value as Limit["figure"] })}
              >
                {Object.entries(LIMITED_FIGURES).map(([figure, { label, unit }]) => (
                  <option key={figure} value={figure}>
                    {label}, {unit}
                  </option>
                ))}
              </select>
            </td>
            <td>
              <Bare label={`Lowest of limit ${index + 1}`} value={limit.min} onChange={(min) => set(index, { min })} />
            </td>
            <td>
              <Bare label={`Highest of limit ${index + 1}`} value={limit.max} onChange={(max) => set(index, { max })} />
            </td>
            <td>
              <select
                aria-label={`What limit ${index + 1} holds for`}
                className={FIELD}
                value={limit.scope ?? "item"}
                onChange={(event) => set(index, { scope: event.target.value as NonNullable<Limit["scope"]> })}
              >
                {Object.entries(SCOPES).map(([scope, words]) => (
                  <option key={scope} value={scope}>
                    {words}
                  </option>
                ))}
              </select>
            </td>
            <td className="text-center">
              <input
                type="checkbox"
                className="accent-act"
                aria-label={`Limit ${index + 1} must be met`}
                checked={limit.required}
                onChange={(event) => set(index, { required: event.target.checked })}
              />
            </td>
            <td>
              <IconButton
                label={`Remove limit ${index + 1}`}
                onClick={() => onChange(limits.filter((_, i) => i !== index))}
              >
                <Trash2 size={13} />
              </IconButton>
            </td>
          </tr>
        ))}
      </tbody>
      <tfoot>
        <tr>
          <td colSpan={6}>
            <Button
              kind="quiet"
              onClick={() =>
                onChange([
                  ...limits,
                  { figure: "truePeakDbtp", max: -1, required: true, marginalWithin: 0.1, clause: "own" },
                ])
              }
            >
              <Plus size={13} /> Limit
            </Button>
          </td>
        </tr>
      </tfoot>
    </table>
  );
}

/** Without what was emptied. */
function tidy(limit: Limit): Limit {
  const { min, max, ...rest } = limit;
  return { ...rest, ...(min === undefined ? {} : { min }), ...(max === undefined ? {} : { max }) };
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

function Text(props: {
  label: string;
  value: string;
  onChange: (value: string) => void;
  wide?: boolean;
  disabled?: boolean;
}) {
  return (
    <label className={`text-label text-soft ${props.wide ? "col-span-2" : ""}`}>
      {props.label}
      <input
        className={FIELD}
        value={props.value}
        disabled={props.disabled}
        onChange={(event) => props.onChange(event.target.value)}
      />
    </label>
  );
}

interface NumberProps {
  label: string;
  value: number | undefined;
  onChange: (value: number | undefined) => void;
}

const NumberField = (props: NumberProps) => (
  <label className="text-label text-soft">
    {props.label}
    <Bare {...props} />
  </label>
);

/** A number that may be left empty. What is no number is given up. */
function Bare({ label, value, onChange }: NumberProps) {
  const [typed, setTyped] = useState<string | null>(null);
  const commit = () => {
    const text = typed?.trim().replace("−", "-").replace(",", ".");
    setTyped(null);
    if (text === undefined) return;
    if (text === "") onChange(undefined);
    else if (Number.isFinite(Number(text))) onChange(Number(text));
  };
  return (
    <input
      aria-label={label}
      inputMode="decimal"
      className={`${FIELD} figure text-right`}
      value={typed ?? (value === undefined ? "" : String(value).replace("-", "−"))}
      onChange={(event) => setTyped(event.target.value)}
      onBlur={commit}
      onKeyDown={(event) => event.key === "Enter" && event.currentTarget.blur()}
    />
  );
}
