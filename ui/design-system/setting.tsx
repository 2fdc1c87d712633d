import type { ReactNode } from "react";

/** A setting with its words. */
export function Setting({ words, children }: { words: string; children: ReactNode }) {
  return (
    <label className="grid grid-cols-[1fr_auto] items-center gap-2 py-0.5 text-label">
      <span className="text-soft">{words}</span>
      {children}
    </label>
  );
}

export function Choice<Value extends string | number>({
  label,
  value,
  of,
  words = String,
  onChoose,
}: {
  label: string;
  value: Value;
  of: readonly Value[];
  words?: (value: Value) => string;
  onChoose: (value: Value) => void;
}) {
  return (
    <select
      aria-label={label}
      value={value}
      onChange={(event) => onChoose(of.find((one) => String(one) === event.target.value)!)}
      className="h-6 rounded-[4px] border border-hair bg-sheet px-1 text-label"
    >
      {of.map((one) => (
        <option key={one} value={one}>
          {words(one)}
        </option>
      ))}
    </select>
  );
}

export function Tick({ words, on, onChange }: { words: string; on: boolean; onChange: (on: boolean) => void }) {
  return (
    <Setting words={words}>
      <input type="checkbox" checked={on} onChange={(event) => onChange(event.target.checked)} className="accent-act" />
    </Setting>
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
