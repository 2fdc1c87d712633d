"use client";

import { useState } from "react";
import type { Tempo } from "@core/audio/timecode";
import { useCurrentItem, type ItemFacts } from "@ui/state/current-item";
import { useWorkspace } from "@ui/state/workspace-store";
import { Button } from "@ui/design-system/button";

const FIELDS = [
  { key: "beatsPerMinute", words: "beats a minute", min: 20, max: 400, step: 0.01 },
  { key: "beatsPerBar", words: "beats in a bar", min: 1, max: 16, step: 1 },
  { key: "startSeconds", words: "first bar at, seconds", min: -60, max: 36_000, step: 0.001 },
] as const;

/** The item's tempo, so that bars can be told. */
export function TempoFields({ facts }: { facts: ItemFacts }) {
  const { edit } = useCurrentItem();
  const { tempo } = facts.item;
  const cursor = useWorkspace((workspace) => workspace.cursor);
  const [draft, setDraft] = useState<Tempo>(tempo ?? { beatsPerMinute: 120, beatsPerBar: 4, startSeconds: 0 });
  const set = (change: Partial<Tempo>) => setDraft((now) => ({ ...now, ...change }));
  const right = FIELDS.every(({ key, min, max }) => draft[key] >= min && draft[key] <= max);
  return (
    <form
      className="mt-2 border-t border-hair pt-2"
      onSubmit={(event) => {
        event.preventDefault();
        if (right) void edit({ type: "setTempo", item: facts.item.id, tempo: draft });
      }}
    >
      <h2 className="mb-1 font-semibold">Tempo{tempo ? "" : ": none, bars are told as clock"}</h2>
      {FIELDS.map(({ key, words, min, max, step }) => (
        <label key={key} className="grid grid-cols-[1fr_88px] items-center gap-2 py-0.5 text-label">
          <span className="text-soft">{words}</span>
          <input
            type="number"
            min={min}
            max={max}
            step={step}
            value={draft[key]}
            onChange={(event) => set({ [key]: Number(event.target.value) })}
            className="figure h-6 rounded-[4px] border border-hair bg-sheet px-1 text-right"
          />
        </label>
      ))}
      <div className="mt-1 flex gap-2">
        <Button onClick={() => set({ startSeconds: Number(cursor.toFixed(3)) })}>Bar 1 at the playhead</Button>
        <Button kind="main" type="submit" disabled={!right}>
          Set
        </Button>
        {tempo && (
          <Button onClick={() => void edit({ type: "setTempo", item: facts.item.id, tempo: null })}>Remove</Button>
        )}
      </div>
    </form>
  );
}
