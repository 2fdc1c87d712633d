"use client";

import { Snowflake } from "lucide-react";
import { groupNamed } from "@core/processors/groups";
import { processorNamed, settingsOf, type ChainEntry } from "@core/processors";
import { useEngineState } from "@ui/state/listening-engine";
import { CardReduction } from "./live-reduction";
import { groupColour } from "./group-colour";

interface ChainCardProps {
  entry: ChainEntry;
  /** Whether it is made ahead. */
  isFrozen: boolean;
  chosen: boolean;
  onChoose: () => void;
  /** Alt and an arrow key: one place earlier, or later. */
  onMove: (by: 1 | -1) => void;
  onDrag: () => void;
  onDrop: () => void;
}

/** A processor of a chain: what it is, and what it is set to. */
export function ChainCard({ entry, isFrozen, chosen, onChoose, onMove, onDrag, onDrop }: ChainCardProps) {
  const definition = processorNamed(entry.type);
  const group = groupNamed(definition.group);
  const muted = useEngineState().muted.some((failure) => failure.entry === entry.id);
  return (
    <button
      type="button"
      draggable
      onClick={onChoose}
      onKeyDown={(event) => {
        if (!event.altKey || !event.key.startsWith("Arrow")) return;
        event.preventDefault();
        event.stopPropagation();
        onMove(event.key === "ArrowRight" ? 1 : -1);
      }}
      onDragStart={onDrag}
      onDragOver={(event) => event.preventDefault()}
      onDrop={(event) => {
        event.preventDefault();
        onDrop();
      }}
      aria-pressed={chosen}
      title={`${definition.help}. Drag it, or Alt and arrow keys, to another place.`}
      className={`flex w-[118px] shrink-0 flex-col items-start rounded-[4px] border border-l-[4px] bg-sheet px-2 py-1 text-left ${chosen ? "outline-2 outline-act bg-act-ground" : "border-hair"} ${entry.bypass ? "opacity-55" : ""}`}
      style={{ borderLeftColor: groupColour(definition.group) }}
    >
      <span className="text-label leading-3" style={{ color: groupColour(definition.group) }}>
        {group.name.toLowerCase()}
        {isFrozen && <Snowflake size={10} aria-label="frozen" className="ml-1 inline" />}
      </span>
      <span className="font-semibold">{definition.name}</span>
      <span className="line-clamp-2 text-label leading-[14px] text-soft">
        {muted ? (
          <span className="text-outside">▲ muted: it failed</span>
        ) : entry.bypass && entry.type !== "unavailable" ? (
          "bypassed"
        ) : (
          `${definition.summary(settingsOf(entry))}${entry.automation ? " · moves" : ""}`
        )}
      </span>
      {definition.reductionNames && entry.id && !entry.bypass && (
        <CardReduction entryId={entry.id} name={definition.name} />
      )}
    </button>
  );
}
