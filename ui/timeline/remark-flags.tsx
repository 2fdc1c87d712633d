"use client";

import { useEffect, useState } from "react";
import { formatTime } from "@core/audio/format";
import { useCurrentItem, type ItemFacts } from "@ui/state/current-item";
import { useOpenRemarks } from "@ui/state/reviews";
import { showRange } from "@ui/state/show-range";
import { onWindow, windowNow, xOf } from "../state/time-window";

/** Remarks of reviewers that are not resolved, as flags under the ruler: a click shows the place. */
export function RemarkFlags({ facts }: { facts: ItemFacts }) {
  const { view: project, item } = useCurrentItem();
  const remarks = useOpenRemarks(project.id, item?.id);
  const [, setMoved] = useState(0);
  useEffect(() => onWindow(() => requestAnimationFrame(() => setMoved((n) => n + 1))), []);
  const view = windowNow(facts.duration);
  return (
    <div className="pointer-events-none absolute inset-x-0 top-10 z-10 h-4 overflow-hidden">
      {remarks
        .filter(({ at_seconds: at }) => at >= view.start && at <= view.end)
        .map(({ id, name, words, at_seconds: at, end_seconds: end }) => (
          <button
            key={id}
            type="button"
            title={`${name}, at ${formatTime(at)}: ${words}`}
            aria-label={`Remark of ${name} at ${formatTime(at)}: ${words}`}
            onClick={() => showRange(facts, at, end === null ? 0 : end - at)}
            className="pointer-events-auto absolute top-0 flex max-w-40 items-center gap-1 rounded-[3px] border-l-2 border-close bg-sheet px-1 text-label leading-4 text-close"
            style={{ left: `${xOf(at, view, 100)}%` }}
          >
            <span className="truncate">
              {name}: {words}
            </span>
          </button>
        ))}
    </div>
  );
}
