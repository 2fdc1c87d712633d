"use client";

import type { DetectedEvent } from "@core/events/event";
import type { RetakeCut } from "@core/events/retakes";
import { formatTime } from "@core/audio/format";
import { Button } from "@ui/design-system/button";
import { editActionsOf } from "@ui/state/edit-actions";
import { useCurrentItem, type ItemFacts } from "@ui/state/current-item";
import { itemFrame, secondsOfRecording } from "@ui/state/item-time";
import { engine } from "@ui/state/listening-engine";

/** Ways that are offered. */
const OFFERED = 4;
/** Beginnings as alike as this are taken for the same words. */
const SAME_WORDS = 0.5;

/** One mark: the takes before it and the one behind it are heard, and the cut from one to the other chosen. */
export function Retake({ facts, cuts, mark }: { facts: ItemFacts; cuts: RetakeCut[]; mark: DetectedEvent }) {
  const { edit } = useCurrentItem();
  const { sampleRate } = facts;
  const at = secondsOfRecording(facts, mark.start);
  if (at === null)
    return <p className="pt-1 text-soft">This retake is taken in; undo, or open the cut, to choose anew.</p>;
  const hear = ({ start, end }: { start: number; end: number }) => {
    const from = secondsOfRecording(facts, start);
    if (from !== null)
      void engine().playStretch(
        itemFrame(facts, from - 0.2),
        itemFrame(facts, from + (end - start) / sampleRate + 0.2),
      );
  };
  const after = cuts[0]?.after;
  return (
    <div className="mt-1 border-t border-grid pt-1" data-testid="retake">
      <div className="flex items-center justify-between">
        <b>Mark at {formatTime(at, 2)}</b>
        {after && (
          <Button kind="quiet" onClick={() => hear(after)} hint="What was read again, behind the mark">
            Hear the take after
          </Button>
        )}
      </div>
      {cuts.length === 0 && <p className="text-soft">Nothing is said before this mark, or nothing behind it.</p>}
      <ul>
        {cuts.slice(0, OFFERED).map((cut) => {
          const from = secondsOfRecording(facts, cut.before.start);
          if (from === null) return null;
          return (
            <li key={cut.start} className="flex items-center gap-2 border-b border-grid py-0.5">
              <span className="figure">{formatTime(from, 2)}</span>
              <span
                className="min-w-0 flex-1 truncate"
                title={cut.alike > SAME_WORDS ? "Begins so much alike that it is likely the same words" : undefined}
              >
                {((cut.end - cut.start) / sampleRate).toFixed(2)} s go
                <span className="text-soft">
                  {" "}
                  · {Math.round(100 * cut.alike)} % alike{cut.alike > SAME_WORDS ? " ✓" : ""}
                </span>
              </span>
              <Button kind="quiet" onClick={() => hear(cut.before)}>
                Hear it
              </Button>
              <Button
                onClick={() => editActionsOf(facts, edit).cutRanges([cut], "take in a retake")}
                hint="Cuts out from here to the take after; the crossfade lies in the pause and is heard"
              >
                Take it in
              </Button>
            </li>
          );
        })}
      </ul>
    </div>
  );
}
