"use client";

import { useMemo } from "react";
import { formatDb, formatTime } from "@core/audio/format";
import {
  COMPARED,
  comparedValues,
  consistencyOf,
  type ComparedFigure,
  type ComparedItem,
} from "@core/programme/consistency";
import type { EndLengths } from "@core/edit-list/heads-and-tails";
import type { Item } from "@core/project/document";
import { predictNow } from "@core/delivery/predict-chain";
import { SheetDialog } from "@ui/design-system/sheet-dialog";
import { estimatedEnds } from "./fit-ends";
import { HeadsAndTails } from "./heads-and-tails";
import { useCurrentItem } from "@ui/state/current-item";
import { useWholeProgramme } from "@ui/state/programme";
import { predictableOf } from "@core/project/known-items";
import { goToStage, openItem } from "@ui/state/workspace-store";

const FIGURES = Object.keys(COMPARED) as ComparedFigure[];

/** Items held against each other, after their chains: what lies apart from the rest, the furthest first. */
export function ConsistencyDialog({ onClose }: { onClose: () => void }) {
  const { view } = useCurrentItem();
  const { order, duration, known } = useWholeProgramme();
  const { document, sources } = view;
  const { items, medians } = useMemo(() => {
    const ends = (item: Item) => {
      const ofRecording = sources.find(({ hash }) => hash === item.source)?.figures;
      const { head = null, tail = null } = ofRecording ? estimatedEnds(item, ofRecording) : {};
      const seconds = (end: EndLengths | null) => end && end.quiet / ofRecording!.sampleRate;
      return { headRoomToneSeconds: seconds(head), tailRoomToneSeconds: seconds(tail) };
    };
    const compared = order.flatMap((item): ComparedItem[] => {
      const stored = document.items.find(({ id }) => id === item.id)!;
      const facts = known(stored);
      if (!facts) return [];
      const { figures, curves, chain, known: along } = predictableOf(document, stored, facts);
      const after = predictNow(figures, curves, chain, along);
      const values = { ...comparedValues(figures), ...pick(after), ...ends(stored) };
      return [{ id: item.id, name: item.name, values, sampleRate: figures.sampleRate, channels: figures.channels }];
    });
    return consistencyOf(compared);
  }, [order, document, known, sources]);
  const value = (figure: ComparedFigure, level: number | null) =>
    level === null ? "—" : COMPARED[figure].unit === "s" ? level.toFixed(2) : formatDb(level);
  return (
    <SheetDialog
      open
      wide
      onClose={onClose}
      title="Items against each other"
      help={`What lies apart from the middle of all, the furthest first; after the chains, as estimated. ${order.length} items, ${formatTime(duration, 1)} in all.`}
    >
      <table className="w-full text-label" data-testid="consistency">
        <thead className="text-right text-soft">
          <tr className="border-b border-hair [&>th]:pl-2 [&>th]:font-normal">
            <th className="text-left">item</th>
            {FIGURES.map((figure) => (
              <th key={figure} title={`${COMPARED[figure].unit}; apart beyond ${COMPARED[figure].apart}`}>
                {COMPARED[figure].label}
              </th>
            ))}
          </tr>
        </thead>
        <tbody>
          <tr className="border-b border-hair text-right text-soft [&>td]:pl-2">
            <td className="text-left">middle of all</td>
            {FIGURES.map((figure) => (
              <td key={figure} className="figure">
                {value(figure, medians[figure])}
              </td>
            ))}
          </tr>
          {items.map((item) => (
            <tr key={item.id} className="h-6 border-b border-grid text-right [&>td]:pl-2">
              <td className="max-w-48 text-left">
                <button
                  type="button"
                  className="max-w-full truncate text-act hover:underline"
                  onClick={() => {
                    openItem(item.id);
                    goToStage("inspect");
                  }}
                >
                  {item.name}
                </button>
                {item.remarks.map((remark) => (
                  <span key={remark} className="block text-close">
                    ◆ {remark}
                  </span>
                ))}
              </td>
              {FIGURES.map((figure) => (
                <td key={figure} className={`figure ${item.apart.includes(figure) ? "text-outside" : ""}`}>
                  {item.apart.includes(figure) ? "▲ " : ""}
                  {value(figure, item.values[figure])}
                </td>
              ))}
            </tr>
          ))}
        </tbody>
      </table>
      <HeadsAndTails />
    </SheetDialog>
  );
}

/** What a chain changes of what is compared. */
function pick(after: ReturnType<typeof predictNow>) {
  const { integratedLufs, rmsDbfs, truePeakDbtp, noiseFloorDbfs } = after;
  return {
    integratedLufs: integratedLufs ?? null,
    rmsDbfs: rmsDbfs ?? null,
    truePeakDbtp: truePeakDbtp ?? null,
    noiseFloorDbfs: noiseFloorDbfs ?? null,
  };
}
