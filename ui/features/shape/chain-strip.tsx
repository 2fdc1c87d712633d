"use client";

import { Plus } from "lucide-react";
import { useMemo, useState } from "react";
import type { ChainEntry } from "@core/processors";
import { PROGRAMME_ID } from "@core/project/document";
import { predictNow } from "@core/delivery/predict-chain";
import { formatDb } from "@core/audio/format";
import { checkLimit, type LimitedFigures } from "@core/delivery/compliance";
import { MarginGauge } from "@ui/design-system/margin-gauge";
import { statusColour } from "@ui/design-system/compliance-mark";
import type { Predictable } from "@core/delivery/sampled-curves";
import { useCurrentItem } from "@ui/state/current-item";
import { useFreezing } from "@ui/state/freezing";
import { ProcessorMenu } from "./add-processor";
import { ChainCard } from "./chain-card";

/** Figures before the first processor and after each: estimated from where they were last measured. */
const levelsBetween = ({ figures, curves, known }: Predictable, chain: ChainEntry[]): LimitedFigures[] => [
  figures,
  ...chain.map((_, index) => predictNow(figures, curves, chain.slice(0, index + 1), known)),
];

/** The item's chain and the programme's, with level and margins between all processors. */
export function ChainStrip({ chosen, onChoose }: { chosen: string | null; onChoose: (id: string) => void }) {
  const { predictable, chain, item, view, edit } = useCurrentItem();
  const between = useMemo(() => (predictable ? levelsBetween(predictable, chain) : []), [predictable, chain]);
  const [dragged, setDragged] = useState<string | null>(null);
  const frozen = useFreezing(({ entries }) => entries);
  if (!item) return null;
  const own = chain.slice(0, item.chain.length);
  const common = chain.slice(item.chain.length);
  const add = (owner: string) => (entries: ChainEntry[]) => {
    for (const entry of entries) void edit({ type: "addProcessor", item: owner, entry });
    const id = entries.at(-1)?.id;
    if (id) onChoose(id);
  };
  const cards = (list: ChainEntry[], owner: string, first: number) =>
    list.map((entry, index) => {
      const to = (place: number) => {
        if (entry.id && place >= 0 && place < list.length)
          void edit({ type: "moveProcessor", item: owner, entry: entry.id, to: place });
      };
      return (
        <div key={entry.id} className="flex items-stretch">
          <ChainCard
            entry={entry}
            isFrozen={first + index < frozen}
            chosen={entry.id === chosen}
            onChoose={() => onChoose(entry.id ?? "")}
            onMove={(by) => to(index + by)}
            onDrag={() => setDragged(entry.id ?? null)}
            onDrop={() => {
              if (dragged && list.some(({ id }) => id === dragged))
                void edit({ type: "moveProcessor", item: owner, entry: dragged, to: index });
              setDragged(null);
            }}
          />
          <Between figures={between[first + index + 1]} label={first + index === chain.length - 1 ? "out" : ""} />
        </div>
      );
    });
  return (
    <div
      className="flex shrink-0 items-stretch overflow-x-auto border-b border-hair bg-paper px-3 py-2"
      data-testid="chain"
    >
      <Between figures={between[0]} label="in" />
      {cards(own, item.id, 0)}
      <AddProcessor words="Add processor" onAdd={add(item.id)} />
      <div className="mx-2 flex items-stretch border-l border-hair pl-2" aria-label="Programme chain">
        <span className="mr-1 w-16 self-center text-label leading-tight text-soft">
          then all {view.document.items.length} together
        </span>
        {cards(common, PROGRAMME_ID, own.length)}
        <AddProcessor words="Add for all" onAdd={add(PROGRAMME_ID)} />
      </div>
    </div>
  );
}

function Between({ figures, label }: { figures: LimitedFigures | undefined; label: string }) {
  const { spec } = useCurrentItem();
  if (!figures) return null;
  const limitOf = (figure: "integratedLufs" | "truePeakDbtp") => spec?.limits.find((limit) => limit.figure === figure);
  const peak = figures.truePeakDbtp ?? null;
  const peakLimit = limitOf("truePeakDbtp");
  return (
    <div
      className="figure flex w-[92px] shrink-0 flex-col items-center justify-center text-label"
      title="Integrated loudness and true peak here, estimated, with their margins"
    >
      <span>
        {formatDb(figures.integratedLufs ?? null)} <span className="text-soft">LUFS</span>
      </span>
      <MarginGauge figure="integratedLufs" limit={limitOf("integratedLufs")} value={figures.integratedLufs ?? null} />
      <span className={peakLimit ? statusColour(checkLimit(peakLimit, peak).status) : ""}>
        {formatDb(peak)} <span className="text-soft">dBTP</span>
      </span>
      <span className="h-3 leading-3 text-soft">{label}</span>
    </div>
  );
}

export function AddProcessor({ words, onAdd }: { words: string; onAdd: (entries: ChainEntry[]) => void }) {
  return (
    <ProcessorMenu
      trigger={
        <>
          <Plus size={15} aria-hidden /> {words}
        </>
      }
      label={words}
      className="ml-1 flex w-[88px] shrink-0 flex-col items-center justify-center gap-1 rounded-[4px] border border-dashed border-hair text-label text-act hover:border-act"
      onChoose={onAdd}
    />
  );
}
