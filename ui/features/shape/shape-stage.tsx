"use client";

import { useEffect, useState } from "react";
import type { ChainEntry } from "@core/processors";
import { PROGRAMME_ID } from "@core/project/document";
import { useWorkspace } from "@ui/state/workspace-store";
import { useCurrentItem } from "@ui/state/current-item";
import { ChainStrip } from "./chain-strip";
import { EntryEditor } from "./entry-editor";
import { EntrySide } from "./entry-side";
import { UsualChain } from "./usual-chain";
import { useEntry } from "./visualisers/use-entry";

/** The item's chain and the programme's, with level and margins between all processors, and the one in hand. */
export function ShapeStage() {
  const { facts, chain, item } = useCurrentItem();
  const [chosen, setChosen] = useState<string | null>(null);
  const withoutChain = useWorkspace((workspace) => workspace.chainBypassed);
  useEffect(() => () => useWorkspace.setState({ soloBand: null }), [chosen]);
  if (!facts || !item) return <p className="p-4 text-soft">Once a recording is read, its chain is built here.</p>;
  const entry = chain.find(({ id }) => id === chosen) ?? chain[0];
  return (
    <div className="flex h-full flex-col">
      {withoutChain && (
        <p className="flex items-center justify-between bg-act-ground px-4 py-1">
          All processors are passed over, in listening and in the figures here; masters are rendered with them.
          <button type="button" className="text-act" onClick={() => useWorkspace.setState({ chainBypassed: false })}>
            hear them again
          </button>
        </p>
      )}
      <ChainStrip chosen={entry?.id ?? null} onChoose={setChosen} />
      {entry ? (
        <InHandEntry
          key={entry.id}
          entry={entry}
          owner={chain.indexOf(entry) < item.chain.length ? item.id : PROGRAMME_ID}
          onChoose={setChosen}
        />
      ) : (
        <UsualChain onChoose={setChosen} />
      )}
    </div>
  );
}

function InHandEntry({ entry, owner, onChoose }: { entry: ChainEntry; owner: string; onChoose: (id: string) => void }) {
  const inHand = useEntry(entry, owner);
  return (
    <div className="grid min-h-0 flex-1 grid-cols-[minmax(0,1fr)_222px]">
      <EntryEditor inHand={inHand} />
      <EntrySide inHand={inHand} onChoose={onChoose} />
    </div>
  );
}
