"use client";

import { ArrowLeft, ArrowRight, Plus, Trash2 } from "lucide-react";
import { useMemo, useState } from "react";
import type { Setting } from "@core/process/parameter";
import { newChainEntry, processorNamed, PROCESSORS, settingsOf, type ChainEntry } from "@core/process";
import { predictNow } from "@core/render/predict";
import { formatDb } from "@core/signal/format";
import { judge, type LimitedFigures } from "@core/spec/verdict";
import { AddMenu } from "@ui/shared/add-menu";
import { Button } from "@ui/shared/button";
import { MarginGauge } from "@ui/shared/margin-gauge";
import { ParameterField } from "@ui/shared/parameter-field";
import { standingColour } from "@ui/shared/standing-mark";
import { useDesk } from "@ui/workspace/desk";
import { useInHand, type ItemFacts } from "@ui/workspace/in-hand";
import { newId } from "@ui/workspace/use-project";

/** The item's chain, with level and margins between all processors, and the settings of the one in hand. */
export function ShapeStage() {
  const { facts, chain, item } = useInHand();
  const [chosen, setChosen] = useState<string | null>(null);
  const between = useMemo(() => (facts ? levelsBetween(facts, chain) : []), [facts, chain]);
  if (!facts || !item) return <p className="p-4 text-soft">Once a recording is read, its chain is built here.</p>;
  const entry = chain.find(({ id }) => id === chosen) ?? chain[0];
  return (
    <div className="flex h-full flex-col">
      <div
        className="flex shrink-0 items-stretch overflow-x-auto border-b border-hair bg-paper px-3 py-2"
        data-testid="chain"
      >
        <Between figures={between[0]} label="in" />
        {chain.map((one, index) => (
          <div key={one.id} className="flex items-stretch">
            <Card entry={one} chosen={one.id === entry?.id} onChoose={() => setChosen(one.id ?? null)} />
            <Between figures={between[index + 1]} label={index === chain.length - 1 ? "out" : ""} />
          </div>
        ))}
        <AddProcessor itemId={item.id} onAdded={setChosen} />
      </div>
      {entry ? (
        <Editor key={entry.id} entry={entry} />
      ) : (
        <p className="px-4 py-6 text-soft">
          The chain is empty: the item goes out as it came in. Add gain or a limiter above, and hear it at once.
        </p>
      )}
    </div>
  );
}

/** Estimated figures before the first processor and after each. */
const levelsBetween = (facts: ItemFacts, chain: ChainEntry[]): LimitedFigures[] => [
  facts.figures,
  ...chain.map((_, index) => predictNow(facts.figures, facts.curves, chain.slice(0, index + 1))),
];

function Between({ figures, label }: { figures: LimitedFigures | undefined; label: string }) {
  const { spec } = useInHand();
  if (!figures) return null;
  const limitOf = (figure: "integratedLufs" | "truePeakDbtp") => spec?.limits.find((limit) => limit.figure === figure);
  const peak = figures.truePeakDbtp ?? null;
  const peakLimit = limitOf("truePeakDbtp");
  return (
    <div
      className="figure flex w-[92px] flex-col items-center justify-center text-label"
      title="Integrated loudness and true peak here, estimated, with their margins"
    >
      <span>
        {formatDb(figures.integratedLufs ?? null)} <span className="text-soft">LUFS</span>
      </span>
      <MarginGauge figure="integratedLufs" limit={limitOf("integratedLufs")} value={figures.integratedLufs ?? null} />
      <span className={peakLimit ? standingColour(judge(peakLimit, peak).standing) : ""}>
        {formatDb(peak)} <span className="text-soft">dBTP</span>
      </span>
      <span className="h-3 leading-3 text-soft">{label}</span>
    </div>
  );
}

function Card({ entry, chosen, onChoose }: { entry: ChainEntry; chosen: boolean; onChoose: () => void }) {
  const definition = processorNamed(entry.type);
  return (
    <button
      type="button"
      onClick={onChoose}
      aria-pressed={chosen}
      className={`flex w-[118px] flex-col items-start rounded-[4px] border bg-sheet px-2.5 py-1.5 text-left ${chosen ? "border-2 border-act bg-act-ground" : "border-hair"} ${entry.bypass ? "opacity-55" : ""}`}
    >
      <span className="font-semibold">{definition.name}</span>
      <span className="text-label text-soft">{entry.bypass ? "bypassed" : definition.summary(settingsOf(entry))}</span>
    </button>
  );
}

function AddProcessor({ itemId, onAdded }: { itemId: string; onAdded: (id: string) => void }) {
  const { edit } = useInHand();
  const add = (type: string) => {
    const id = newId();
    void edit({ type: "addProcessor", item: itemId, entry: newChainEntry(type, id) });
    onAdded(id);
  };
  return (
    <AddMenu
      trigger={
        <>
          <Plus size={15} aria-hidden /> Add processor
        </>
      }
      className="ml-1 flex w-[104px] flex-col items-center justify-center gap-1 rounded-[4px] border border-dashed border-hair text-act hover:border-act"
      of={PROCESSORS}
      onAdd={add}
    />
  );
}

function Editor({ entry }: { entry: ChainEntry }) {
  const { item, edit, facts } = useInHand();
  if (!item || !entry.id) return null;
  const definition = processorNamed(entry.type);
  const settings = settingsOf(entry);
  const at = item.chain.findIndex(({ id }) => id === entry.id);
  const own = { item: item.id, entry: entry.id };
  const commit = async (parameter: string, setting: Setting) => {
    const kept = item.chain[at] && settingsOf(item.chain[at])[parameter];
    const done = kept === setting ? Promise.resolve() : edit({ type: "setParameter", ...own, parameter, setting });
    useDesk.setState({ moving: null });
    await done;
  };
  return (
    <div className="grid min-h-0 flex-1 grid-cols-[minmax(0,1fr)_230px] overflow-y-auto">
      <section className="px-4 py-2.5" aria-label={`${definition.name} settings`}>
        <h2 className="font-semibold">{definition.name}</h2>
        <p className="mb-1.5 text-label text-soft">{definition.help}</p>
        {Object.entries(definition.parameters).map(([name, parameter]) => (
          <ParameterField
            key={name}
            id={`${entry.id}-${name}`}
            parameter={parameter}
            setting={settings[name]!}
            onMove={(setting) => useDesk.setState({ moving: { entry: own.entry, parameter: name, setting } })}
            onCommit={(setting) => void commit(name, setting)}
          />
        ))}
      </section>
      <aside className="border-l border-hair px-3 py-2.5">
        <div className="flex flex-col items-start gap-1">
          <Button
            aria-pressed={entry.bypass}
            onClick={() => void edit({ type: "bypass", ...own, bypass: !entry.bypass })}
            hint="Leaves it in the chain without effect"
          >
            {entry.bypass ? "Switch on" : "Bypass"}
          </Button>
          <div className="flex gap-1">
            <Button
              disabled={at <= 0}
              aria-label="Earlier in the chain"
              hint="Earlier in the chain"
              onClick={() => void edit({ type: "moveProcessor", ...own, to: at - 1 })}
            >
              <ArrowLeft size={14} />
            </Button>
            <Button
              disabled={at >= item.chain.length - 1}
              aria-label="Later in the chain"
              hint="Later in the chain"
              onClick={() => void edit({ type: "moveProcessor", ...own, to: at + 1 })}
            >
              <ArrowRight size={14} />
            </Button>
            <Button
              aria-label="Remove"
              hint="Take it out of the chain; undo brings it back"
              onClick={() => void edit({ type: "removeProcessor", ...own })}
            >
              <Trash2 size={14} />
            </Button>
          </div>
        </div>
        <p className="mt-2 text-label text-soft">
          Delay {latencyWords(entry, facts)}, taken back in listening and in renders. Drag, type (“-1dB”), arrow keys;
          Shift for ten steps, Alt for a tenth; double click for the default.
        </p>
      </aside>
    </div>
  );
}

function latencyWords(entry: ChainEntry, facts: ItemFacts | null): string {
  if (!facts?.source.layout) return "unknown";
  const { sampleRate } = facts;
  const { latency } = processorNamed(entry.type).create(settingsOf(entry), { sampleRate, layout: facts.source.layout });
  return `${((latency / sampleRate) * 1000).toFixed(1)} ms`;
}
