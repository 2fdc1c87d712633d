"use client";

import type { ReactNode } from "react";

/** A setting in a menu or a panel: its label, and its control at the right. */
export function Setting({ label, children }: { label: string; children: ReactNode }) {
  return (
    <label className="grid grid-cols-[1fr_auto] items-center gap-2 py-0.5 text-label">
      <span className="text-soft">{label}</span>
      {children}
    </label>
  );
}

interface SelectProps<Value extends string | number> {
  label: string;
  value: Value;
  options: readonly Value[];
  words?: (value: Value) => string;
  onChange: (value: Value) => void;
  className?: string;
  title?: string | undefined;
  /** What each of them means. */
  hints?: (value: Value) => string;
}

/** One of some. */
export function Select<Value extends string | number>({
  label,
  value,
  options,
  words = String,
  onChange,
  className = "h-6 text-label",
  title,
  hints,
}: SelectProps<Value>) {
  return (
    <select
      aria-label={label}
      title={title}
      value={value}
      onChange={(event) => onChange(options.find((one) => String(one) === event.target.value)!)}
      className={`rounded-[4px] border border-hair bg-sheet px-1 ${className}`}
    >
      {options.map((one) => (
        <option key={one} value={one} title={hints?.(one)}>
          {words(one)}
        </option>
      ))}
    </select>
  );
}

/** One of some, under its label: a field of a form. */
export function SelectField({
  label,
  value,
  onChange,
  options,
  order,
  className = "",
}: {
  label: string;
  value: string;
  onChange: (value: string) => void;
  options: Readonly<Record<string, string>>;
  /** Where the keys are numbers, which objects put first by themselves. */
  order?: string[];
  className?: string;
}) {
  return (
    <label className="text-label text-soft">
      {label}
      <Select
        label={label}
        value={value}
        options={order ?? Object.keys(options)}
        words={(option) => options[option] ?? option}
        onChange={onChange}
        className={`mt-0.5 block h-7 text-body text-ink ${className}`}
      />
    </label>
  );
}

interface CheckboxProps {
  label: string;
  checked: boolean;
  onChange: (checked: boolean) => void;
}

function Checkbox({ checked, onChange }: Omit<CheckboxProps, "label">) {
  return (
    <input
      type="checkbox"
      className="accent-act"
      checked={checked}
      onChange={(event) => onChange(event.target.checked)}
    />
  );
}

/** On or off, as a setting of a menu. */
export function CheckboxSetting({ label, ...rest }: CheckboxProps) {
  return (
    <Setting label={label}>
      <Checkbox {...rest} />
    </Setting>
  );
}

/** On or off, before its label: a field of a form. */
export function CheckboxField({ label, title, ...rest }: CheckboxProps & { title?: string }) {
  return (
    <label className="flex min-h-7 items-center gap-1.5" title={title}>
      <Checkbox {...rest} />
      {label}
    </label>
  );
}

export function Slider({
  label,
  value,
  min,
  max,
  step,
  onChange,
}: {
  label: string;
  value: number;
  min: number;
  max: number;
  step: number;
  onChange: (value: number) => void;
}) {
  return (
    <input
      type="range"
      aria-label={label}
      min={min}
      max={max}
      step={step}
      value={value}
      onChange={(event) => onChange(Number(event.target.value))}
      className="w-28 accent-act"
    />
  );
}
