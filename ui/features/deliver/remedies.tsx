"use client";

import { useMemo } from "react";
import { toast } from "sonner";
import { noiseToTry, type Remedy } from "@core/delivery/remedies";
import { predictNow } from "@core/delivery/predict-chain";
import { blobUrl } from "@ui/api/api";
import { ComplianceMark } from "@ui/design-system/compliance-mark";
import { openItem, useWorkspace } from "@ui/state/workspace-store";
import { engine } from "@ui/state/listening-engine";
import type { CompareSlot } from "@ui/state/monitor-source";
import { useCurrentItem } from "@ui/state/current-item";
import { togglePlay } from "@ui/state/use-monitor-source";
import { newId } from "@ui/api/use-project";
import { remediesOf, type Cell } from "@core/project/board";
import { useTriedNoise } from "@ui/state/use-tried-noise";
import type { KnownOf } from "@core/project/known-items";

/** What would make a master pass: each can be heard against what is, and taken. */
export function Remedies({ cell, known }: { cell: Cell; known: KnownOf }) {
  const { view, edit, item: inHand } = useCurrentItem();
  const toTry = useMemo(() => (cell.verdict ? noiseToTry(cell.spec, cell.verdict) : []), [cell]);
  const { lowersDb: lowers, isTrying } = useTriedNoise(cell.source, cell.item, toTry);
  const ways = useMemo(() => {
    const tried = toTry.flatMap((step, index) => {
      const lowersDb = lowers[index];
      return lowersDb == null ? [] : [{ step, lowersDb }];
    });
    return remediesOf(view, cell, known, tried);
  }, [view, cell, known, toTry, lowers]);
  if (isTrying) return <p className="pt-1.5 text-label text-soft">Remedies are being tried on the sound …</p>;
  if (ways.length === 0) return null;

  const hear = (way: Remedy) => {
    const facts = known(cell.item);
    if (!facts || !cell.source?.pcm_hash) return;
    const slot = (label: string, changed: Pick<Remedy, "entries" | "steps">): CompareSlot => {
      const chain = [...cell.item.chain, ...(changed.entries ?? []), ...view.document.chain];
      return {
        label,
        url: blobUrl(cell.source!.pcm_hash!),
        repairs: [...cell.item.repairs, ...(changed.steps ?? [])],
        clips: cell.item.clips ?? null,
        chain,
        lufs: predictNow(facts.figures, facts.curves, chain).integratedLufs ?? null,
      };
    };
    openItem(cell.item.id);
    useWorkspace.setState({
      slots: [slot(`${cell.item.name} · as it is`, {}), slot(`${cell.item.name} · ${way.title}`, way)],
      monitorSource: "second",
      blind: null,
    });
    toast(`Hearing: ${way.title}. Slot 1 holds it as it is, slot 2 with the change, at the same loudness.`);
    // An item that comes into hand begins to play when it is there.
    if (inHand?.id === cell.item.id && !engine().state.playing) togglePlay();
  };
  const take = async (way: Remedy) => {
    const { item, deliverable } = cell;
    if (way.steps)
      await edit({ type: "addRepairs", item: item.id, steps: way.steps.map((step) => ({ ...step, id: newId() })) });
    for (const entry of way.entries ?? [])
      await edit({ type: "addProcessor", item: item.id, entry: { ...entry, id: newId() } });
    if (way.format) await edit({ type: "setDeliverable", deliverable: { ...deliverable, format: way.format } });
  };
  return (
    <table className="mt-1.5 w-full table-fixed" data-testid="ways">
      <caption className="text-left text-label text-soft">remedies, each tried before it is offered</caption>
      <tbody>
        {ways.map((way) => (
          <tr key={way.id} className="h-[25px] border-t border-grid">
            <td className="w-5">
              <ComplianceMark status={way.passes ? "pass" : "marginal"} />
            </td>
            <td className="truncate" title={way.title}>
              {way.title}
            </td>
            <td className="w-[40%] truncate pl-2 text-label text-soft" title={way.reaches}>
              {way.reaches}
            </td>
            <td className="w-24 text-right whitespace-nowrap">
              {!way.format && (
                <button
                  type="button"
                  className="mr-3 text-act hover:underline"
                  onClick={() => hear(way)}
                  aria-label={`Hear: ${way.title}`}
                >
                  hear
                </button>
              )}
              <button
                type="button"
                className="text-act hover:underline"
                onClick={() => void take(way)}
                aria-label={`Take: ${way.title}`}
              >
                take
              </button>
            </td>
          </tr>
        ))}
      </tbody>
    </table>
  );
}
