"use client";

interface ChoiceProps {
  label: string;
  value: string;
  onChange: (value: string) => void;
  options: Readonly<Record<string, string>>;
  /** Where the keys are numbers, which objects put first by themselves. */
  order?: string[];
  className?: string;
}

/** One of some, under its label. */
export function Choice({ label, value, onChange, options, order, className = "" }: ChoiceProps) {
  return (
    <label className="text-label text-soft">
      {label}
      <select
        value={value}
        onChange={(event) => onChange(event.target.value)}
        className={`mt-0.5 block h-7 rounded-[4px] border border-hair bg-sheet px-1 text-body text-ink ${className}`}
      >
        {(order ?? Object.keys(options)).map((option) => (
          <option key={option} value={option}>
            {options[option]}
          </option>
        ))}
      </select>
    </label>
  );
}

interface TickProps {
  label: string;
  checked: boolean;
  onChange: (checked: boolean) => void;
  title?: string;
}

/** On or off, beside its label. */
export function Tick({ label, checked, onChange, title }: TickProps) {
  return (
    <label className="flex min-h-7 items-center gap-1.5" title={title}>
      <input
        type="checkbox"
        className="accent-act"
        checked={checked}
        onChange={(event) => onChange(event.target.checked)}
      />
      {label}
    </label>
  );
}
