"use client";

import type { RepairStep } from "@core/repair";
import type { RepairEvent } from "@core/repair/repair";
import { formatTime } from "@core/audio/format";
import { secondsOfRecording } from "@ui/state/item-time";
import type { ItemFacts } from "@ui/state/current-item";
import { EventTable } from "./event-table";
import type { ChangeStep } from "./change-step";
import { useStepEvents } from "./use-step-events";

/** What the step finds: gone through by keys, heard, and left alone where it is no fault. */
export function StepEvents({ step, facts, change }: { step: RepairStep; facts: ItemFacts; change: ChangeStep }) {
  const { found, problem, busy, fraction } = useStepEvents(step, facts);
  if (problem)
    return (
      <p role="alert" className="py-1 text-outside">
        The places could not be looked for: {problem}
      </p>
    );
  if (!found) return <p className="py-1 text-soft">Looking for places: {Math.round(fraction * 100)} % …</p>;
  const isLeft = ({ start, end }: RepairEvent) =>
    step.excludedRegions.some((one) => one.start < end && one.end > start);
  const leave = (place: RepairEvent) => {
    const left = isLeft(place);
    const excludedRegions = left
      ? step.excludedRegions.filter((one) => !(one.start < place.end && one.end > place.start))
      : [...step.excludedRegions, { start: Math.max(0, place.start), end: place.end }];
    const at = formatTime(secondsOfRecording(facts, place.start) ?? 0, 2);
    change({ excludedRegions }, `${left ? "mends" : "leaves alone"} ${at}`);
  };
  return (
    <div className="py-1">
      <EventTable
        places={found.events}
        count={found.count}
        facts={facts}
        stateOf={(place) => (isLeft(place) ? "left" : "open")}
        onLeave={leave}
        {...(found.events[0]?.description ? { wordsOf: ({ description }: RepairEvent) => description } : {})}
        keyWords="Delete: leave it alone, or mend it after all."
        heading={
          <>
            <b>{found.count}</b> {found.count === 1 ? "place" : "places"}
            {step.excludedRegions.length > 0 && (
              <span className="text-soft">, {step.excludedRegions.length} left alone</span>
            )}
            {busy && <span className="text-soft"> · looking anew</span>}
          </>
        }
      />
    </div>
  );
}
