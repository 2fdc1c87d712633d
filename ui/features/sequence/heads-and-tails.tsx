"use client";

import { useEffect, useRef, useState } from "react";
import { toast } from "sonner";
import type { EndChange } from "@core/edit-list/heads-and-tails";
import type { Item } from "@core/project/document";
import { Button } from "@ui/design-system/button";
import { NumberInput } from "@ui/design-system/number-input";
import { useCurrentItem } from "@ui/state/current-item";
import { useWholeProgramme } from "@ui/state/programme";
import { openItem } from "@ui/state/workspace-store";
import { changesOf, estimatedEnds, withFittedEnds, type WantedEnds } from "./fit-ends";

/** Ends that differ by less are left as they are. */
const WITHIN_SECONDS = 0.02;

/** What would be done to an end, in words; `null` where it has the length. */
function proposal(name: string, { takenOff, putIn }: EndChange, sampleRate: number): string | null {
  const seconds = (frames: number) => (frames / sampleRate).toFixed(2);
  if (Math.max(takenOff, putIn) < WITHIN_SECONDS * sampleRate) return null;
  const off = takenOff > 0 ? `take off ${seconds(takenOff)} s` : "";
  const on = putIn > 0 ? `put in ${seconds(putIn)} s of this room's tone` : "";
  return `${name}: ${[off, on].filter(Boolean).join(", ")}`;
}

/** Heads and tails of all items brought to one length of room tone, in one edit. */
export function HeadsAndTails() {
  const { view, edit } = useCurrentItem();
  const { order, known } = useWholeProgramme();
  const [wanted, setWanted] = useState<WantedEnds>({ headSeconds: 0.75, tailSeconds: 3 });
  const [done, setDone] = useState<number | null>(null);
  const work = useRef<AbortController | null>(null);
  useEffect(() => () => work.current?.abort(), []);
  const { items } = view.document;
  const stored = order.flatMap(({ id }) => {
    const item = items.find((one) => one.id === id)!;
    const figures = view.sources.find(({ hash }) => hash === item.source)?.figures;
    return figures ? [{ item, ends: estimatedEnds(item, figures), sampleRate: figures.sampleRate }] : [];
  });
  const unknown = stored.filter(({ ends }) => ends.head === null || ends.tail === null);
  const proposed = stored.flatMap(({ item, ends, sampleRate }) => {
    const { head, tail } = changesOf(ends, wanted, sampleRate);
    const words = [proposal("head", head, sampleRate), proposal("tail", tail, sampleRate)].flatMap((one) => one ?? []);
    return words.length > 0 ? [{ item, words: words.join(" · ") }] : [];
  });
  const fit = async () => {
    const { signal } = (work.current = new AbortController());
    const fitted: { item: string; clips: NonNullable<Item["clips"]> }[] = [];
    const failed: string[] = [];
    setDone(0);
    for (const [at, { item }] of proposed.entries()) {
      const source = view.sources.find(({ hash }) => hash === item.source);
      const facts = known(item);
      if (!source?.pcm_hash || !facts) continue;
      try {
        const clips = await withFittedEnds(item, source, facts.curves, wanted, signal);
        if (clips) fitted.push({ item: item.id, clips });
      } catch (error) {
        if (signal.aborted) return;
        failed.push(error instanceof Error ? error.message : String(error));
      }
      setDone(at + 1);
    }
    setDone(null);
    const what = `head ${wanted.headSeconds} s, tail ${wanted.tailSeconds} s of room tone`;
    if (fitted.length > 0) await edit({ type: "setClipsOfItems", items: fitted, what });
    if (failed.length > 0) toast.error(`${failed.length} stay as they are`, { description: failed.join(" ") });
    else toast.success(fitted.length === 0 ? "All have these lengths" : `${fitted.length} items: ${what}`);
  };
  return (
    <section aria-label="Heads and tails" className="mt-4 text-label">
      <h3 className="flex items-center gap-2 font-semibold">
        Heads and tails
        <span className="font-normal text-soft">of room tone, from the end to the first or last wanted sound:</span>
        {(["head", "tail"] as const).map((end) => (
          <span key={end} className="w-24">
            <NumberInput
              label={`${end === "head" ? "Head" : "Tail"} of all items`}
              value={wanted[`${end}Seconds`]}
              unit="s"
              onCommit={(seconds) => setWanted({ ...wanted, [`${end}Seconds`]: Math.max(0, Math.min(30, seconds)) })}
            />
          </span>
        ))}
        <Button disabled={proposed.length === 0 || done !== null} onClick={() => void fit()}>
          {done === null
            ? proposed.length === 0
              ? "Set"
              : `Set ${proposed.length}`
            : `${done} of ${proposed.length} …`}
        </Button>
      </h3>
      {unknown.length > 0 && (
        <p className="text-close">
          {`◆ no sound that stands out of a steady room at an end of ${unknown.length === 1 ? `“${unknown[0]!.item.name}”` : `${unknown.length} items`}`}
        </p>
      )}
      {proposed.length === 0 && unknown.length < stored.length && (
        <p className="text-soft">{unknown.length > 0 ? "All others" : "All"} have these lengths.</p>
      )}
      <ul className="mt-1 max-h-40 overflow-y-auto">
        {proposed.map(({ item, words }) => (
          <li key={item.id} className="flex gap-2 border-t border-grid py-0.5">
            <button
              type="button"
              className="w-48 truncate text-left text-act hover:underline"
              onClick={() => openItem(item.id)}
            >
              {item.name}
            </button>
            <span className="figure">{words}</span>
          </li>
        ))}
      </ul>
    </section>
  );
}
