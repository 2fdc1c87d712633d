"use client";

import { useMemo, useState } from "react";
import { toast } from "sonner";
import { formatDb, formatTime } from "@core/audio/format";
import { EditList } from "@core/edit-list/edit-list";
import { alignedAtSeconds } from "@core/programme/references";
import { fingerprintOf, type Fingerprint } from "@core/compare/fingerprint";
import { matched, type Candidate } from "@core/compare/matching";
import type { Item } from "@core/project/document";
import { movedAlong } from "@core/project/replacement";
import type { Replacement } from "@core/project/recording-commands";
import type { TimeMapAnswer } from "@playback/time-map.worker";
import { blobUrl } from "@ui/api/api";
import { uploadFiles, useUploads } from "@ui/api/uploads";
import { Button } from "@ui/design-system/button";
import { Select } from "@ui/design-system/controls";
import { SheetDialog } from "@ui/design-system/sheet-dialog";
import { useCurrentItem } from "@ui/state/current-item";
import { FigureChange, HowItLies, type Laid } from "./how-it-lies";
import { LaterVerdicts } from "./later-verdicts";
import { useWholeProgramme } from "@ui/state/programme";
import { askWorker } from "@ui/workers/ask-worker";

const NONE = "";
const REPLACES = "replaces it";
const USUAL_MIXES = ["instrumental", "clean", "a cappella"];

/** What was chosen for a later recording, and what came of laying it on the earlier one. */
interface Choice {
  of: string;
  as: string;
}

const prints = new WeakMap<object, Fingerprint>();

/** Takes later recordings in: matched to items by sound, length and name, corrected by hand, in one edit. */
export function ReplaceDialog({ onClose }: { onClose: () => void }) {
  const { view, edit } = useCurrentItem();
  const { known } = useWholeProgramme();
  const { items } = view.document;
  // What was there when the dialog opened is what may be replaced.
  const [before] = useState(() => new Set(items.map(({ id }) => id)));
  const [chosen, setChosen] = useState<Record<string, Choice>>({});
  const [isKept, setKept] = useState(false);
  const [laid, setLaid] = useState<Record<string, Laid>>({});
  const sending = useUploads(({ uploads }) => uploads.filter(({ state }) => state !== "failed").length);
  const arrived = items.filter(({ id }) => !before.has(id));
  const earlier = items.filter(({ id }) => before.has(id));
  const sourceOf = (item: Item) => view.sources.find(({ hash }) => hash === item.source);
  const isRead = (item: Item) => sourceOf(item)?.figures != null && known(item) !== null;

  const candidates = useMemo(() => {
    const candidate = (item: Item): Candidate => {
      const facts = known(item);
      let fingerprint = facts && (prints.get(facts.curves) ?? null);
      if (facts && !fingerprint) prints.set(facts.curves, (fingerprint = fingerprintOf(facts.curves)));
      return { id: item.id, name: item.name, seconds: facts?.figures.durationSeconds ?? 0, fingerprint };
    };
    return { arrived: arrived.map(candidate), earlier: earlier.map(candidate) };
    // Lists are made anew by each rendering from the same document.
    // oxlint-disable-next-line react-hooks/exhaustive-deps
  }, [items, known]);
  const matches = useMemo(() => {
    const found = matched(candidates.arrived, candidates.earlier);
    return new Map(found.map((match) => [match.id, match]));
  }, [candidates]);
  const choiceOf = (item: Item): Choice => chosen[item.id] ?? { of: matches.get(item.id)?.of ?? NONE, as: REPLACES };
  const pairOf = (item: Item) => {
    const choice = choiceOf(item);
    const target = earlier.find(({ id }) => id === choice.of);
    return target ? { item, target, choice, key: `${sourceOf(item)?.hash} ${target.source}` } : null;
  };
  const pairs = arrived.flatMap((item) => pairOf(item) ?? []);
  const ready = pairs.filter(({ key, choice }) => choice.as !== REPLACES || laid[key]?.state === "done");

  const compare = async () => {
    for (const { item, target, key } of pairs) {
      if (laid[key]?.state === "done") continue;
      const [old, fresh] = [sourceOf(target), sourceOf(item)];
      if (!old?.pcm_hash || !fresh?.pcm_hash) continue;
      const set = (state: Laid) => setLaid((now) => ({ ...now, [key]: state }));
      set({ state: "comparing", fraction: 0 });
      const worker = new Worker(new URL("../../../playback/time-map.worker.ts", import.meta.url), { type: "module" });
      try {
        const request = { earlier: blobUrl(old.pcm_hash), later: blobUrl(fresh.pcm_hash) };
        const { map } = await askWorker<TimeMapAnswer>(worker, request, {
          onProgress: ({ fraction }) => set({ state: "comparing", fraction }),
        });
        set({ state: "done", map });
      } catch (error) {
        set({ state: "failed", why: error instanceof Error ? error.message : String(error) });
      }
    }
  };
  const outcomeOf = ({ item, target, key }: (typeof pairs)[number]) => {
    const state = laid[key];
    const [old, fresh] = [sourceOf(target)?.figures, sourceOf(item)?.figures];
    if (state?.state !== "done" || !old || !fresh) return null;
    const whole = { stretches: [{ start: 0, end: Math.min(old.frames, fresh.frames), shift: 0 }] };
    return movedAlong(target, state.map ?? whole, { earlier: old.frames, later: fresh.frames }, old.sampleRate);
  };
  const take = async () => {
    const replacements = ready.map((pair): Replacement => {
      const { item, target, choice } = pair;
      const state = laid[pair.key];
      const shift = state?.state === "done" ? (state.map?.stretches[0]?.shift ?? 0) : 0;
      const common = { item: target.id, source: item.source, arrived: item.id, ...(shift === 0 ? {} : { shift }) };
      if (choice.as !== REPLACES) return { ...common, mix: choice.as };
      const outcome = outcomeOf(pair);
      if (!outcome) return common;
      const { lost: _, ...moved } = outcome;
      const { frames = 0, sampleRate = 1 } = sourceOf(item)?.figures ?? {};
      const atSeconds = alignedAtSeconds(EditList.of(moved.clips, frames), -shift, sampleRate);
      const reference = { id: crypto.randomUUID(), source: target.source, item: target.id, atSeconds };
      return { ...common, moved, ...(isKept ? { reference } : {}) };
    });
    const lost = ready.flatMap((pair) => (pair.choice.as === REPLACES ? (outcomeOf(pair)?.lost ?? []) : []));
    await edit({ type: "replaceRecordings", replacements });
    toast.success(
      `${replacements.length === 1 ? "One recording was" : `${replacements.length} recordings were`} taken in`,
      {
        ...(lost.length > 0
          ? { description: `${lost.length} places lie in parts that are gone: they were put at the nearest.` }
          : {}),
      },
    );
    onClose();
  };

  return (
    <SheetDialog
      open
      wide
      onClose={onClose}
      title="Replace recordings"
      help="Later mixes take the place of recordings, or stand beside them as mixes. What was done to an item holds for the new recording; everything is one edit, and can be undone."
    >
      <label className="inline-flex cursor-pointer items-center gap-2 rounded-[4px] border border-hair px-3 py-1 text-act hover:border-act">
        Choose files …
        <input
          type="file"
          multiple
          data-testid="replace-input"
          className="sr-only"
          onChange={(event) => {
            void uploadFiles(view.id, [...(event.target.files ?? [])]);
            event.target.value = "";
          }}
        />
      </label>
      {sending > 0 && <span className="ml-3 text-label text-soft">{sending} being sent …</span>}
      {arrived.length === 0 ? (
        <p className="py-3 text-label text-soft">The later recordings appear here once they are sent.</p>
      ) : (
        <table className="mt-2 w-full text-label" data-testid="replacements">
          <thead className="text-left text-soft">
            <tr className="border-b border-hair [&>th]:pr-3 [&>th]:font-normal">
              <th>later recording</th>
              <th>belongs to</th>
              <th>as</th>
              <th className="text-right">likeness</th>
              <th className="text-right">length</th>
              <th
                className="text-right"
                title="Integrated loudness and true peak of the later recording against the earlier one"
              >
                LU · dBTP
              </th>
              <th title="What each deliverable will make of it by the item's chain, as predicted; outlined where it is worse than now">
                will be
              </th>
              <th>how it lies</th>
            </tr>
          </thead>
          <tbody>
            {arrived.map((item) => {
              const pair = pairOf(item);
              const choice = choiceOf(item);
              const target = pair?.target;
              const [now, then] = [
                known(item)?.figures.durationSeconds,
                target && known(target)?.figures.durationSeconds,
              ];
              const match = matches.get(item.id);
              const names = [...new Set([...(target?.mixes?.map(({ name }) => name) ?? []), ...USUAL_MIXES])];
              return (
                <tr key={item.id} className="h-8 border-b border-grid [&>td]:pr-3">
                  <td className="max-w-40 truncate" title={item.name}>
                    {item.name}
                  </td>
                  <td>
                    <Select
                      label={`What ${item.name} belongs to`}
                      value={choice.of}
                      options={[NONE, ...earlier.map(({ id }) => id)]}
                      words={(id) =>
                        id === NONE ? "nothing: a new item" : (earlier.find((one) => one.id === id)?.name ?? id)
                      }
                      onChange={(of) => setChosen({ ...chosen, [item.id]: { ...choice, of } })}
                    />
                  </td>
                  <td>
                    <Select
                      label={`What ${item.name} becomes`}
                      value={choice.as}
                      options={[REPLACES, ...names]}
                      words={(as) => (as === REPLACES ? as : `mix “${as}”`)}
                      onChange={(as) => setChosen({ ...chosen, [item.id]: { ...choice, as } })}
                    />
                  </td>
                  <td className="figure text-right">
                    {!isRead(item)
                      ? "being read"
                      : match?.of === choice.of && match.likeness !== null
                        ? match.likeness.toFixed(2)
                        : "—"}
                  </td>
                  <td className="figure text-right">
                    {now === undefined
                      ? "—"
                      : then === undefined
                        ? formatTime(now, 1)
                        : `${formatDb(now - then, { sign: true, digits: 2 })} s`}
                  </td>
                  <td className="figure text-right whitespace-nowrap">
                    {pair && <FigureChange earlier={known(pair.target)?.figures} later={known(item)?.figures} />}
                  </td>
                  <td>{pair && isRead(item) && <LaterVerdicts item={item} target={pair.target} />}</td>
                  <td className="pl-2">
                    {pair && (
                      <HowItLies
                        laid={laid[pair.key]}
                        lost={choice.as === REPLACES ? (outcomeOf(pair)?.lost ?? []) : []}
                        rate={sourceOf(item)?.figures?.sampleRate ?? 1}
                        isMix={choice.as !== REPLACES}
                      />
                    )}
                  </td>
                </tr>
              );
            })}
          </tbody>
        </table>
      )}
      <div className="mt-3 flex items-center justify-end gap-2">
        <label className="mr-auto flex items-center gap-2 text-label">
          <input type="checkbox" checked={isKept} onChange={(event) => setKept(event.target.checked)} />
          Lay the earlier recordings beside as references, to be switched to while it plays
        </label>
        <Button
          disabled={!arrived.every(isRead) || pairs.every(({ key }) => laid[key]?.state === "done")}
          onClick={() => void compare()}
        >
          Lay them on each other
        </Button>
        <Button kind="main" disabled={ready.length === 0 || ready.length < pairs.length} onClick={() => void take()}>
          Take in {ready.length}
        </Button>
      </div>
    </SheetDialog>
  );
}
