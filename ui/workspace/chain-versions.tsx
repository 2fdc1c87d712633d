"use client";

import { Trash2 } from "lucide-react";
import { useMemo, useState } from "react";
import type { ChainEntry } from "@core/processors";
import type { ChainVersion } from "@core/project/document";
import { isActive } from "@core/repair";
import { predictNow } from "@core/delivery/predict-chain";
import { formatDb } from "@core/audio/format";
import { blobUrl } from "@ui/api/api";
import { Button } from "@ui/design-system/button";
import { IconButton } from "@ui/design-system/icon-button";
import { useWorkspace } from "../state/workspace-store";
import { useEngineState } from "../state/listening-engine";
import type { CompareSlot } from "../state/monitor-source";
import { useCurrentItem } from "../state/current-item";
import { useRenderedRepairs } from "../state/repair-progress";
import { MAX_RANGE_SECONDS, useRangeFigures } from "../state/use-range-figures";
import { newId } from "../api/use-project";

/** Chains of the item in hand that were kept by name: side by side with their figures, into a slot, or to work again. */
export function ChainVersions() {
  const { item, facts, view, edit } = useCurrentItem();
  const [name, setName] = useState("");
  if (!item || !facts) return null;
  const versions = item.versions ?? [];
  const keep = () => {
    const given = name.trim() || `Chain ${versions.length + 1}`;
    void edit({ type: "keepVersion", item: item.id, id: newId(), name: given });
    setName("");
  };
  return (
    <section className="mt-4 border-t border-hair pt-2" aria-label="Versions of the chain">
      <h3 className="font-semibold">Chains of “{item.name}”</h3>
      <table className="w-full text-label [&_td]:pr-2 [&_th]:pr-2 [&_th]:font-normal">
        <thead className="text-soft">
          <tr>
            <th className="text-left">version</th>
            <th className="text-right">LUFS</th>
            <th className="text-right">dBTP</th>
            <th className="text-right">LU range</th>
            <th className="text-right">peak − loudness</th>
          </tr>
        </thead>
        <tbody>
          <VersionRow words="as it came" chain={[]} />
          <VersionRow words="as it is now" chain={[...item.chain, ...view.document.chain]} />
          {versions.map((version) => (
            <VersionRow
              key={version.id}
              words={version.name}
              chain={[...version.chain, ...view.document.chain]}
              version={version}
            />
          ))}
        </tbody>
      </table>
      <form
        className="mt-2 flex gap-1.5"
        onSubmit={(event) => {
          event.preventDefault();
          keep();
        }}
      >
        <input
          aria-label="Name of the version"
          placeholder={`Chain ${versions.length + 1}`}
          value={name}
          maxLength={200}
          onChange={(event) => setName(event.target.value)}
          className="h-7 min-w-0 flex-1 rounded-[4px] border border-hair bg-sheet px-2 outline-none focus:border-act"
        />
        <Button onClick={keep} disabled={item.chain.length === 0}>
          Keep the chain as it is
        </Button>
      </form>
    </section>
  );
}

function VersionRow({ words, chain, version }: { words: string; chain: ChainEntry[]; version?: ChainVersion }) {
  const { item, facts, source, edit } = useCurrentItem();
  const slots = useWorkspace((workspace) => workspace.slots);
  const figures = useFiguresAfter(chain);
  if (!item || !facts || !source) return null;
  const { now, measured } = figures;
  const put = (index: 0 | 1) => {
    const slot: CompareSlot = {
      label: `${item.name} · ${words}`,
      url: blobUrl(source.pcm_hash!),
      repairs: item.repairs,
      clips: item.clips ?? null,
      chain,
      lufs: now?.integratedLufs ?? null,
    };
    useWorkspace.setState({ slots: index === 0 ? [slot, slots[1]] : [slots[0], slot], blind: null });
  };
  const figure = (value: number | null | undefined) => (
    <td className={`figure text-right ${measured ? "" : "text-soft"}`} title={measured ? "measured" : "estimated"}>
      {measured ? "" : "~"}
      {formatDb(value ?? null)}
    </td>
  );
  const plr = now?.truePeakDbtp == null || now.integratedLufs == null ? null : now.truePeakDbtp - now.integratedLufs;
  return (
    <>
      <tr className="border-t border-grid">
        <td className="max-w-40 truncate text-left" title={words}>
          {words}
        </td>
        {figure(now?.integratedLufs)}
        {figure(now?.truePeakDbtp)}
        {figure(now?.loudnessRangeLu)}
        {figure(plr)}
      </tr>
      <tr>
        <td colSpan={5}>
          <span className="flex items-center gap-1 pb-1">
            <Button kind="quiet" className="h-6" onClick={() => put(0)}>
              to slot 1
            </Button>
            <Button kind="quiet" className="h-6" onClick={() => put(1)}>
              to slot 2
            </Button>
            {version && (
              <>
                <Button
                  kind="quiet"
                  className="h-6"
                  hint="In place of the chain as it is now; undo takes it back"
                  onClick={() =>
                    void edit({ type: "takeVersion", item: item.id, version: version.id, prefix: newId() })
                  }
                >
                  use this one
                </Button>
                <IconButton
                  label={`Forget ${version.name}`}
                  onClick={() => void edit({ type: "removeVersion", item: item.id, version: version.id })}
                >
                  <Trash2 size={13} />
                </IconButton>
              </>
            )}
          </span>
        </td>
      </tr>
    </>
  );
}

/** Figures of the item in hand after a chain: measured in the background while nothing plays, estimated until then. */
function useFiguresAfter(chain: ChainEntry[]) {
  const { item, source, facts } = useCurrentItem();
  const { playing } = useEngineState();
  const active = useMemo(() => chain.filter(({ bypass }) => !bypass), [chain]);
  const repairs = useMemo(() => item?.repairs.filter(isActive) ?? [], [item]);
  const made = useRenderedRepairs(repairs);
  const frames = facts?.editList.frames ?? 0;
  const short = facts !== null && facts.duration <= MAX_RANGE_SECONDS;
  const range = useMemo(() => ({ start: 0, end: frames }), [frames]);
  const measured = useRangeFigures(
    source,
    active.length > 0 && short ? range : null,
    { repairs, clips: item?.clips ?? null, chain: active },
    undefined,
    made && !playing,
  );
  if (!facts) return { now: null, measured: false };
  if (active.length === 0) return { now: facts.figures, measured: !facts.estimated };
  if (measured) return { now: measured.figures, measured: true };
  return { now: predictNow(facts.figures, facts.curves, active, facts.knownLevels), measured: false };
}
