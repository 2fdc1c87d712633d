"use client";

import { useState } from "react";
import type { MasterFormat } from "@core/render/recipe";
import { formatDb, formatRate } from "@core/signal/format";
import { SPECS } from "@core/spec";
import { Button } from "@ui/shared/button";
import { SheetDialog } from "@ui/shared/sheet-dialog";
import { useInHand } from "@ui/workspace/in-hand";
import { newId } from "@ui/workspace/use-project";

const BITS: { value: MasterFormat["bits"]; words: string }[] = [
  { value: "16", words: "16 bit, dithered" },
  { value: "24", words: "24 bit, dithered" },
  { value: "32", words: "32 bit" },
  { value: "32f", words: "32 bit float, nothing clipped" },
];
const RATES = [44100, 48000, 88200, 96000, 176400, 192000];

/** Chooses a specification and a format to deliver to. */
export function AddDeliverable({ open, onClose }: { open: boolean; onClose: () => void }) {
  const { edit } = useInHand();
  const [spec, setSpec] = useState(SPECS[0]!.id);
  const [bits, setBits] = useState<MasterFormat["bits"]>("24");
  const [rate, setRate] = useState(0);
  const add = () => {
    void edit({
      type: "addDeliverable",
      deliverable: { id: newId(), spec, format: { bits, ...(rate ? { sampleRate: rate } : {}) } },
    });
    onClose();
  };
  return (
    <SheetDialog
      open={open}
      onClose={onClose}
      title="Add a deliverable"
      help="The specification that masters are brought to, and the file that they become."
    >
      <fieldset className="max-h-[38vh] overflow-y-auto border border-hair">
        <legend className="sr-only">Specification</legend>
        {SPECS.map((one) => (
          <label
            key={one.id}
            className={`flex items-start gap-2 border-b border-grid px-3 py-1.5 ${one.id === spec ? "bg-act-ground" : ""}`}
          >
            <input
              type="radio"
              name="spec"
              className="mt-1 accent-act"
              checked={one.id === spec}
              onChange={() => setSpec(one.id)}
            />
            <span className="min-w-0">
              <b className="font-semibold">{one.name}</b>
              <span className="figure ml-2 text-label text-soft">
                {one.targetLufs === null ? "level kept" : `${formatDb(one.targetLufs)} LUFS`} · ≤{" "}
                {formatDb(one.ceilingDbtp)} dBTP
              </span>
              <span className="block text-label text-soft">
                {one.help} · {one.source}, {one.edition}
              </span>
            </span>
          </label>
        ))}
      </fieldset>
      <div className="mt-3 flex items-end gap-4">
        <Choice
          label="Depth"
          value={bits}
          onChange={(value) => setBits(value as MasterFormat["bits"])}
          options={BITS.map(({ value, words }) => [value, words])}
        />
        <Choice
          label="Sample rate"
          value={String(rate)}
          onChange={(value) => setRate(Number(value))}
          options={[["0", "as the recording"], ...RATES.map((one): [string, string] => [String(one), formatRate(one)])]}
        />
        <Button kind="main" className="ml-auto" onClick={add}>
          Add it
        </Button>
      </div>
    </SheetDialog>
  );
}

function Choice({
  label,
  value,
  onChange,
  options,
}: {
  label: string;
  value: string;
  onChange: (value: string) => void;
  options: [string, string][];
}) {
  return (
    <label className="text-label text-soft">
      {label}
      <select
        value={value}
        onChange={(event) => onChange(event.target.value)}
        className="mt-0.5 block h-7 rounded-[4px] border border-hair bg-sheet px-1 text-body text-ink"
      >
        {options.map(([option, words]) => (
          <option key={option} value={option}>
            {words}
          </option>
        ))}
      </select>
    </label>
  );
}
