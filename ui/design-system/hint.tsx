"use client";

import { Tooltip } from "radix-ui";
import type { ReactNode } from "react";

/** A tooltip that says in words what a control does, and its key. */
export function Hint({
  text,
  shortcut,
  children,
}: {
  text: string;
  shortcut?: string | undefined;
  children: ReactNode;
}) {
  return (
    <Tooltip.Root>
      <Tooltip.Trigger asChild>{children}</Tooltip.Trigger>
      <Tooltip.Portal>
        <Tooltip.Content
          sideOffset={6}
          collisionPadding={8}
          className="z-50 max-w-72 rounded-[4px] border border-hair bg-sheet px-2 py-1 text-label text-ink shadow-sm"
        >
          {text}
          {shortcut && <kbd className="figure ml-2 rounded-[3px] border border-hair px-1 text-soft">{shortcut}</kbd>}
        </Tooltip.Content>
      </Tooltip.Portal>
    </Tooltip.Root>
  );
}
