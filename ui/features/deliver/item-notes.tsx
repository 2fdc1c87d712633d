"use client";

import { NotebookText } from "lucide-react";
import { Popover } from "radix-ui";
import { useState } from "react";

/** More than a line: written in a field of its own, kept when it is left. */
export function ItemNotes({ label, value, onKeep }: { label: string; value: string; onKeep: (value: string) => void }) {
  const [typed, setTyped] = useState<string | null>(null);
  const keep = (open: boolean) => {
    if (!open && typed !== null && typed !== value) onKeep(typed);
    if (!open) setTyped(null);
  };
  return (
    <Popover.Root onOpenChange={keep}>
      <Popover.Trigger
        aria-label={label}
        title={value || `${label}: none of its own`}
        className={`inline-flex size-6 items-center justify-center hover:text-act ${value ? "text-act" : "text-soft"}`}
      >
        <NotebookText size={13} />
      </Popover.Trigger>
      <Popover.Portal>
        <Popover.Content
          side="left"
          sideOffset={4}
          className="z-40 w-80 rounded-[4px] border border-hair bg-sheet p-2"
          data-own-keys
        >
          <textarea
            aria-label={`${label}, text`}
            rows={6}
            maxLength={400}
            className="w-full rounded-[4px] border border-hair bg-sheet p-1.5 outline-none focus:border-act"
            value={typed ?? value}
            onChange={(event) => setTyped(event.target.value)}
          />
          <p className="text-label text-soft">Kept when this is closed; written into the masters as the comment.</p>
        </Popover.Content>
      </Popover.Portal>
    </Popover.Root>
  );
}
