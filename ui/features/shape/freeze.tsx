"use client";

import type { ChainEntry } from "@core/processors";
import { useWorkspace, type WorkspaceState } from "@ui/state/workspace-store";
import { useFreezing, type ChainCosts } from "@ui/state/freezing";

export const costLabel = (share: number): string =>
  share < 0.005 ? "under 1 % of a core" : `${Math.round(share * 100)} % of a core`;

/** What the whole chain costs, and what of it is frozen. */
export function Freeze({ entry, costs }: { entry: ChainEntry; costs: ChainCosts | null }) {
  const freeze = useWorkspace((workspace) => workspace.freeze);
  const { entries, made, of, problem } = useFreezing();
  if (!costs) return null;
  const choose = (next: WorkspaceState["freeze"]) => () => useWorkspace.setState({ freeze: next });
  const way = (next: WorkspaceState["freeze"], words: string, hint: string) => (
    <button
      type="button"
      title={hint}
      aria-pressed={JSON.stringify(next) === JSON.stringify(freeze)}
      onClick={choose(next)}
      className="rounded-[3px] px-1 text-act hover:bg-act-ground aria-pressed:bg-act-ground aria-pressed:font-semibold"
    >
      {words}
    </button>
  );
  return (
    <div className="text-label" aria-label="Frozen">
      <p className="figure text-soft">
        in all {(costs.all.latencySeconds * 1000).toFixed(1)} ms, {costLabel(costs.all.share)}
      </p>
      <p className="flex flex-wrap items-center gap-x-1">
        <span className="text-soft">freeze:</span>
        {way("auto", "if heavy", "What is too heavy to be worked out while it is heard; nothing else")}
        {way({ upTo: entry.id ?? "" }, "up to here", "This processor and all before it: it spares the machine")}
        {way("none", "none", "Everything is worked out while it is heard")}
      </p>
      {entries > 0 && (
        <p role="status" data-testid="frozen">
          {problem ?? `${entries} frozen, ${of > 0 ? Math.round((100 * made) / of) : 0} % made`}
          {!problem && made < of && <span className="text-soft">; heard without them where they are not made yet</span>}
        </p>
      )}
    </div>
  );
}
