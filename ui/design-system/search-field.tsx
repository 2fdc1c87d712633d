import { Search } from "lucide-react";

/** A field that narrows a list by words. */
export function SearchField({
  label,
  words,
  onChange,
  className = "",
}: {
  label: string;
  words: string;
  onChange: (words: string) => void;
  className?: string;
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
        className="w-full bg-transparent outline-none"
      />
    </label>
  );
}
