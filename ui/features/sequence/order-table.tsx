"use client";

import { closestCenter, DndContext, KeyboardSensor, PointerSensor, useSensor, useSensors } from "@dnd-kit/core";
import { restrictToVerticalAxis } from "@dnd-kit/modifiers";
import { SortableContext, sortableKeyboardCoordinates, verticalListSortingStrategy } from "@dnd-kit/sortable";
import { useVirtualizer } from "@tanstack/react-virtual";
import { useEffect, useMemo } from "react";
import { indexInItems } from "@core/project/subjects";
import { useCurrentItem } from "@ui/state/current-item";
import { useWholeProgramme } from "@ui/state/programme";
import { PickedItems } from "./picked-items";
import { OrderRow } from "./order-row";

const ROW_PIXELS = 26;
const HEAD_PIXELS = 36;
/** Orders of no more rows have all of them in the page. */
const ALL_ROWS = 60;
/** Rows beyond the edges, for keys that go on to the next. */
const OVERSCAN = 12;

/** Further than this a press is a drag. */
const DRAG_PIXELS = 5;

const COLUMNS = [
  { label: "starts", unit: "min:s", className: "w-17", help: "Where the item begins in the programme" },
  { label: "length", unit: "min:s", className: "w-17", help: "After its cuts" },
  {
    label: "pause before",
    unit: "s",
    className: "w-22",
    help: "From the end of the fade-out, or from the last sample, of the item before; below 0 they overlap",
  },
  { label: "fade in", unit: "s", className: "w-14", help: "Empty for none; its shape stands at the join" },
  { label: "fade out", unit: "s", className: "w-16", help: "Empty for none; its shape stands at the join" },
  { label: "gain", unit: "dB", className: "w-14", help: "On top of the item's chain" },
  { label: "integrated", unit: "LUFS", className: "w-19", help: "After the chain, with gain and fades" },
  {
    label: "step",
    unit: "LU",
    className: "w-17",
    help: "The 3 s after the join against the 3 s before it, without what dies away",
  },
  { label: "true peak", unit: "dBTP", className: "w-17", help: "After the chain, with gain" },
  { label: "mix", unit: "in force", className: "w-20 pr-1", help: "Which of its recordings is heard and delivered" },
];

/** The rows that are in sight, and how much lies above and below them. */
function useRowsInSight(count: number, inHand: number, scroller: HTMLElement | null) {
  const isWindowed = count > ALL_ROWS;
  const virtual = useVirtualizer({
    count,
    enabled: isWindowed,
    getScrollElement: () => scroller,
    estimateSize: () => ROW_PIXELS,
    scrollMargin: HEAD_PIXELS,
    scrollPaddingStart: HEAD_PIXELS,
    overscan: OVERSCAN,
  });
  useEffect(() => {
    if (isWindowed && inHand >= 0) virtual.scrollToIndex(inHand);
  }, [isWindowed, inHand, virtual]);
  if (!isWindowed) return { first: 0, last: count, above: 0, below: 0 };
  const rows = virtual.getVirtualItems();
  const [first, last] = [rows[0]?.index ?? 0, (rows.at(-1)?.index ?? -1) + 1];
  return { first, last, above: first * ROW_PIXELS, below: (count - last) * ROW_PIXELS };
}

/**
 * The order as a table: every number typed, nudged or dragged; rows dragged, or moved by keys.
 * @param scroller what it is scrolled in
 */
export function OrderTable({ scroller }: { scroller: HTMLElement | null }) {
  const { view, edit, item: inHand } = useCurrentItem();
  const { order } = useWholeProgramme();
  const ids = useMemo(() => order.map(({ id }) => id), [order]);
  const sight = useRowsInSight(
    order.length,
    order.findIndex(({ id }) => id === inHand?.id),
    scroller,
  );
  const sensors = useSensors(
    useSensor(PointerSensor, { activationConstraint: { distance: DRAG_PIXELS } }),
    useSensor(KeyboardSensor, { coordinateGetter: sortableKeyboardCoordinates }),
  );
  const move = (item: string, to: number) => {
    const from = order.findIndex(({ id }) => id === item);
    const place = Math.max(0, Math.min(order.length - 1, to));
    if (from !== place) void edit({ type: "moveItem", item, to: indexInItems(view.document, item, place) });
  };
  return (
    <DndContext
      id="order"
      sensors={sensors}
      collisionDetection={closestCenter}
      modifiers={[restrictToVerticalAxis]}
      onDragEnd={({ active, over }) => {
        if (over)
          move(
            String(active.id),
            order.findIndex(({ id }) => id === over.id),
          );
      }}
    >
      <table className="w-full table-fixed" data-testid="order-table" aria-rowcount={order.length + 1}>
        <thead className="sticky top-0 z-10 bg-sheet text-label text-soft">
          <tr className="h-9 text-right align-top [&>th]:border-b [&>th]:border-hair [&>th]:font-normal">
            <th className="w-6" aria-label="Move" />
            <th className="w-8">no.</th>
            <th className="pl-3 text-left">item</th>
            {COLUMNS.map(({ label, unit, className, help }) => (
              <th key={label} className={className} title={help}>
                {label} <span className="block text-[10px] leading-3">{unit}</span>
              </th>
            ))}
            <th className="w-8" aria-label="More" />
          </tr>
        </thead>
        <SortableContext items={ids} strategy={verticalListSortingStrategy}>
          <tbody>
            {sight.above > 0 && <tr aria-hidden style={{ height: sight.above }} />}
            {order.slice(sight.first, sight.last).map((item, at) => (
              <OrderRow
                key={item.id}
                item={item}
                index={sight.first + at}
                order={ids}
                onMove={(to) => move(item.id, to)}
              />
            ))}
            {sight.below > 0 && <tr aria-hidden style={{ height: sight.below }} />}
          </tbody>
        </SortableContext>
      </table>
      <PickedItems order={ids} />
    </DndContext>
  );
}
