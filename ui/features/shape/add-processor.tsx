"use client";

import { Command } from "cmdk";
import { Popover } from "radix-ui";
import { useState, type ReactNode } from "react";
import { GROUPS } from "@core/processors/groups";
import { newChainEntry, PROCESSORS, type ChainEntry } from "@core/processors";
import { useCurrentItem } from "@ui/state/current-item";
import { newId } from "@ui/api/use-project";
import { groupColour } from "./group-colour";

const ITEM =
  "flex flex-col rounded-[3px] border-l-[3px] px-2 py-1 data-[selected=true]:bg-act-ground data-[selected=true]:text-act";
const GROUP =
  "[&_[cmdk-group-heading]]:px-2 [&_[cmdk-group-heading]]:pt-1.5 [&_[cmdk-group-heading]]:text-label [&_[cmdk-group-heading]]:text-soft";

/** Letters that a stem has at least, and that a longer word of it may have more. */
const [STEM, ENDING] = [4, 3];

/** How well a processor fits what was typed: its name best, then every word of it anywhere in what it does. */
function fits(value: string, typed: string): number {
  const [text, wanted] = [value.toLowerCase(), typed.trim().toLowerCase()];
  if (text.startsWith(wanted)) return 1;
  const words = wanted.split(/\s+/);
  // "boomy" finds "boom": a longer word of the same stem counts.
  const own = text.split(/\W+/).filter(({ length }) => length >= STEM);
  const all = text.split(/\W+/);
  // A single letter stands for itself.
  const fitsWord = (word: string) =>
    word.length === 1
      ? all.includes(word)
      : text.includes(word) || own.some((stem) => word.startsWith(stem) && word.length - stem.length <= ENDING);
  if (!words.every(fitsWord)) return 0;
  return text.split(" ").some((word) => word.startsWith(words[0]!)) ? 0.6 : 0.3;
}

/** A list of all processors and kept presets, found by what they are for. */
export function ProcessorMenu({
  trigger,
  className,
  label,
  onChoose,
}: {
  trigger: ReactNode;
  className: string;
  label: string;
  /** One entry, or those of a kept chain. */
  onChoose: (entries: ChainEntry[]) => void;
}) {
  const { view } = useCurrentItem();
  const [open, setOpen] = useState(false);
  const { presets } = view.document;
  const choose = (entries: ChainEntry[]) => {
    setOpen(false);
    onChoose(entries.map((entry) => ({ ...entry, id: newId() })));
  };
  const fresh = (type: string): ChainEntry => {
    const own = presets.find(({ isDefault, chain }) => isDefault && chain.length === 1 && chain[0]!.type === type);
    return own?.chain[0] ?? newChainEntry(type, newId());
  };
  return (
    <Popover.Root open={open} onOpenChange={setOpen}>
      <Popover.Trigger className={className}>{trigger}</Popover.Trigger>
      <Popover.Portal>
        <Popover.Content
          align="start"
          collisionPadding={8}
          data-own-keys
          className="z-50 w-[430px] overflow-hidden rounded-[4px] border border-hair bg-sheet"
        >
          <Command label={label} filter={fits}>
            <Command.Input
              autoFocus
              placeholder="what should it do? boomy, s sounds, louder, wider …"
              className="w-full border-b border-hair bg-transparent px-3 py-2 outline-none"
            />
            <Command.List className="max-h-[46vh] overflow-y-auto p-1">
              <Command.Empty className="px-3 py-4 text-soft">Nothing does that. Try another word.</Command.Empty>
              {GROUPS.map((group) => (
                <Command.Group key={group.id} heading={group.name} className={GROUP}>
                  {PROCESSORS.filter((one) => one.group === group.id).map(({ id, name, help, keywords }) => (
                    <Command.Item
                      key={id}
                      value={`${name} ${help} ${keywords}`}
                      onSelect={() => choose([fresh(id)])}
                      className={ITEM}
                      style={{ borderColor: groupColour(group.id) }}
                    >
                      {name}
                      <span className="text-label text-soft">{help}</span>
                    </Command.Item>
                  ))}
                </Command.Group>
              ))}
              {presets.length > 0 && (
                <Command.Group heading="Kept in this project" className={GROUP}>
                  {presets.map(({ id, name, note, chain }) => (
                    <Command.Item
                      key={id}
                      value={`${name} ${note} ${id}`}
                      onSelect={() => choose(chain)}
                      className={ITEM}
                      style={{ borderColor: "var(--hair)" }}
                    >
                      {name}
                      <span className="text-label text-soft">
                        {note || (chain.length > 1 ? `a chain of ${chain.length}` : "settings of one processor")}
                      </span>
                    </Command.Item>
                  ))}
                </Command.Group>
              )}
            </Command.List>
          </Command>
        </Popover.Content>
      </Popover.Portal>
    </Popover.Root>
  );
}
