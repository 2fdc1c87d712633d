import type { InputHTMLAttributes } from "react";

interface Props extends Omit<InputHTMLAttributes<HTMLInputElement>, "onChange"> {
  label: string;
  /** What is asked for, under the field. */
  help?: string | undefined;
  onChange: (text: string) => void;
}

/** A line of text with its label above it. */
export function TextField({ label, help, onChange, className = "", ...rest }: Props) {
  return (
    <label className={`block text-label text-soft ${className}`}>
      {label}
      <input
        onChange={(event) => onChange(event.target.value)}
        className="mt-0.5 block h-8 w-full rounded-[4px] border border-hair bg-sheet px-2 text-body text-ink focus:border-act focus:outline-none"
        {...rest}
      />
      {help && <span className="mt-0.5 block">{help}</span>}
    </label>
  );
}
