"use client";

import { useState } from "react";

const FIELD =
  "w-full min-w-0 rounded-[4px] border border-transparent bg-transparent px-1 hover:border-hair focus:border-act focus:bg-sheet outline-none";

interface KeptTextProps {
  label: string;
  value: string;
  placeholder?: string;
  /** More than one makes it a field of several lines, where Enter begins a line. */
  lines?: number;
  onKeep: (value: string) => void;
}

/** Text that is kept when it is left, or by Enter. */
export function KeptText({ label, value, placeholder, lines = 1, onKeep }: KeptTextProps) {
  const [typed, setTyped] = useState<string | null>(null);
  const shared = {
    "aria-label": label,
    placeholder,
    value: typed ?? value,
    title: value,
    onBlur: () => {
      if (typed !== null && typed !== value) onKeep(typed);
      setTyped(null);
    },
  };
  if (lines > 1)
    return (
      <textarea
        {...shared}
        rows={lines}
        className={`${FIELD} resize-none`}
        onChange={(event) => setTyped(event.target.value)}
        onKeyDown={(event) => event.key === "Escape" && setTyped(null)}
      />
    );
  return (
    <input
      {...shared}
      className={`${FIELD} h-6`}
      onChange={(event) => setTyped(event.target.value)}
      onKeyDown={(event) => {
        if (event.key === "Enter") event.currentTarget.blur();
        else if (event.key === "Escape") setTyped(null);
      }}
    />
  );
}
