"use client";

import { ChevronDown, Trash2 } from "lucide-react";
import { Popover } from "radix-ui";
import { useState } from "react";
import { newChainEntry, processorNamed, settingsOf, type ChainEntry } from "@core/processors";
import type { SavedPreset } from "@core/project/document";
import { Button } from "@ui/design-system/button";
import { IconButton } from "@ui/design-system/icon-button";
import { useCurrentItem } from "@ui/state/current-item";
import { newId } from "@ui/api/use-project";
import type { EntryEditing } from "./visualisers/use-entry";

/** Settings by name: those that ship, each with when to use it, and those that were kept. */
export function PresetMenu({ inHand }: { inHand: EntryEditing }) {
  const { entry, commitAll } = inHand;
  const { view, edit } = useCurrentItem();
  const [open, setOpen] = useState(false);
  const definition = processorNamed(entry.type);
  const kept = view.document.presets.filter(({ chain }) => chain.length === 1 && chain[0]!.type === entry.type);
  const take = (settings: ReturnType<typeof settingsOf>, name: string) => {
    void commitAll(settings, `preset ${name}`);
    setOpen(false);
  };
  const plain = () => settingsOf(newChainEntry(entry.type, "plain"));
  return (
    <Popover.Root open={open} onOpenChange={setOpen}>
      <Popover.Trigger asChild>
        <Button>
          Presets <ChevronDown size={13} aria-hidden />
        </Button>
      </Popover.Trigger>
      <Popover.Portal>
        <Popover.Content
          align="end"
          collisionPadding={8}
          data-own-keys
          className="z-50 flex max-h-[60vh] w-80 flex-col gap-0.5 overflow-y-auto rounded-[4px] border border-hair bg-sheet p-1"
        >
          {definition.presets.map(({ name, use, settings }) => (
            <Line key={name} name={name} use={use} onTake={() => take(Object.assign(plain(), settings), name)} />
          ))}
          <Line name="Default" use="all settings at their defaults" onTake={() => take(plain(), "default")} />
          {kept.map((preset) => (
            <div key={preset.id} className="flex items-center">
              <Line
                name={preset.name}
                use={`${preset.note || "kept in this project"}${preset.isDefault ? " · new ones begin with it" : ""}`}
                onTake={() => take(settingsOf(preset.chain[0]!), preset.name)}
              />
              <IconButton
                label={`Forget ${preset.name}`}
                onClick={() => void edit({ type: "removePreset", preset: preset.id })}
              >
                <Trash2 size={13} />
              </IconButton>
            </div>
          ))}
          <KeepThis entry={entry} onKeep={(preset) => void edit({ type: "keepPreset", preset })} />
        </Popover.Content>
      </Popover.Portal>
    </Popover.Root>
  );
}

function Line({ name, use, onTake }: { name: string; use: string; onTake: () => void }) {
  return (
    <button
      type="button"
      onClick={onTake}
      className="flex-1 rounded-[3px] px-2 py-1 text-left hover:bg-act-ground hover:text-act"
    >
      {name}
      <span className="block text-label text-soft">{use}</span>
    </button>
  );
}

function KeepThis({ entry, onKeep }: { entry: ChainEntry; onKeep: (preset: SavedPreset) => void }) {
  const [name, setName] = useState("");
  const [note, setNote] = useState("");
  const [isDefault, setDefault] = useState(false);
  const keep = () => {
    if (!name.trim()) return;
    const { id: _, alternateSettings: __, usesAlternate: ___, ...bare } = entry;
    onKeep({ id: newId(), name: name.trim(), note, isDefault, chain: [bare as ChainEntry] });
    setName("");
    setNote("");
  };
  const field = "h-7 w-full rounded-[4px] border border-hair bg-sheet px-2 outline-none focus:border-act";
  return (
    <form
      className="mt-1 flex flex-col gap-1 border-t border-grid p-1 pt-2"
      onSubmit={(event) => {
        event.preventDefault();
        keep();
      }}
    >
      <input
        aria-label="Name of the preset"
        placeholder="keep these settings as …"
        value={name}
        onChange={(event) => setName(event.target.value)}
        className={field}
      />
      <input
        aria-label="When to use it"
        placeholder="when to use them"
        value={note}
        onChange={(event) => setNote(event.target.value)}
        className={field}
      />
      <div className="flex items-center justify-between text-label">
        <label className="flex items-center gap-1.5">
          <input
            type="checkbox"
            className="accent-act"
            checked={isDefault}
            onChange={(event) => setDefault(event.target.checked)}
          />
          new ones begin with them
        </label>
        <Button type="submit" disabled={!name.trim()}>
          Keep
        </Button>
      </div>
    </form>
  );
}
