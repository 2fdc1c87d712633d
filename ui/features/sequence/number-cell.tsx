"use client";

import { useState, type KeyboardEvent } from "react";

interface Props {
  label: string;
  value: number | null;
  /** Shown where there is none. */
  none?: string;
  digits?: number;
  sign?: boolean;
  /** Arrow keys; ten times as much with Shift, a tenth with Alt. */
  step?: number;
  /** `null` where the field was emptied. */
  onCommit: (value: number | null) => void;
}

const words = (value: number, digits: number, sign: boolean): string =>
  `${sign && value > 0 ? "+" : ""}${value.toFixed(digits)}`.replace("-", "−");

/** A number of a table: typed, nudged by arrow keys; Enter keeps it and goes to the next row. */
export function NumberCell({ label, value, none = "—", digits = 1, sign = false, step = 0.1, onCommit }: Props) {
  const [typed, setTyped] = useState<string | null>(null);
  const commit = () => {
    if (typed === null) return;
    const text = typed
      .trim()
      .replace("−", "-")
      .replace(",", ".")
      .replace(/\s*(s|dB)$/, "");
    setTyped(null);
    const parsed = text === "" || text === none ? null : Number(text);
    if (parsed === null ? value !== null : Number.isFinite(parsed) && parsed !== value) onCommit(parsed);
  };
  const onKeyDown = (event: KeyboardEvent<HTMLInputElement>) => {
    if (event.key === "Escape") setTyped(null);
    else if (event.key === "Enter") {
      // Leaving the field keeps it.
      const column = event.currentTarget.dataset["column"];
      const row = event.currentTarget.closest("tr")?.nextElementSibling;
      const next = row?.querySelector<HTMLInputElement>(`input[data-column="${column}"]`);
      if (next) next.focus();
      else event.currentTarget.blur();
    } else if ((event.key === "ArrowUp" || event.key === "ArrowDown") && !event.ctrlKey && !event.metaKey) {
      if (event.altKey && !event.shiftKey && event.currentTarget.closest("[data-moves]")) return; // moves the row
      event.preventDefault();
      const by = step * (event.shiftKey ? 10 : 1) * (event.key === "ArrowUp" ? 1 : -1);
      setTyped(null);
      onCommit(Math.round(((value ?? 0) + by) * 1000) / 1000);
    }
  };
  return (
    <input
      aria-label={label}
      data-column={label.split(",")[0]}
      inputMode="decimal"
      className="figure h-6 w-full min-w-0 rounded-[3px] border border-transparent bg-transparent px-1 text-right outline-none hover:border-hair focus:border-act focus:bg-sheet"
      value={typed ?? (value === null ? none : words(value, digits, sign))}
      onFocus={(event) => event.target.select()}
      onChange={(event) => setTyped(event.target.value)}
      onBlur={commit}
      onKeyDown={onKeyDown}
    />
  );
}
