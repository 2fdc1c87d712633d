"use client";

import { X } from "lucide-react";
import type { ReactNode } from "react";
import { IconButton } from "./icon-button";

/** Says how many are selected, and holds what can be done with all of them. */
export function PickedBar({
  count,
  noun,
  onClear,
  children,
}: {
  count: number;
  noun: string;
  onClear: () => void;
  children: ReactNode;
}) {
  return (
    <div
      role="toolbar"
      aria-label={`${count} ${noun}s are selected`}
      className="sticky bottom-0 z-10 flex flex-wrap items-center gap-1 border-t border-hair bg-act-ground px-2 py-0.5"
    >
      <span className="font-semibold">
        {count} {noun}s selected
      </span>
      {children}
      <span className="ml-auto">
        <IconButton label="Deselect all" onClick={onClear}>
          <X size={14} />
        </IconButton>
      </span>
    </div>
  );
}
