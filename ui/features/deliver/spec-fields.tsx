"use client";

/** Fields of a delivery spec that is edited. */
import { useState } from "react";

export const FIELD =
  "h-7 w-full rounded-[4px] border border-hair bg-sheet px-1.5 text-body text-ink outline-none focus:border-act";
export function TextField(props: {
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

export const NumberField = (props: NumberProps) => (
  <label className="text-label text-soft">
    {props.label}
    <NumberInput {...props} />
  </label>
);

/** A number that may be left empty. What is no number is given up. */
export function NumberInput({ label, value, onChange }: NumberProps) {
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
