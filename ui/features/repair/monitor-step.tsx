"use client";

import { useWorkspace } from "@ui/state/workspace-store";
import type { MonitorSourceName } from "@ui/state/monitor-source";

const WAYS: { heard: MonitorSourceName; words: string; help: string }[] = [
  { heard: "now", words: "now", help: "With all repairs and the chain" },
  { heard: "before", words: "before this step", help: "With the repairs that come before this one" },
  { heard: "removed", words: "only what it removes", help: "What this step takes away and nothing else" },
];

/** What is heard of the step in hand. */
export function MonitorStep() {
  const heard = useWorkspace((workspace) => workspace.monitorSource);
  return (
    <div role="group" aria-label="Hear" className="flex items-center gap-1">
      <span className="text-soft">Hear</span>
      {WAYS.map(({ heard: way, words, help }) => (
        <button
          key={way}
          type="button"
          aria-pressed={heard === way}
          title={help}
          onClick={() => useWorkspace.setState({ monitorSource: way })}
          className={`h-6 rounded-[4px] border px-2 ${heard === way ? "border-act bg-act-ground text-act" : "border-hair"}`}
        >
          {words}
        </button>
      ))}
    </div>
  );
}
