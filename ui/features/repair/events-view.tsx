"use client";

import { useMemo, useState } from "react";
import type { DetectedEvent } from "@core/events/event";
import type { Tone } from "@core/events/steady-tones";
import { retakeCuts } from "@core/events/retakes";
import { repairNamed } from "@core/repair";
import { formatDb } from "@core/audio/format";
import { Button } from "@ui/design-system/button";
import { Select, Setting, Slider } from "@ui/design-system/controls";
import { editActionsOf } from "@ui/state/edit-actions";
import { useWorkspace } from "@ui/state/workspace-store";
import { useCurrentItem, type ItemFacts } from "@ui/state/current-item";
import { newId } from "@ui/api/use-project";
import { EVENT_KINDS, treatmentStep, type EventSettings, type EventKind } from "./event-kinds";
import { EventTable } from "./event-table";
import { Retake } from "./retake";
import { isRemoved, toneRemovalSteps, toneLabel } from "./removed-tones";
import { useAddStep } from "./use-add-step";
import { ignoredKey, toggleIgnored, useIgnored, useSpeechFeatures } from "./use-speech-features";

const PLAIN: EventSettings = { pauseSeconds: 1.5, keptSeconds: 0.8, lowerDb: -12 };
/** Faults that a step finds, lists and mends by itself. */
const STEPS_WITH_PLACES = ["clicks", "mouth-noise", "clipping", "spikes", "hum", "tones"];
/** Retakes as alike as this are taken in together. */
const SURELY_ALIKE = 0.5;

/** Lists that lead the work: what lies in the recording, kind by kind, to be heard and treated one by one or together. */
export function EventsView({ facts }: { facts: ItemFacts }) {
  const { spec } = useCurrentItem();
  const { features, problem, fraction } = useSpeechFeatures(facts);
  const [settings, setSettings] = useState(PLAIN);
  const [chosen, setChosen] = useState(EVENT_KINDS[0]!.id);
  const found = useMemo(
    () => new Map(features ? EVENT_KINDS.map((kind) => [kind.id, kind.find(features, settings, spec)] as const) : []),
    [features, settings, spec],
  );
  if (problem)
    return (
      <p role="alert" className="p-4 text-outside">
        The recording could not be looked through: {problem}
      </p>
    );
  const kind = EVENT_KINDS.find(({ id }) => id === chosen)!;
  return (
    <div className="grid h-full min-h-0 grid-cols-[196px_minmax(0,1fr)] divide-x divide-hair">
      <nav aria-label="Kinds of places" className="overflow-y-auto py-1.5">
        {EVENT_KINDS.map(({ id, name, help, without }) => (
          <button
            key={id}
            type="button"
            title={help}
            aria-pressed={id === chosen}
            onClick={() => setChosen(id)}
            className={`flex h-6.5 w-full items-center justify-between px-3 text-left ${id === chosen ? "bg-act-ground text-act" : "hover:text-act"}`}
          >
            {name}
            <span className="figure text-label text-soft">
              {without?.(spec) ? "no limit" : (found.get(id)?.length ?? "…")}
            </span>
          </button>
        ))}
        <StepsWithPlaces />
      </nav>
      <section className="min-h-0 overflow-y-auto px-4 py-2" aria-label={kind.name}>
        <p className="pb-1 text-label text-soft">
          {kind.help}. {kind.without?.(spec) && `${kind.without(spec)}.`}
          {!features && ` Looking through the recording: ${Math.round(fraction * 100)} % …`}
        </p>
        {features && (
          <KindList
            key={kind.id}
            kind={kind}
            all={found.get(kind.id) ?? []}
            facts={facts}
            settings={settings}
            onSettings={setSettings}
            cutsOfRetake={(place) => retakeCuts(features, place)}
          />
        )}
      </section>
    </div>
  );
}

/** The steps that have lists of their own, one click away. */
function StepsWithPlaces() {
  const add = useAddStep();
  const { item } = useCurrentItem();
  return (
    <div className="mt-1 border-t border-grid pt-1">
      {STEPS_WITH_PLACES.map((type) => {
        const step = item?.repairs.find((one) => one.type === type);
        return (
          <button
            key={type}
            type="button"
            title={`${repairNamed(type).help}: a step lists them and mends them`}
            onClick={() => (step ? useWorkspace.setState({ step: step.id ?? null }) : add(type, []))}
            className="flex h-6.5 w-full items-center justify-between px-3 text-left hover:text-act"
          >
            {repairNamed(type).name}
            <span className="text-label text-soft">{step ? "its step" : "add the step"}</span>
          </button>
        );
      })}
    </div>
  );
}

interface KindProps {
  kind: EventKind;
  all: DetectedEvent[];
  facts: ItemFacts;
  settings: EventSettings;
  onSettings: (settings: EventSettings) => void;
  cutsOfRetake: (place: DetectedEvent) => ReturnType<typeof retakeCuts>;
}

function KindList({ kind, all: inRecording, facts, settings, onSettings, cutsOfRetake }: KindProps) {
  const { item, edit } = useCurrentItem();
  const ignored = useIgnored((kept) => kept.ignored);
  const [line, setLine] = useState<number | null>(null);
  const [chosen, setChosen] = useState<DetectedEvent | null>(null);
  if (!item) return null;
  const cutting = editActionsOf(facts, edit);
  const { treatment } = kind;
  const middle = ({ start, end }: DetectedEvent) => Math.round((start + end) / 2);
  const isCutOut = (place: DetectedEvent) => facts.editList.toItem(middle(place)) === null;
  // What is cut out needs no more treatment, unless cutting it out was the treatment.
  const byCutting = treatment === "shorten" || treatment === "retake";
  const all = byCutting ? inRecording : inRecording.filter((place) => !isCutOut(place));
  const sizes = all.map(({ sizeDb }) => sizeDb);
  const [least, most] = [Math.floor(Math.min(...sizes)), Math.ceil(Math.max(...sizes))];
  const places = all.filter(({ sizeDb }) => line === null || sizeDb >= line);
  const isLeft = (place: DetectedEvent) => ignored[ignoredKey(facts, kind.id, place)] === true;
  const isTreated = (place: DetectedEvent): boolean => {
    if (byCutting) return isCutOut(place);
    if (treatment === "take out") return isRemoved(place as Tone, item.repairs);
    return item.repairs.some(
      ({ type, regions }) =>
        type === "region-gain" && regions.some(({ start, end }) => start <= middle(place) && end >= middle(place)),
    );
  };
  const treat = (some: DetectedEvent[]): void => {
    const open = some.filter((place) => !isTreated(place) && !isLeft(place));
    if (open.length === 0) return;
    if (treatment === "shorten") return cutting.cutRanges(open.flatMap(shortened), `shorten ${open.length} pauses`);
    if (treatment === "retake") {
      const best = open.flatMap((place) => cutsOfRetake(place).slice(0, 1));
      const sure = some.length === 1 ? best : best.filter(({ alike }) => alike > SURELY_ALIKE);
      return cutting.cutRanges(sure, `take in ${sure.length === 1 ? "a retake" : `${sure.length} retakes`}`);
    }
    if (treatment === "take out")
      return void edit({
        type: "addRepairs",
        item: item.id,
        steps: toneRemovalSteps(open as Tone[], inRecording as Tone[], newId),
      });
    const { step, words } = treatmentStep(kind, open, settings, newId());
    const same = item.repairs.find(
      (one) =>
        one.type === "region-gain" &&
        one.enabled &&
        one.gainDb === step.gainDb &&
        one.regions[0]?.highHz === step.regions[0]?.highHz,
    );
    if (same)
      void edit({
        type: "setRepair",
        item: item.id,
        step: same.id!,
        changes: { regions: [...same.regions, ...step.regions] },
        what: words,
      });
    else void edit({ type: "addRepairs", item: item.id, steps: [step] });
  };
  const shortened = ({ start, end }: DetectedEvent) => {
    const kept = Math.round((settings.keptSeconds * facts.sampleRate) / 2);
    return end - start > 2 * kept ? [{ start: start + kept, end: end - kept }] : [];
  };
  const open = places.filter((place) => !isTreated(place) && !isLeft(place));
  const mark = () =>
    void edit({
      type: "addMarkers",
      item: item.id,
      markers: places.map(({ start, end }) => ({ id: newId(), kind: "retake", name: "", start, end })),
    });
  return (
    <>
      <div className="flex flex-wrap items-center gap-x-3 gap-y-1 pb-1">
        {treatment !== "look" && (
          <Button
            kind="main"
            disabled={open.length === 0}
            onClick={() => treat(open)}
            hint="All that are listed and not left alone; one edit, taken back by one undo"
          >
            {TREAT_WORDS[treatment]} all {open.length}
          </Button>
        )}
        {treatment === "retake" && (
          <Button disabled={places.length === 0} onClick={mark} hint="So that they can be gone to, and stay">
            Set markers
          </Button>
        )}
        {treatment === "lower" && (
          <Setting label="by">
            <Select
              label="How much they are lowered"
              value={settings.lowerDb}
              options={[-6, -9, -12, -18, -24, -100]}
              words={(db) => (db === -100 ? "to silence" : `${-db} dB`)}
              onChange={(lowerDb) => onSettings({ ...settings, lowerDb })}
            />
          </Setting>
        )}
        {treatment === "shorten" && (
          <>
            <Setting label="longer than">
              <Select
                label="What a long pause is"
                value={settings.pauseSeconds}
                options={[0.8, 1, 1.5, 2, 3, 5]}
                words={(s) => `${s} s`}
                onChange={(pauseSeconds) => onSettings({ ...settings, pauseSeconds })}
              />
            </Setting>
            <Setting label="cut down to">
              <Select
                label="What is left of a pause"
                value={settings.keptSeconds}
                options={[0.3, 0.5, 0.8, 1, 1.5, 2]}
                words={(s) => `${s} s`}
                onChange={(keptSeconds) => onSettings({ ...settings, keptSeconds })}
              />
            </Setting>
          </>
        )}
        {all.length > 1 && most > least && treatment !== "retake" && (
          <Setting label={`from ${formatDb(line ?? least, { digits: 0 })} ${kind.unit} up`}>
            <Slider
              label="Line under which they are left"
              value={line ?? least}
              min={least}
              max={most}
              step={1}
              onChange={setLine}
            />
          </Setting>
        )}
      </div>
      <EventTable
        places={places}
        facts={facts}
        unit={kind.unit}
        stateOf={(place) => (isTreated(place) ? "treated" : isLeft(place) ? "left" : "open")}
        {...(treatment === "look" ? {} : { onTreat: (place: DetectedEvent) => treat([place]) })}
        onLeave={(place) => toggleIgnored(ignoredKey(facts, kind.id, place))}
        onChoose={setChosen}
        {...(treatment === "take out"
          ? { wordsOf: (place: DetectedEvent) => toneLabel(place as Tone, inRecording as Tone[]) }
          : {})}
        keyWords={`${treatment === "look" ? "" : `Enter: ${TREAT_WORDS[treatment].toLowerCase()} this one; `}Delete: leave it alone.`}
        heading={
          <>
            <b>{places.length}</b> {places.length === 1 ? kind.one : kind.name.toLowerCase()}
            {all.length < inRecording.length && (
              <span className="text-soft">, {inRecording.length - all.length} more are cut out</span>
            )}
            {places.length < all.length && (
              <span className="text-soft">, {all.length - places.length} under the line</span>
            )}
          </>
        }
      />
      {treatment === "retake" && chosen && <Retake facts={facts} cuts={cutsOfRetake(chosen)} mark={chosen} />}
    </>
  );
}

const TREAT_WORDS = {
  lower: "Lower",
  "lower the lows": "Lower",
  shorten: "Shorten",
  retake: "Take in",
  "take out": "Take out",
  look: "",
} as const;
