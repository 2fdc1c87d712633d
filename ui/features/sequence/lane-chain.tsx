"use client";

import { X } from "lucide-react";
import { useState } from "react";
import { processorNamed, type ChainEntry } from "@core/processors";
import { laneOwner } from "@core/project/chain-owners";
import { ORDER, type Lane } from "@core/programme/programme";
import { Select } from "@ui/design-system/controls";
import { AddProcessor } from "@ui/features/shape/chain-strip";
import { ChainCard } from "@ui/features/shape/chain-card";
import { EntryEditor } from "@ui/features/shape/entry-editor";
import { EntrySide } from "@ui/features/shape/entry-side";
import { useEntry } from "@ui/features/shape/visualisers/use-entry";
import { IconButton } from "@ui/design-system/icon-button";
import { CurrentItemContext, useCurrentItem } from "@ui/state/current-item";
import { useWholeProgramme } from "@ui/state/programme";
import { chainWithPending, useWorkspace } from "@ui/state/workspace-store";

/** The chain that all of a lane goes through, and the processor of it that is in hand. */
export function LaneChain({ lane }: { lane: Lane }) {
  const current = useCurrentItem();
  const pending = useWorkspace((workspace) => workspace.pendingParameter);
  const [chosen, setChosen] = useState<string | null>(null);
  const owner = laneOwner(lane.id);
  const chain = chainWithPending(lane.chain, pending);
  const entry = chain.find(({ id }) => id === chosen) ?? chain[0];
  // Curves of the item in hand are not those of the lane, whose time is the programme's.
  const seen = { ...current, chain, facts: null, chainCurves: null, reductions: null };
  const move = (id: string | undefined, to: number) => {
    if (id && to >= 0 && to < chain.length) void current.edit({ type: "moveProcessor", item: owner, entry: id, to });
  };
  const add = (entries: ChainEntry[]) => {
    for (const one of entries) void current.edit({ type: "addProcessor", item: owner, entry: one });
    setChosen(entries.at(-1)?.id ?? null);
  };
  return (
    <CurrentItemContext.Provider value={seen}>
      <div className="flex h-full min-h-0 flex-col" aria-label={`Chain of the lane ${lane.name}`} role="group">
        <header className="flex shrink-0 items-center gap-2 px-3 pt-1">
          <h2 className="font-semibold">Chain of the lane {lane.name}</h2>
          <span className="mr-auto text-label text-soft">
            all that lies on it goes through this, before its gain and ducker
          </span>
          <IconButton label="Back to the join" onClick={() => useWorkspace.setState({ laneInHand: null })}>
            <X size={14} />
          </IconButton>
        </header>
        <div className="flex shrink-0 items-stretch gap-1 overflow-x-auto border-b border-hair bg-paper px-2 py-1.5">
          {chain.map((one, index) => (
            <ChainCard
              key={one.id}
              entry={one}
              isFrozen={false}
              chosen={one.id === entry?.id}
              onChoose={() => setChosen(one.id ?? null)}
              onMove={(by) => move(one.id, index + by)}
              onDrag={() => setChosen(one.id ?? null)}
              onDrop={() => move(entry?.id, index)}
            />
          ))}
          <AddProcessor words="Add for the lane" onAdd={add} />
        </div>
        {entry ? (
          <LaneEntry key={entry.id} entry={entry} owner={owner} onChoose={setChosen} />
        ) : (
          <p className="px-3 py-2 text-label text-soft">
            The chain of the lane is empty: what lies on it is heard through the chains of its items alone, then through
            that of the programme.
          </p>
        )}
      </div>
    </CurrentItemContext.Provider>
  );
}

function LaneEntry({ entry, owner, onChoose }: { entry: ChainEntry; owner: string; onChoose: (id: string) => void }) {
  const inHand = useEntry(entry, owner);
  const { timeline } = useWholeProgramme();
  return (
    <div className="grid min-h-0 flex-1 grid-cols-[minmax(0,1fr)_222px] overflow-hidden">
      <div className="flex min-h-0 flex-col">
        {processorNamed(entry.type).takesKey && <KeyChoice entry={entry} owner={owner} />}
        <EntryEditor inHand={inHand} layout={timeline?.layout} />
      </div>
      <EntrySide inHand={inHand} onChoose={onChoose} />
    </div>
  );
}

const OWN = "";

/** What the processor listens to. */
function KeyChoice({ entry, owner }: { entry: ChainEntry; owner: string }) {
  const { view, edit } = useCurrentItem();
  const others = view.document.programme.lanes.filter(({ id }) => laneOwner(id) !== owner);
  const names = new Map([
    [OWN, "its own sound"],
    [ORDER, "the order"],
    ...others.map(({ id, name }): [string, string] => [id, name]),
  ]);
  // One that is gone is listened to no more, and stands here until another is chosen.
  if (entry.key && !names.has(entry.key)) names.set(entry.key, "a lane that is gone: its own sound");
  return (
    <p className="flex shrink-0 items-center gap-2 px-3 pt-1.5 text-label">
      <span className="text-soft" title="External key: what it listens to, to work on the sound of this lane">
        Key
      </span>
      <Select
        label="Key"
        value={entry.key ?? OWN}
        options={[...names.keys()]}
        words={(id) => names.get(id) ?? id}
        onChange={(key) =>
          void edit({ type: "setKey", item: owner, entry: entry.id ?? "", key: key === OWN ? null : key })
        }
      />
    </p>
  );
}
