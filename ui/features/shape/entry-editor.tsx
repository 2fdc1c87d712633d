"use client";

import type { Layout } from "@core/audio/layout";
import { processorNamed, type ChainEntry } from "@core/processors";
import { commonControls } from "@core/processors/common-controls";
import { measuredRoundTrip, type Device } from "@core/processors/outboard";
import type { Parameter } from "@core/parameters/parameter";
import { predictNow } from "@core/delivery/predict-chain";
import { Button } from "@ui/design-system/button";
import { ParameterField } from "@ui/design-system/parameter-field";
import { useEngineState } from "@ui/state/listening-engine";
import { useCurrentItem } from "@ui/state/current-item";
import { drawingOf } from "./visualisers";
import { GainHistory } from "./visualisers/gain-history";
import { LiveReductions } from "./live-reduction";
import { LevelTo } from "./level-to";
import { AutomationEditor } from "./automation-editor";
import { ProcessorNotes } from "./processor-notes";
import type { EntryEditing } from "./visualisers/use-entry";

interface EntryEditorProps {
  inHand: EntryEditing;
  /** Of what goes through the chain; absent for that of the item in hand. */
  layout?: Layout | undefined;
}

/** The settings of the processor in hand, with a drawing of what they do. */
export function EntryEditor({ inHand, layout }: EntryEditorProps) {
  const { entry, settings } = inHand;
  const definition = processorNamed(entry.type);
  const { facts } = useCurrentItem();
  const isStereo = (layout ?? facts?.source.layout)?.speakers.length === 2;
  const around = Object.keys(commonControls(definition));
  const own = Object.entries(definition.parameters).filter(([name]) => !around.includes(name));
  const plain = own.filter(([, parameter]) => parameter.kind !== "rows" && parameter.kind !== "points");
  const { visualiser } = definition;
  const reductions = definition.reductionNames?.(settings);
  const drawing = visualiser && { ...drawingOf(visualiser), visualiser };
  const [wide, beside] = (["wide", "beside"] as const).map((place) => (drawing?.place === place ? drawing : null));
  const field = ([name, parameter]: [string, Parameter]) => (
    <ParameterField
      key={name}
      id={`${entry.id}-${name}`}
      parameter={parameter}
      setting={settings[name]!}
      onMove={(setting) => inHand.setPending(name, setting)}
      onCommit={(setting) => void inHand.commit(name, setting)}
    />
  );
  const aroundFields = Object.entries(definition.parameters).filter(
    ([name]) => around.includes(name) && (name !== "sides" || isStereo),
  );
  return (
    <section className="flex min-h-0 flex-col overflow-y-auto" aria-label={`${definition.name} settings`}>
      <h2 className="flex items-baseline gap-2 px-3 pt-1.5">
        <span className="font-semibold">{definition.name}</span>
        <span className="truncate text-label text-soft">{definition.help}</span>
      </h2>
      {reductions && entry.id && <LiveReductions entryId={entry.id} names={reductions} />}
      <Trouble inHand={inHand} />
      {definition.stereoOnly && !isStereo && (
        <p className="px-3 py-1">
          Its sides are those of a stereo signal: there are none here, so they stay as they are.
        </p>
      )}
      {wide && (
        <div className="h-[280px] shrink-0 border-y border-grid">
          <wide.View inHand={inHand} visualiser={wide.visualiser} />
        </div>
      )}
      <div className={`grid gap-x-6 px-3 py-1 ${beside ? "grid-cols-[auto_minmax(0,1fr)]" : ""}`}>
        {beside && (
          <div className={reductions ? "w-[320px]" : "min-w-0"}>
            <beside.View inHand={inHand} visualiser={beside.visualiser} />
            {reductions && <GainHistory inHand={inHand} />}
          </div>
        )}
        <div className={wide ? "grid grid-cols-2 gap-x-6" : ""}>
          {plain.map(field)}
          {"makeUpDb" in definition.parameters && <MatchLoudness inHand={inHand} />}
          {"gainDb" in definition.parameters && <LevelTo inHand={inHand} />}
          {"tripSamples" in definition.parameters && <MeasureTrip inHand={inHand} />}
        </div>
      </div>
      {reductions && !beside && (
        <div className="px-3 py-1">
          <GainHistory inHand={inHand} />
        </div>
      )}
      <AutomationEditor inHand={inHand} />
      <ProcessorNotes inHand={inHand} />
      {aroundFields.length > 0 && (
        <div className="mt-1 grid grid-cols-2 gap-x-6 border-t border-grid px-3 py-1" aria-label="Around it">
          {aroundFields.map(field)}
        </div>
      )}
    </section>
  );
}

/** What is wrong with the processor in hand, and what can be done. */
function Trouble({ inHand: { entry } }: { inHand: EntryEditing }) {
  const failure = useEngineState().muted.find((one) => one.entry === entry.id);
  if (entry.type === "unavailable")
    return (
      <div className="border-y border-grid px-3 py-2">
        <p>
          <span className="text-outside">▲</span> {String(entry["reason"])} The sound passes it as it is; its settings
          are kept as they were found. Replace it by another, or remove it.
        </p>
        <pre className="figure mt-1 max-h-40 overflow-auto text-label text-soft">
          {JSON.stringify(entry["original"], null, 1)}
        </pre>
      </div>
    );
  if (!failure) return null;
  return (
    <p role="alert" className="border-y border-grid px-3 py-1.5">
      <span className="text-outside">▲</span> {failure.why} It is muted until a setting changes; bypass it to hear the
      rest.
    </p>
  );
}

/** Sets the make-up so that the item is as loud behind the processor as before it. */
function MatchLoudness({ inHand }: { inHand: EntryEditing }) {
  const { facts, chain } = useCurrentItem();
  const at = chain.findIndex(({ id }) => id === inHand.entry.id);
  const match = () => {
    if (!facts || at < 0) return;
    const lufsAfter = (entries: ChainEntry[]) =>
      predictNow(facts.figures, facts.curves, entries, facts.knownLevels).integratedLufs ?? 0;
    const bare = { ...chain[at]!, bypass: false, makeUpDb: 0 };
    const lost = lufsAfter(chain.slice(0, at)) - lufsAfter([...chain.slice(0, at), bare]);
    void inHand.commit("makeUpDb", Number(Math.max(0, Math.min(24, lost)).toFixed(1)));
  };
  return (
    <Button onClick={match} disabled={!facts} hint="Estimated: as loud behind it as before it">
      Make up the loudness
    </Button>
  );
}

/** Sends a click through the loop and keeps how long it took. */
function MeasureTrip({ inHand }: { inHand: EntryEditing }) {
  const { facts } = useCurrentItem();
  const measure = () => {
    if (facts)
      void inHand.commit("tripSamples", measuredRoundTrip(inHand.settings["device"] as Device, facts.sampleRate));
  };
  return (
    <Button onClick={measure} disabled={!facts} hint="Sends a click through the insert and measures when it comes back">
      Measure the round trip
    </Button>
  );
}
