"use client";

import { Plus } from "lucide-react";
import { processorNamed, settingsOf } from "@core/processors";
import { groupNamed } from "@core/processors/groups";
import { TEMPLATES } from "@core/project/templates";
import { USUAL_CHAINS, usualEntry, type UsualProcessor } from "@core/project/usual-work";
import { newId } from "@ui/api/use-project";
import { Button } from "@ui/design-system/button";
import { useCurrentItem } from "@ui/state/current-item";
import { groupColour } from "./group-colour";

/** What a chain of this kind of project usually has: shown while it is empty, and added one by one or together. */
export function UsualChain({ onChoose }: { onChoose: (id: string) => void }) {
  const { view, item, edit } = useCurrentItem();
  const { template } = view.document;
  if (!item) return null;
  const usual = USUAL_CHAINS[template];
  const add = async (processors: readonly UsualProcessor[]) => {
    const entries = processors.map((processor) => usualEntry(processor, newId()));
    if (entries.length > 1) return edit({ type: "setChain", items: [item.id], chain: entries, prefix: newId() });
    await edit({ type: "addProcessor", item: item.id, entry: entries[0]! });
    onChoose(entries[0]!.id!);
  };
  return (
    <section className="min-h-0 flex-1 overflow-y-auto px-4 py-3" data-testid="usual-chain">
      <header className="flex items-baseline gap-3 border-b border-hair pb-1.5">
        <h2 className="font-semibold">
          The chain is empty: the item goes out as it came in. Usual for {kindOf(template)}
        </h2>
        <Button className="ml-auto" onClick={() => void add(usual)} hint="One edit; each can be changed or taken out">
          Add all {usual.length}
        </Button>
      </header>
      <ol>
        {usual.map((processor) => {
          const definition = processorNamed(processor.type);
          const settings = definition.summary(settingsOf(usualEntry(processor, "")));
          return (
            <li key={processor.type} className="flex items-center gap-3 border-b border-grid py-1">
              <span className="w-20 text-label" style={{ color: groupColour(definition.group) }}>
                {groupNamed(definition.group).name.toLowerCase()}
              </span>
              <span className="w-28 font-semibold">{definition.name}</span>
              <span className="w-44 text-label text-soft">
                {processor.preset}{" "}
                <span className="figure block truncate" title={settings}>
                  {settings}
                </span>
              </span>
              <span className="min-w-0 flex-1 text-soft">{processor.why}</span>
              <Button kind="quiet" onClick={() => void add([processor])} hint={`${definition.help}.`}>
                <Plus size={13} /> Add
              </Button>
            </li>
          );
        })}
      </ol>
      <p className="pt-2 text-label text-soft">
        Anything else is found by what it should do: Add processor above. What is added is heard at once, and the strip
        tells what it does to each deliverable.
      </p>
    </section>
  );
}

const kindOf = (template: string): string => {
  const name = TEMPLATES.find(({ id }) => id === template)?.name ?? template;
  return `a project of the kind “${name}”`;
};
