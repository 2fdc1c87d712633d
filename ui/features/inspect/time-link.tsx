import type { ReactNode } from "react";
import { formatTime } from "@core/audio/format";
import type { ItemFacts } from "@ui/state/current-item";
import { showRange } from "../../state/show-range";

/** Words that lead to a place of the item in the programme view; plain words where there is none. */
export function TimeLink({
  facts,
  place,
  children,
}: {
  facts: ItemFacts;
  place: { seconds: number; length: number } | null;
  children: ReactNode;
}) {
  if (!place) return children;
  return (
    <button
      type="button"
      onClick={() => showRange(facts, place.seconds, place.length)}
      title={`Show where: ${formatTime(place.seconds, 2)}`}
      className="text-act hover:underline"
    >
      {children}
    </button>
  );
}
