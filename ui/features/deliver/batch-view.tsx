"use client";

import { Select } from "@ui/design-system/controls";
import { useState } from "react";
import { Button } from "@ui/design-system/button";
import { useCurrentItem } from "@ui/state/current-item";
import { useRender } from "./use-render";

/** The repairs and the chain of one item for any number of others, and then all their masters. */
export function BatchView() {
  const { view, edit, item: inHand } = useCurrentItem();
  const render = useRender();
  const { items, deliverables } = view.document;
  const [from, setFrom] = useState<string | null>(null);
  const [left, setLeft] = useState<ReadonlySet<string>>(new Set());
  const model = items.find(({ id }) => id === (from ?? inHand?.id)) ?? items[0];
  if (!model || items.length < 2)
    return (
      <p className="p-4 text-soft">
        Bring in more than one recording: what was done to one item can then be done to all of them in one action, and
        all their masters rendered.
      </p>
    );
  const others = items.filter(({ id }) => id !== model.id);
  const chosen = others.filter(({ id }) => !left.has(id));
  const active = model.chain.filter(({ bypass }) => !bypass).length;
  const apply = async (thenRender: boolean) => {
    await edit({ type: "applyRecipe", from: model.id, items: chosen.map(({ id }) => id) });
    if (!thenRender) return;
    // The view is of before the edit: the server renders what is there now, and nothing twice.
    const wanted = [model, ...chosen];
    await render(deliverables.flatMap((deliverable) => wanted.map((item) => ({ item, deliverable }))));
  };
  return (
    <div className="max-w-3xl px-4 py-2">
      <div className="flex items-end gap-3 border-b border-hair pb-2">
        <label className="text-label text-soft">
          Copy from
          <Select
            label="Copy from"
            value={model.id}
            options={items.map(({ id }) => id)}
            words={(id) => items.find((one) => one.id === id)!.name}
            onChange={setFrom}
            className="mt-0.5 block h-7 max-w-64 text-body text-ink"
          />
        </label>
        <p className="pb-1 text-soft">
          {model.repairs.length} {model.repairs.length === 1 ? "repair" : "repairs"}, {active}{" "}
          {active === 1 ? "processor" : "processors"}:{" "}
          {[...model.repairs.map(({ type }) => type), ...model.chain.map(({ type }) => type)].join(", ") || "nothing"}
        </p>
      </div>
      <p className="py-2 text-label text-soft">
        Takes the place of the repairs and the chains of these items. What was there stays in the history.
      </p>
      <ul>
        {others.map(({ id, name, repairs, chain }) => (
          <li key={id} className="border-b border-grid">
            <label className="flex h-[26px] items-center gap-2">
              <input
                type="checkbox"
                className="accent-act"
                checked={!left.has(id)}
                onChange={() => {
                  const next = new Set(left);
                  if (!next.delete(id)) next.add(id);
                  setLeft(next);
                }}
              />
              <span className="min-w-0 flex-1 truncate" title={name}>
                {name}
              </span>
              <span className="text-label text-soft">
                {repairs.length + chain.length === 0
                  ? "nothing yet"
                  : `${repairs.length} repairs, ${chain.length} processors are replaced`}
              </span>
            </label>
          </li>
        ))}
      </ul>
      <div className="flex gap-2 pt-3">
        <Button disabled={chosen.length === 0} onClick={() => void apply(false)}>
          Apply to {chosen.length}
        </Button>
        <Button
          kind="main"
          disabled={chosen.length === 0 || deliverables.length === 0}
          onClick={() => void apply(true)}
          hint="Then renders every master of these items that has changed"
        >
          … and render {(chosen.length + 1) * deliverables.length} masters
        </Button>
      </div>
    </div>
  );
}
