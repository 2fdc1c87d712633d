"use client";

import { useState, type KeyboardEvent, type ReactNode } from "react";
import type { DetectedEvent } from "@core/events/event";
import { formatDb, formatTime } from "@core/audio/format";
import { Button } from "@ui/design-system/button";
import { Select } from "@ui/design-system/controls";
import type { ItemFacts } from "@ui/state/current-item";
import { itemFrame, secondsOfRecording } from "@ui/state/item-time";
import { engine } from "@ui/state/listening-engine";
import { showRange } from "../../state/show-range";

const ORDERS = ["time", "size"] as const;
/** Heard before and after a place. */
const ROLL_SECONDS = 0.7;
/** Shown at once; the rest is counted. */
const SHOWN = 300;

export type EventState = "open" | "treated" | "left";

interface Props<One extends DetectedEvent> {
  places: readonly One[];
  /** How many there are in all, where not all are listed. */
  count?: number;
  facts: ItemFacts;
  stateOf: (place: One) => EventState;
  /** What Enter does; hears again where there is nothing to do. */
  onTreat?: (place: One) => void;
  /** Leaves a place alone, or takes it up after all. */
  onLeave: (place: One) => void;
  onChoose?: (place: One) => void;
  /** What is done there, in a word. */
  wordsOf?: (place: One) => string | undefined;
  /** What stands behind a length. */
  unit?: string;
  /** What Enter and Delete do, in words. */
  keyWords: string;
  heading: ReactNode;
}

/** Places in a recording: gone through and heard by keys, treated, or left alone where they are no fault. */
export function EventTable<One extends DetectedEvent>(props: Props<One>) {
  const {
    places: all,
    count = all.length,
    facts,
    stateOf,
    onTreat,
    onLeave,
    onChoose,
    wordsOf,
    unit = "dB",
    keyWords,
  } = props;
  const [order, setOrder] = useState<(typeof ORDERS)[number]>("time");
  const [chosen, setChosen] = useState(0);
  const { sampleRate } = facts;
  const places = [...all].sort((a, b) => (order === "time" ? a.start - b.start : b.sizeDb - a.sizeDb)).slice(0, SHOWN);
  const lengthOf = ({ start, end }: DetectedEvent) => (end - start) / sampleRate;
  const hear = (index: number) => {
    const place = places[index];
    if (!place) return;
    setChosen(index);
    onChoose?.(place);
    const at = secondsOfRecording(facts, place.start);
    if (at === null) return; // it is cut out
    showRange(facts, at, lengthOf(place));
    void engine().playStretch(
      itemFrame(facts, at - ROLL_SECONDS),
      itemFrame(facts, at + lengthOf(place) + ROLL_SECONDS),
    );
  };
  const act = (on: ((place: One) => void) | undefined) => {
    const place = places[chosen];
    if (place && on) on(place);
    else hear(chosen);
  };
  const onKeyDown = (event: KeyboardEvent) => {
    const acts = {
      ArrowDown: () => hear(Math.min(places.length - 1, chosen + 1)),
      ArrowUp: () => hear(Math.max(0, chosen - 1)),
      " ": () => hear(chosen),
      Enter: () => act(onTreat),
      Delete: () => act(onLeave),
    };
    const now = acts[event.key as keyof typeof acts] as (() => void) | undefined;
    if (!now) return;
    event.preventDefault();
    event.stopPropagation();
    now();
  };
  return (
    <section data-testid="places">
      <h3 className="flex items-center justify-between gap-2">
        <span>{props.heading}</span>
        {places.length > 1 && (
          <Select
            label="Order of the places"
            value={order}
            options={ORDERS}
            onChange={setOrder}
            words={(one) => `by ${one}`}
          />
        )}
      </h3>
      {places.length > 0 && (
        <>
          <div
            role="listbox"
            aria-label="Places"
            aria-activedescendant={`place-${chosen}`}
            tabIndex={0}
            onKeyDown={onKeyDown}
            className={`mt-1 grid max-h-28 overflow-y-auto border border-grid ${wordsOf ? "" : "grid-cols-[repeat(auto-fill,minmax(190px,1fr))]"}`}
          >
            {places.map((place, index) => {
              const state = stateOf(place);
              const at = secondsOfRecording(facts, place.start);
              return (
                // Keys go to the list, which says what is chosen.
                // oxlint-disable-next-line jsx-a11y/click-events-have-key-events, jsx-a11y/interactive-supports-focus
                <div
                  key={`${place.start}/${place.end}/${index}`}
                  id={`place-${index}`}
                  role="option"
                  aria-selected={index === chosen}
                  onClick={() => hear(index)}
                  className={`figure flex cursor-pointer justify-between gap-2 px-2 py-0.5 text-label ${index === chosen ? "bg-act-ground text-act" : ""} ${state === "left" ? "line-through opacity-60" : ""}`}
                >
                  <span>
                    {at === null ? "cut out" : formatTime(at, 3)}
                    {wordsOf && ` · ${wordsOf(place)}`}
                    {state === "treated" && <span title="treated"> ✓</span>}
                  </span>
                  <span className="text-soft">
                    {lengthOf(place) < 1
                      ? `${(lengthOf(place) * 1000).toFixed(lengthOf(place) < 0.1 ? 1 : 0)} ms`
                      : `${lengthOf(place).toFixed(2)} s`}
                    {place.sizeDb !== 0 && ` ${formatDb(place.sizeDb, { digits: 0 })} ${unit}`}
                  </span>
                </div>
              );
            })}
          </div>
          <div className="flex items-center gap-1 pt-1">
            <Button onClick={() => hear(chosen)} shortcut="Space" hint="Hear the place that is chosen once more">
              Hear it
            </Button>
            {onTreat && (
              <Button onClick={() => act(onTreat)} shortcut="Enter" hint={keyWords}>
                Treat it
              </Button>
            )}
            <Button onClick={() => act(onLeave)} shortcut="Delete" hint="It is no fault; or take it up after all">
              Leave it
            </Button>
          </div>
          <p className="pt-0.5 text-label text-soft">
            Arrows: next and hear; Space: hear again; {keyWords}
            {count > places.length && ` The first ${places.length} are shown.`}
          </p>
        </>
      )}
    </section>
  );
}
