"use client";

import { mendingOf, type Mending } from "@core/findings/mending";
import type { Finding } from "@core/findings/finding";
import { newId } from "@ui/api/use-project";
import { useCurrentItem, type ItemFacts } from "@ui/state/current-item";
import { goToStage, useWorkspace } from "@ui/state/workspace-store";

const WORDS: Record<Mending["kind"], string> = {
  repair: "Adds the repair with settings that fit what was found, and opens it",
  processor: "Adds it to the end of the chain, and opens the chain",
  "by hand": "Opens where it is done, in Repair",
};

/** Leads from a finding to what mends it; nothing where nothing does. */
export function MendButton({ finding, facts }: { finding: Finding; facts: ItemFacts }) {
  const { item, edit, spec } = useCurrentItem();
  const { figures, events } = facts.source;
  const mending = figures && mendingOf(finding, figures, spec, events ?? []);
  if (!item || !mending) return null;
  const mend = async () => {
    if (mending.kind === "by hand") {
      useWorkspace.setState({ step: null, repair: mending.view });
      return goToStage("repair");
    }
    const id = newId();
    if (mending.kind === "repair") {
      const there = item.repairs.find(({ type }) => type === mending.step.type);
      if (!there) await edit({ type: "addRepairs", item: item.id, steps: [{ ...mending.step, id }] });
      useWorkspace.setState({ step: there?.id ?? id });
      return goToStage("repair");
    }
    await edit({ type: "addProcessor", item: item.id, entry: { ...mending.entry, id } });
    goToStage("shape");
  };
  return (
    <button type="button" className="text-act hover:underline" title={WORDS[mending.kind]} onClick={() => void mend()}>
      {mending.words}
    </button>
  );
}
