"use client";

import { useState } from "react";

/** A bare number with its unit, kept by Enter or by leaving it; what is no number is given up. */
export function NumberInput({
  label,
  value,
  unit,
  onCommit,
}: {
  label: string;
  value: number;
  unit: string;
  onCommit: (value: number) => void;
}) {
  const [typed, setTyped] = useState<string | null>(null);
  const commit = () => {
    const parsed = typed === null || typed.trim() === "" ? NaN : Number(typed.replace("−", "-").replace(",", "."));
    setTyped(null);
    if (Number.isFinite(parsed) && parsed !== value) onCommit(parsed);
  };
  return (
    <label className="flex h-6 min-w-0 items-center rounded-[4px] border border-hair bg-sheet focus-within:border-act">
      <input
        aria-label={label}
        inputMode="decimal"
        className="figure w-full min-w-0 bg-transparent px-1 text-right outline-none"
        value={typed ?? String(Number(value.toFixed(3))).replace("-", "−")}
        onFocus={(event) => event.target.select()}
        onChange={(event) => setTyped(event.target.value)}
        onBlur={commit}
        onKeyDown={(event) => {
          if (event.key === "Enter") event.currentTarget.blur();
          else if (event.key === "Escape") setTyped(null);
        }}
      />
      <span className="pr-1 whitespace-nowrap text-soft">{unit}</span>
    </label>
  );
}
