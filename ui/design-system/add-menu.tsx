import { DropdownMenu } from "radix-ui";
import type { ReactNode } from "react";

/** A menu of things that can be added, each with a line of what it is for. */
export function AddMenu({
  trigger,
  className,
  note,
  of,
  onAdd,
}: {
  trigger: ReactNode;
  className: string;
  /** Said above all of them. */
  note?: string;
  of: readonly { id: string; name: string; help: string }[];
  onAdd: (id: string) => void;
}) {
  return (
    <DropdownMenu.Root>
      <DropdownMenu.Trigger className={className}>{trigger}</DropdownMenu.Trigger>
      <DropdownMenu.Portal>
        <DropdownMenu.Content
          align="start"
          collisionPadding={8}
          className="z-50 max-h-[var(--radix-dropdown-menu-content-available-height)] w-80 overflow-y-auto rounded-[4px] border border-hair bg-sheet p-1"
        >
          {note && <p className="px-2 py-1 text-label text-soft">{note}</p>}
          {of.map(({ id, name, help }) => (
            <DropdownMenu.Item
              key={id}
              onSelect={() => onAdd(id)}
              className="rounded-[3px] px-2 py-1 outline-none data-highlighted:bg-act-ground data-highlighted:text-act"
            >
              {name}
              <span className="block text-label text-soft">{help}</span>
            </DropdownMenu.Item>
          ))}
        </DropdownMenu.Content>
      </DropdownMenu.Portal>
    </DropdownMenu.Root>
  );
}
