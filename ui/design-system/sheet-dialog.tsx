"use client";

import { X } from "lucide-react";
import { Dialog } from "radix-ui";
import type { ReactNode } from "react";

interface Props {
  open: boolean;
  onClose: () => void;
  title: string;
  help?: string;
  /**
   * At the right edge, the full height, with the workspace still at hand: it plays, selects and takes keys meanwhile. Otherwise
   * in the middle, and alone.
   */
  side?: boolean;
  /** For tables of many columns. */
  wide?: boolean;
  children: ReactNode;
}

/** A sheet laid over the workspace. */
export function SheetDialog({ open, onClose, title, help, side, wide, children }: Props) {
  const place = side
    ? "right-0 top-14 bottom-13 w-[420px] border-l"
    : `left-1/2 top-[12vh] ${wide ? "w-[880px]" : "w-[520px]"} max-w-[calc(100vw-32px)] max-h-[76vh] -translate-x-1/2 border rounded-[4px]`;
  return (
    <Dialog.Root open={open} modal={!side} onOpenChange={(next) => !next && onClose()}>
      <Dialog.Portal>
        {!side && <Dialog.Overlay className="fixed inset-0 z-40 bg-ink/15" />}
        <Dialog.Content
          aria-describedby={undefined}
          {...(side ? { onInteractOutside: (event: Event) => event.preventDefault() } : { "data-own-keys": true })}
          className={`fixed z-40 flex flex-col overflow-hidden border-hair bg-sheet ${place}`}
        >
          <header className="flex items-start justify-between border-b border-hair px-4 py-3">
            <div>
              <Dialog.Title className="text-head font-semibold">{title}</Dialog.Title>
              {help && <p className="text-label text-soft">{help}</p>}
            </div>
            <Dialog.Close aria-label="Close" className="rounded-[4px] p-1 text-soft hover:bg-act-ground hover:text-act">
              <X size={16} />
            </Dialog.Close>
          </header>
          <div className="min-h-0 flex-1 overflow-y-auto p-4">{children}</div>
        </Dialog.Content>
      </Dialog.Portal>
    </Dialog.Root>
  );
}
