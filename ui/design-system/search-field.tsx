import { Search } from "lucide-react";

/** A field that narrows a list by words. */
export function SearchField({
  label,
  words,
  onChange,
  className = "",
  hint,
}: {
  label: string;
  words: string;
  onChange: (words: string) => void;
  className?: string;
  /** What can be looked for, for the tooltip. */
  hint?: string;
}) {
  return (
    <label
      className={`flex items-center gap-2 rounded-[4px] border border-hair bg-sheet px-2 focus-within:border-act ${className}`}
    >
      <Search size={14} className="text-soft" aria-hidden />
      <input
        value={words}
        onChange={(event) => onChange(event.target.value)}
        placeholder={label.toLowerCase()}
        aria-label={label}
        title={hint}
        className="w-full bg-transparent outline-none"
      />
    </label>
  );
}
