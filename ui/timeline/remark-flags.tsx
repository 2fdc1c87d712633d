"use client";

import { useEffect, useState } from "react";
import { formatTime } from "@core/audio/format";
import { usePlacedThreads } from "@ui/state/comments";
import { useCurrentItem, type ItemFacts } from "@ui/state/current-item";
import { useOpenRemarks } from "@ui/state/reviews";
import { showRange } from "@ui/state/show-range";
import { onWindow, windowNow, xOf } from "../state/time-window";

interface Flag {
  id: string;
  kind: "Remark" | "Comment";
  name: string;
  words: string;
  seconds: number;
  endSeconds: number | null;
}

/** Remarks of reviewers and comments of the team that are not resolved. */
function useFlags(facts: ItemFacts): Flag[] {
  const { view } = useCurrentItem();
  const remarks = useOpenRemarks(view.id, facts.item.id);
  const threads = usePlacedThreads(view.id, facts.item.id, facts);
  return [
    ...remarks.map(({ at_seconds: seconds, end_seconds: endSeconds, ...remark }) => ({
      ...{ ...remark, seconds, endSeconds },
      kind: "Remark" as const,
    })),
    ...(threads ?? []).flatMap(({ seconds, resolved_at: resolved, ...thread }) =>
      seconds === null || resolved !== null ? [] : [{ ...thread, seconds, kind: "Comment" as const }],
    ),
  ];
}

/** What is said of places and not resolved, as flags under the ruler: a click shows the place. */
export function RemarkFlags({ facts }: { facts: ItemFacts }) {
  const flags = useFlags(facts);
  const [, setMoved] = useState(0);
  useEffect(() => onWindow(() => requestAnimationFrame(() => setMoved((n) => n + 1))), []);
  const view = windowNow(facts.duration);
  return (
    <div className="pointer-events-none absolute inset-x-0 top-10 z-10 h-4 overflow-hidden">
      {flags
        .filter(({ seconds }) => seconds >= view.start && seconds <= view.end)
        .map(({ id, kind, name, words, seconds, endSeconds }) => (
          <button
            key={id}
            type="button"
            title={`${name}, at ${formatTime(seconds)}: ${words}`}
            aria-label={`${kind} of ${name} at ${formatTime(seconds)}: ${words}`}
            onClick={() => showRange(facts, seconds, endSeconds === null ? 0 : endSeconds - seconds)}
            className={`pointer-events-auto absolute top-0 flex max-w-40 items-center gap-1 rounded-[3px] border-l-2 bg-sheet px-1 text-label leading-4 ${
              kind === "Remark" ? "border-close text-close" : "border-act text-act"
            }`}
            style={{ left: `${xOf(seconds, view, 100)}%` }}
          >
            <span className="truncate">
              {name}: {words}
            </span>
          </button>
        ))}
    </div>
  );
}
