"use client";

import { closestCenter, DndContext, KeyboardSensor, PointerSensor, useSensor, useSensors } from "@dnd-kit/core";
import { restrictToVerticalAxis } from "@dnd-kit/modifiers";
import { SortableContext, sortableKeyboardCoordinates, verticalListSortingStrategy } from "@dnd-kit/sortable";
import { indexInItems } from "@core/project/subjects";
import { useCurrentItem } from "@ui/state/current-item";
import { useWholeProgramme } from "@ui/state/programme";
import { OrderRow } from "./order-row";

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

/** The order as a table: every number typed, nudged or dragged; rows dragged, or moved by keys. */
export function OrderTable() {
  const { view, edit } = useCurrentItem();
  const { order } = useWholeProgramme();
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
      <table className="w-full table-fixed" data-testid="order-table">
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
        <SortableContext items={order.map(({ id }) => id)} strategy={verticalListSortingStrategy}>
          <tbody>
            {order.map((item, index) => (
              <OrderRow key={item.id} item={item} index={index} onMove={(to) => move(item.id, to)} />
            ))}
          </tbody>
        </SortableContext>
      </table>
    </DndContext>
  );
}
