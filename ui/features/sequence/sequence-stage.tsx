"use client";

import { IconButton } from "@ui/design-system/icon-button";
import { ArrowDown, ArrowUp, Trash2 } from "lucide-react";
import { useState } from "react";
import type { Item } from "@core/project/document";
import { formatDb, formatTime } from "@core/audio/format";
import { Figure } from "@ui/design-system/figure";
import { openItem } from "@ui/state/workspace-store";
import { EditList } from "@core/edit-list/edit-list";
import { useCurrentItem } from "@ui/state/current-item";

/** The running order: items in their places, and how their levels stand from one to the next. */
export function SequenceStage() {
  const { view, item: inHand, edit } = useCurrentItem();
  const { items } = view.document;
  const figuresOf = (item: Item) => view.sources.find(({ hash }) => hash === item.source)?.figures ?? null;
  const secondsOf = (item: Item) => {
    const figures = figuresOf(item);
    return figures ? EditList.of(item.clips, figures.frames).frames / figures.sampleRate : 0;
  };
  const starts = items.reduce<number[]>((sums, item) => [...sums, sums.at(-1)! + secondsOf(item)], [0]);
  if (items.length === 0)
    return <p className="p-4 text-soft">The running order is empty. Recordings that come in are put at its end.</p>;
  return (
    <div className="h-full overflow-y-auto px-4 py-2">
      <table className="w-full">
        <thead className="text-left text-label text-soft">
          <tr className="h-7 border-b border-hair">
            <th className="w-8 font-normal">no.</th>
            <th className="font-normal">item</th>
            <th className="w-24 text-right font-normal">starts at</th>
            <th className="w-24 text-right font-normal">length</th>
            <th className="w-32 text-right font-normal">loudness as it came</th>
            <th className="w-32 text-right font-normal">to the one before</th>
            <th className="w-28 text-right font-normal">true peak</th>
            <td className="w-28" />
          </tr>
        </thead>
        <tbody>
          {items.map((item, index) => {
            const figures = figuresOf(item);
            const before = index > 0 ? figuresOf(items[index - 1]!) : null;
            const step =
              figures?.integratedLufs != null && before?.integratedLufs != null
                ? figures.integratedLufs - before.integratedLufs
                : null;
            const from = starts[index]!;
            return (
              <tr
                key={item.id}
                className={`h-[26px] border-b border-grid ${item.id === inHand?.id ? "bg-act-ground" : ""}`}
              >
                <td className="figure text-soft">{index + 1}</td>
                <td className="max-w-0">
                  <ItemName item={item} />
                </td>
                <td className="figure text-right">{formatTime(from, 1)}</td>
                <td className="figure text-right">{formatTime(secondsOf(item), 1)}</td>
                <td className="text-right">
                  <Figure level={figures ? figures.integratedLufs : NaN} unit="LUFS" />
                </td>
                <td className="figure text-right">{step === null ? "—" : `${formatDb(step, { sign: true })} LU`}</td>
                <td className="text-right">
                  <Figure level={figures ? figures.truePeakDbtp : NaN} unit="dBTP" />
                </td>
                <td className="text-right whitespace-nowrap">
                  <IconButton
                    label="Earlier"
                    disabled={index === 0}
                    onClick={() => void edit({ type: "moveItem", item: item.id, to: index - 1 })}
                  >
                    <ArrowUp size={14} />
                  </IconButton>
                  <IconButton
                    label="Later"
                    disabled={index === items.length - 1}
                    onClick={() => void edit({ type: "moveItem", item: item.id, to: index + 1 })}
                  >
                    <ArrowDown size={14} />
                  </IconButton>
                  <IconButton
                    label="Take out of the running order"
                    onClick={() => void edit({ type: "removeItem", item: item.id })}
                  >
                    <Trash2 size={14} />
                  </IconButton>
                </td>
              </tr>
            );
          })}
        </tbody>
      </table>
      <p className="pt-2 text-label text-soft">
        {items.length} {items.length === 1 ? "item" : "items"}, {formatTime(starts.at(-1)!, 1)} in all. A name opens its
        item; a double click changes it.
      </p>
    </div>
  );
}

function ItemName({ item }: { item: Item }) {
  const { edit } = useCurrentItem();
  const [typed, setTyped] = useState<string | null>(null);
  const keep = () => {
    const name = typed?.trim();
    setTyped(null);
    if (name && name !== item.name) void edit({ type: "renameItem", item: item.id, name });
  };
  if (typed === null)
    return (
      <button
        type="button"
        onClick={() => openItem(item.id)}
        onDoubleClick={() => setTyped(item.name)}
        className="max-w-full truncate text-act hover:underline"
        title={`${item.name} — click: take in hand, double click: rename`}
      >
        {item.name}
      </button>
    );
  return (
    <input
      autoFocus
      aria-label="Name of the item"
      className="w-full rounded-[4px] border border-act bg-sheet px-1 outline-none"
      value={typed}
      onChange={(event) => setTyped(event.target.value)}
      onBlur={keep}
      onKeyDown={(event) => (event.key === "Enter" ? keep() : event.key === "Escape" && setTyped(null))}
    />
  );
}
