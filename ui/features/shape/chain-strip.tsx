"use client";

import { Plus, Snowflake } from "lucide-react";
import { useMemo, useState, type DragEvent, type KeyboardEvent } from "react";
import { groupNamed } from "@core/processors/groups";
import { processorNamed, settingsOf, type ChainEntry } from "@core/processors";
import { PROGRAMME_ID } from "@core/project/document";
import { predictNow } from "@core/delivery/predict-chain";
import { formatDb } from "@core/audio/format";
import { checkLimit, type LimitedFigures } from "@core/delivery/compliance";
import { MarginGauge } from "@ui/design-system/margin-gauge";
import { statusColour } from "@ui/design-system/compliance-mark";
import { useFreezing } from "@ui/state/freezing";
import { useEngineState } from "@ui/state/listening-engine";
import { useCurrentItem, type ItemFacts } from "@ui/state/current-item";
import { ProcessorMenu } from "./add-processor";
import { groupColour } from "./group-colour";

/** Figures before the first processor and after each: estimated from where they were last measured. */
const levelsBetween = (facts: ItemFacts, chain: ChainEntry[]): LimitedFigures[] => [
  facts.figures,
  ...chain.map((_, index) => predictNow(facts.figures, facts.curves, chain.slice(0, index + 1), facts.knownLevels)),
];

/** The item's chain and the programme's, with level and margins between all processors. */
export function ChainStrip({ chosen, onChoose }: { chosen: string | null; onChoose: (id: string) => void }) {
  const { facts, chain, item, view, edit } = useCurrentItem();
  const between = useMemo(() => (facts ? levelsBetween(facts, chain) : []), [facts, chain]);
  const [dragged, setDragged] = useState<string | null>(null);
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
          <Card
            entry={entry}
            index={first + index}
            chosen={entry.id === chosen}
            onChoose={() => onChoose(entry.id ?? "")}
            onKey={(event) => {
              if (!event.altKey || !event.key.startsWith("Arrow")) return;
              event.preventDefault();
              event.stopPropagation();
              to(index + (event.key === "ArrowRight" ? 1 : -1));
            }}
            onDrag={() => setDragged(entry.id ?? null)}
            onDrop={(event) => {
              event.preventDefault();
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
      <Add words="Add processor" onAdd={add(item.id)} />
      <div className="mx-2 flex items-stretch border-l border-hair pl-2" aria-label="Programme chain">
        <span className="mr-1 w-16 self-center text-label leading-tight text-soft">
          then all {view.document.items.length} together
        </span>
        {cards(common, PROGRAMME_ID, own.length)}
        <Add words="Add for all" onAdd={add(PROGRAMME_ID)} />
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

function Card({
  entry,
  index,
  chosen,
  onChoose,
  onKey,
  onDrag,
  onDrop,
}: {
  entry: ChainEntry;
  index: number;
  chosen: boolean;
  onChoose: () => void;
  onKey: (event: KeyboardEvent) => void;
  onDrag: () => void;
  onDrop: (event: DragEvent) => void;
}) {
  const definition = processorNamed(entry.type);
  const group = groupNamed(definition.group);
  const frozen = useFreezing(({ entries }) => index < entries);
  const muted = useEngineState().muted.some((failure) => failure.entry === entry.id);
  return (
    <button
      type="button"
      draggable
      onClick={onChoose}
      onKeyDown={onKey}
      onDragStart={onDrag}
      onDragOver={(event) => event.preventDefault()}
      onDrop={onDrop}
      aria-pressed={chosen}
      title={`${definition.help}. Drag it, or Alt and arrow keys, to another place.`}
      className={`flex w-[118px] shrink-0 flex-col items-start rounded-[4px] border border-l-[4px] bg-sheet px-2 py-1 text-left ${chosen ? "outline-2 outline-act bg-act-ground" : "border-hair"} ${entry.bypass ? "opacity-55" : ""}`}
      style={{ borderLeftColor: groupColour(definition.group) }}
    >
      <span className="text-label leading-3" style={{ color: groupColour(definition.group) }}>
        {group.name.toLowerCase()}
        {frozen && <Snowflake size={10} aria-label="frozen" className="ml-1 inline" />}
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
    </button>
  );
}

function Add({ words, onAdd }: { words: string; onAdd: (entries: ChainEntry[]) => void }) {
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
