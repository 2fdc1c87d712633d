"use client";

import { useState, type KeyboardEvent } from "react";
import type { RepairStep } from "@core/repair";
import type { RepairPlace } from "@core/repair/repair";
import { formatDb, formatTime } from "@core/signal/format";
import { Choice } from "@ui/shared/setting";
import { engine } from "@ui/workspace/listening";
import { itemFrame, secondsOfRecording } from "@ui/workspace/item-time";
import type { ItemFacts } from "@ui/workspace/in-hand";
import { showPlace } from "../inspect/show-place";
import type { ChangeStep } from "./step-editor";
import { usePlaces } from "./use-places";

const ORDERS = ["time", "size"] as const;
/** Heard before and after a place. */
const ROLL_SECONDS = 0.7;
/** Shown at once; the rest is counted. */
const SHOWN = 300;

/** What the step finds: gone through by keys, heard, and left alone where it is no fault. */
export function PlaceList({ step, facts, change }: { step: RepairStep; facts: ItemFacts; change: ChangeStep }) {
  const { found, problem, busy, fraction } = usePlaces(step, facts);
  const [order, setOrder] = useState<(typeof ORDERS)[number]>("time");
  const [chosen, setChosen] = useState(0);
  if (problem)
    return (
      <p role="alert" className="py-1 text-outside">
        The places could not be looked for: {problem}
      </p>
    );
  if (!found) return <p className="py-1 text-soft">Looking for places: {Math.round(fraction * 100)} % …</p>;
  const { sampleRate } = facts;
  const places = [...found.places]
    .sort((a, b) => (order === "time" ? a.start - b.start : b.sizeDb - a.sizeDb))
    .slice(0, SHOWN);
  const isLeft = ({ start, end }: RepairPlace) => step.except.some((one) => one.start < end && one.end > start);
  const seconds = (frame: number) => secondsOfRecording(facts, frame) ?? 0;
  const hear = (index: number) => {
    const place = places[index];
    if (!place) return;
    setChosen(index);
    showPlace(facts, seconds(place.start), (place.end - place.start) / sampleRate);
    const at = seconds(place.start);
    const end = at + (place.end - place.start) / sampleRate;
    void engine().playStretch(itemFrame(facts, at - ROLL_SECONDS), itemFrame(facts, end + ROLL_SECONDS));
  };
  const leave = (index: number) => {
    const place = places[index];
    if (!place) return;
    const except = isLeft(place)
      ? step.except.filter((one) => !(one.start < place.end && one.end > place.start))
      : [...step.except, { start: Math.max(0, place.start), end: place.end }];
    change({ except }, `${isLeft(place) ? "mends" : "leaves alone"} ${formatTime(seconds(place.start), 2)}`);
  };
  const onKeyDown = (event: KeyboardEvent) => {
    const act = {
      ArrowDown: () => hear(Math.min(places.length - 1, chosen + 1)),
      ArrowUp: () => hear(Math.max(0, chosen - 1)),
      Enter: () => hear(chosen),
      Delete: () => leave(chosen),
    }[event.key];
    if (!act) return;
    event.preventDefault();
    event.stopPropagation();
    act();
  };
  return (
    <section className="mt-1 border-t border-grid pt-1.5" data-testid="places">
      <h3 className="flex items-center justify-between">
        <span>
          <b>{found.count}</b> {found.count === 1 ? "place" : "places"}
          {step.except.length > 0 && <span className="text-soft">, {step.except.length} left alone</span>}
          {busy && <span className="text-soft"> · looking anew</span>}
        </span>
        {places.length > 1 && (
          <Choice
            label="Order of the places"
            value={order}
            of={ORDERS}
            onChoose={setOrder}
            words={(one) => `by ${one}`}
          />
        )}
      </h3>
      {places.length > 0 && (
        <>
          <ul
            role="listbox"
            aria-label="Places"
            aria-activedescendant={`place-${chosen}`}
            tabIndex={0}
            onKeyDown={onKeyDown}
            className="mt-1 grid max-h-36 grid-cols-[repeat(auto-fill,minmax(176px,1fr))] overflow-y-auto border border-grid"
          >
            {places.map((place, index) => (
              <li
                key={`${place.start}/${place.channel}`}
                id={`place-${index}`}
                role="option"
                aria-selected={index === chosen}
                onClick={() => hear(index)}
                className={`figure flex cursor-pointer justify-between gap-2 px-2 py-0.5 text-label ${index === chosen ? "bg-act-ground text-act" : ""} ${isLeft(place) ? "line-through opacity-60" : ""}`}
              >
                <span>{formatTime(seconds(place.start), 3)}</span>
                <span className="text-soft">
                  {(((place.end - place.start) / sampleRate) * 1000).toFixed(1)} ms
                  {place.sizeDb > 0 && ` ${formatDb(place.sizeDb, { digits: 0 })} dB`}
                </span>
              </li>
            ))}
          </ul>
          <p className="pt-0.5 text-label text-soft">
            Arrows: next and hear; Enter: hear again; Delete: leave it alone, or mend it after all.
            {found.count > places.length && ` The first ${places.length} are shown.`}
          </p>
        </>
      )}
    </section>
  );
}
