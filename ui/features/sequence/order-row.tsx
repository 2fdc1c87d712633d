"use client";

import { useSortable } from "@dnd-kit/sortable";
import { CSS } from "@dnd-kit/utilities";
import { GripVertical } from "lucide-react";
import { useRef, useState, type KeyboardEvent } from "react";
import { formatDb, formatTime } from "@core/audio/format";
import { newFade } from "@core/programme/fade";
import { placementOf, type PlacementChanges } from "@core/programme/placement";
import { MAIN_MIX, type Item } from "@core/project/document";
import { movedToMix } from "@core/project/mixes";
import { knownRecordings } from "@core/project/views";
import { Select } from "@ui/design-system/controls";
import { useCurrentItem } from "@ui/state/current-item";
import { useWholeProgramme } from "@ui/state/programme";
import { goToStage, openItem } from "@ui/state/workspace-store";
import { isPick, pick, pickByEnter, usePickedOf } from "@ui/state/picked";
import { itemColour } from "@ui/design-system/colour-swatch";
import { ItemMenu } from "./item-menu";
import { NumberCell } from "./number-cell";

/** A step at a join that is marked. */
const MARKED_STEP_LU = 6;

interface Props {
  item: Item;
  index: number;
  /** Ids of all rows, as they are shown. */
  order: readonly string[];
  onMove: (to: number) => void;
}

export function OrderRow({ item, index, order, onMove }: Props) {
  const isPointed = useRef(false);
  const isPicked = usePickedOf("items", order).includes(item.id);
  const { item: inHand } = useCurrentItem();
  const { attributes, listeners, setNodeRef, setActivatorNodeRef, transform, transition, isDragging } = useSortable({
    id: item.id,
  });
  const onKeyDown = (event: KeyboardEvent) => {
    if (!event.altKey || (event.key !== "ArrowUp" && event.key !== "ArrowDown")) return;
    event.preventDefault();
    event.stopPropagation();
    onMove(index + (event.key === "ArrowUp" ? -1 : 1));
  };
  const isInHand = item.id === inHand?.id;
  return (
    <tr
      ref={setNodeRef}
      aria-rowindex={index + 2}
      data-moves
      data-testid={`order-${item.id}`}
      aria-current={isInHand ? "true" : undefined}
      onKeyDown={onKeyDown}
      onFocusCapture={() => {
        // A click has taken it in hand, or picked it and left the one that is in hand.
        if (!isPointed.current) openItem(item.id);
        isPointed.current = false;
      }}
      onPointerDown={(event) => {
        isPointed.current = true;
        pick("items", item.id, order, event);
        if (!isPick(event)) openItem(item.id);
      }}
      onPointerUp={() => void (isPointed.current = false)}
      data-picked={isPicked || undefined}
      style={{ transform: CSS.Translate.toString(transform), transition: transition ?? undefined }}
      className={`h-[26px] border-b border-grid text-right ${isInHand || isPicked ? "bg-act-ground" : "bg-sheet"} ${isDragging ? "relative z-20 shadow" : ""}`}
    >
      <td>
        <button
          type="button"
          ref={setActivatorNodeRef}
          {...attributes}
          {...listeners}
          aria-label={`Move ${item.name}`}
          title="Drag, or Alt with the arrow keys"
          className="cursor-grab touch-none p-0.5 text-soft hover:text-act"
        >
          <GripVertical size={13} />
        </button>
      </td>
      <td
        className="figure border-l-4 text-soft"
        style={{ borderLeftColor: itemColour(item.colour) }}
        title={item.colour ? `marked ${item.colour}` : undefined}
      >
        {placementOf(item).hidden && index === 0 ? "00" : index + 1}
        {isPicked && <span className="sr-only">selected</span>}
      </td>
      <td className="max-w-0 pl-3 text-left">
        <ItemName item={item} order={order} />
      </td>
      <PlaceCells item={item} index={index} order={order} />
      <LevelCells item={item} />
      <td className="pr-1 text-label text-soft">
        <MixChoice item={item} />
      </td>
      <td>
        <ItemMenu item={item} />
      </td>
    </tr>
  );
}

/** Which of its mixes is in force. */
function MixChoice({ item }: { item: Item }) {
  const { edit, view } = useCurrentItem();
  const { mixes, source } = item;
  if (!mixes) return MAIN_MIX;
  return (
    <Select
      label={`Mix of ${item.name} that is in force`}
      value={mixes.find((one) => one.source === source)?.name ?? mixes[0]!.name}
      options={mixes.map(({ name }) => name)}
      onChange={(mix) => {
        const moved = movedToMix(item, mix, knownRecordings(view.sources));
        void edit({ type: "setMix", item: item.id, mix, ...(moved ? { moved } : {}) });
      }}
      className="h-5 w-full text-label"
    />
  );
}

/** Where it stands and how it comes and goes: all that is typed. */
function PlaceCells({ item, index, order }: { item: Item; index: number; order: readonly string[] }) {
  const { edit, view } = useCurrentItem();
  const { placed, timeline } = useWholeProgramme();
  // What is typed in one of several that are picked is meant for all of them.
  const picked = usePickedOf("items", order);
  const meant = picked.includes(item.id) ? picked : [item.id];
  const place = (changes: PlacementChanges, what: string) =>
    void edit({ type: "placeItems", items: meant.map((id) => ({ item: id, changes })), what });
  const { gapSeconds, gapFrom, fadeIn, fadeOut, gainDb } = placementOf(item);
  const at = placed(item.id);
  const rate = timeline?.sampleRate ?? 1;
  const { headSeconds } = view.document.programme;
  const fade = (which: "fadeIn" | "fadeOut", label: string) => {
    const now = which === "fadeIn" ? fadeIn : fadeOut;
    return (
      <NumberCell
        label={`${label}, ${item.name}`}
        value={now?.seconds ?? null}
        onCommit={(seconds) => {
          if (seconds === null || seconds <= 0) return place({ [which]: null }, `no ${label}`);
          const next = { ...(now ?? newFade(seconds)), seconds: Math.min(600, seconds) };
          place({ [which]: next }, `${label} ${next.seconds.toFixed(2)} s`);
        }}
      />
    );
  };
  return (
    <>
      <td className="figure">{at ? formatTime(at.start / rate, 1) : "—"}</td>
      <td className="figure">{at ? formatTime((at.end - at.start) / rate, 1) : "—"}</td>
      <td title={index > 0 ? `counted from the ${gapFrom}` : "silence before the first item"}>
        {index === 0 ? (
          <NumberCell
            label={`Pause before, ${item.name}`}
            value={headSeconds}
            onCommit={(seconds) =>
              void edit({
                type: "setProgramme",
                changes: { headSeconds: Math.max(0, Math.min(600, seconds ?? 0)) },
                what: `head ${(seconds ?? 0).toFixed(2)} s`,
              })
            }
          />
        ) : (
          <NumberCell
            label={`Pause before, ${item.name}`}
            value={gapSeconds}
            digits={2}
            onCommit={(seconds) =>
              place(
                { gapSeconds: Math.max(-600, Math.min(3600, seconds ?? 0)) },
                `pause ${(seconds ?? 0).toFixed(2)} s`,
              )
            }
          />
        )}
      </td>
      <td>{fade("fadeIn", "Fade in")}</td>
      <td>{fade("fadeOut", "Fade out")}</td>
      <td>
        <NumberCell
          label={`Gain, ${item.name}`}
          value={gainDb}
          sign
          onCommit={(db) =>
            place({ gainDb: Math.max(-60, Math.min(24, db ?? 0)) }, `gain ${formatDb(db ?? 0, { sign: true })} dB`)
          }
        />
      </td>
    </>
  );
}

function LevelCells({ item }: { item: Item }) {
  const { levels, estimated } = useWholeProgramme();
  const own = levels?.items.get(item.id);
  const step = levels?.joins.find(({ after }) => after.item === item.id)?.stepLu ?? null;
  const isLarge = step !== null && Math.abs(step) > MARKED_STEP_LU;
  const title = estimated ? "Estimated from the settings of the chain" : undefined;
  return (
    <>
      <td className="figure" title={title}>
        {formatDb(own ? own.integratedLufs : NaN)}
      </td>
      <td className={`figure ${isLarge ? "text-outside" : ""}`}>
        {step === null ? "—" : `${isLarge ? "▲ " : ""}${formatDb(step, { sign: true })}`}
      </td>
      <td className="figure" title={title}>
        {formatDb(own ? own.truePeakDbtp : NaN)}
      </td>
    </>
  );
}

function ItemName({ item, order }: { item: Item; order: readonly string[] }) {
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
        onDoubleClick={() => setTyped(item.name)}
        onKeyDown={(event) => {
          if (pickByEnter("items", item.id, order)(event)) return;
          if (event.key === "F2") setTyped(item.name);
          if (event.key === "Enter") {
            event.preventDefault();
            openItem(item.id);
            goToStage("inspect");
          }
        }}
        className="max-w-full truncate text-act hover:underline"
        title={`${item.name} — click: take in hand, Enter: open, double click or F2: rename`}
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
