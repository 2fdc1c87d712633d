"use client";

import { Plus, Trash2 } from "lucide-react";
import { newDucker, ORDER, laneSchema, type Ducker, type Lane } from "@core/programme/programme";
import { placementOf } from "@core/programme/placement";
import type { Item } from "@core/project/document";
import { formatDb } from "@core/audio/format";
import { Button } from "@ui/design-system/button";
import { IconButton } from "@ui/design-system/icon-button";
import { Select } from "@ui/design-system/controls";
import { NumberInput } from "@ui/design-system/number-input";
import { useCurrentItem } from "@ui/state/current-item";
import { useWholeProgramme } from "@ui/state/programme";
import { openItem, useWorkspace } from "@ui/state/workspace-store";
import { ItemMenu } from "./item-menu";
import { NumberCell } from "./number-cell";

const ANCHOR_NONE = "programme";

/** Lanes under the order: beds, stings, atmospheres, each with its gain and what it yields to. */
export function LanesPanel() {
  const { view, edit } = useCurrentItem();
  const { lanes } = view.document.programme;
  const add = () => {
    const id = `lane-${crypto.randomUUID().slice(0, 8)}`;
    void edit({
      type: "addLane",
      lane: laneSchema.parse({ id, name: lanes.length === 0 ? "Bed" : `Lane ${lanes.length + 1}` }),
    });
  };
  return (
    <section aria-label="Lanes" className="px-4 pt-2 pb-4">
      <header className="flex items-center gap-2">
        <h2 className="text-label font-semibold">Lanes under the order</h2>
        <Button
          kind="quiet"
          onClick={add}
          hint="A place for a bed, a sting or an atmosphere that plays under the order"
        >
          <Plus size={13} /> Lane
        </Button>
        {lanes.length === 0 && (
          <span className="text-label text-soft">
            None yet. What lies on a lane plays under the order, and can yield to it.
          </span>
        )}
      </header>
      {lanes.map((lane) => (
        <LaneRow key={lane.id} lane={lane} />
      ))}
    </section>
  );
}

function LaneRow({ lane }: { lane: Lane }) {
  const { edit } = useCurrentItem();
  const { items } = useWholeProgramme();
  const change = (changes: Extract<Parameters<typeof edit>[0], { type: "changeLane" }>["changes"]) =>
    void edit({ type: "changeLane", lane: lane.id, changes });
  const isOpen = useWorkspace(({ laneInHand }) => laneInHand === lane.id);
  const lying = items.filter((item) => placementOf(item).lane === lane.id);
  return (
    <div className="mt-1 border-t border-grid pt-1" data-testid={`lane-${lane.id}`}>
      <div className="flex flex-wrap items-center gap-x-3 gap-y-1 text-label">
        <input
          aria-label={`Name of the lane ${lane.name}`}
          className="w-32 rounded-[3px] border border-transparent bg-transparent px-1 font-semibold hover:border-hair focus:border-act"
          defaultValue={lane.name}
          key={lane.name}
          onBlur={(event) => {
            const name = event.target.value.trim();
            if (name && name !== lane.name) change({ name });
          }}
          onKeyDown={(event) => event.key === "Enter" && event.currentTarget.blur()}
        />
        <span className="w-20">
          <NumberInput
            label={`Gain of ${lane.name}`}
            value={lane.gainDb}
            unit="dB"
            onCommit={(gainDb) => change({ gainDb: Math.max(-60, Math.min(24, gainDb)) })}
          />
        </span>
        <Toggle label="Mute" pressed={lane.mute} onToggle={() => change({ mute: !lane.mute })} />
        <Toggle label="Solo" pressed={lane.solo} onToggle={() => change({ solo: !lane.solo })} />
        <DuckerFields lane={lane} onChange={(ducker) => change({ ducker })} />
        <button
          type="button"
          onClick={() => useWorkspace.setState({ gainLineOf: { kind: "lane", id: lane.id } })}
          className="rounded-[3px] border border-hair px-1.5 text-act hover:border-act"
          title="Its gain over time, drawn over the map: also to correct what the ducker does"
        >
          Gain line{lane.envelope.length > 0 ? ` · ${lane.envelope.length}` : ""}
        </button>
        <button
          type="button"
          aria-expanded={isOpen}
          onClick={() => useWorkspace.setState({ laneInHand: isOpen ? null : lane.id })}
          className={`rounded-[3px] border px-1.5 text-act hover:border-act ${isOpen ? "border-act bg-act-ground" : "border-hair"}`}
          title="Processors that all of the lane goes through"
        >
          Chain{lane.chain.length > 0 ? ` · ${lane.chain.length}` : ""}
        </button>
        <IconButton
          label={`Remove the lane ${lane.name}`}
          disabled={lying.length > 0}
          onClick={() => void edit({ type: "removeLane", lane: lane.id })}
        >
          <Trash2 size={13} />
        </IconButton>
      </div>
      {lying.length === 0 ? (
        <p className="px-1 text-label text-soft">
          Nothing lies on it: choose “Put it on the lane” in an item&apos;s menu.
        </p>
      ) : (
        lying.map((item) => <LaneItem key={item.id} item={item} />)
      )}
    </div>
  );
}

function Toggle({ label, pressed, onToggle }: { label: string; pressed: boolean; onToggle: () => void }) {
  return (
    <button
      type="button"
      aria-pressed={pressed}
      onClick={onToggle}
      className={`rounded-[3px] border px-1.5 ${pressed ? "border-act bg-act-ground text-act" : "border-hair text-soft"}`}
    >
      {label}
    </button>
  );
}

/** What the lane yields to, by how much and how fast. */
function DuckerFields({ lane, onChange }: { lane: Lane; onChange: (ducker: Ducker | null) => void }) {
  const { view } = useCurrentItem();
  const { ducker } = lane;
  const others = view.document.programme.lanes.filter(({ id }) => id !== lane.id);
  const words = (id: string) =>
    id === "" ? "nothing" : id === ORDER ? "the order" : (others.find((one) => one.id === id)?.name ?? id);
  const field = (
    label: string,
    name: "rangeDb" | "thresholdDb" | "attackSeconds" | "holdSeconds" | "releaseSeconds",
    unit: string,
    low: number,
    high: number,
  ) =>
    ducker && (
      <span className="flex items-center gap-1">
        <span className="text-soft">{label}</span>
        <span className="w-16">
          <NumberInput
            label={`${label} of the ducking of ${lane.name}`}
            value={ducker[name]}
            unit={unit}
            onCommit={(value) => onChange({ ...ducker, [name]: Math.max(low, Math.min(high, value)) })}
          />
        </span>
      </span>
    );
  return (
    <span className="flex flex-wrap items-center gap-x-2 gap-y-1">
      <span className="whitespace-nowrap text-soft">yields to</span>
      <Select
        label={`What ${lane.name} yields to`}
        value={ducker?.yieldsTo[0] ?? ""}
        options={["", ORDER, ...others.map(({ id }) => id)]}
        words={words}
        onChange={(id) => onChange(id === "" ? null : { ...(ducker ?? newDucker([id])), yieldsTo: [id] })}
      />
      {field("by", "rangeDb", "dB", 0, 60)}
      {field("above", "thresholdDb", "dB", -90, 0)}
      {field("attack", "attackSeconds", "s", 0, 5)}
      {field("hold", "holdSeconds", "s", 0, 10)}
      {field("release", "releaseSeconds", "s", 0, 20)}
    </span>
  );
}

function LaneItem({ item }: { item: Item }) {
  const { edit } = useCurrentItem();
  const { order, nameOf, levels } = useWholeProgramme();
  const { anchor, atSeconds, gainDb } = placementOf(item);
  const place = (
    changes: Extract<Parameters<typeof edit>[0], { type: "placeItems" }>["items"][number]["changes"],
    what: string,
  ) => void edit({ type: "placeItems", items: [{ item: item.id, changes }], what });
  return (
    <div className="flex items-center gap-2 pl-4 text-label">
      <button
        type="button"
        onClick={() => openItem(item.id)}
        className="w-44 truncate text-left text-act hover:underline"
      >
        {item.name}
      </button>
      <span className="w-20">
        <NumberCell
          label={`Begins, ${item.name}`}
          value={atSeconds}
          digits={2}
          onCommit={(seconds) => place({ atSeconds: seconds ?? 0 }, `at ${(seconds ?? 0).toFixed(2)} s`)}
        />
      </span>
      <span className="text-soft">s from the beginning of</span>
      <Select
        label={`What ${item.name} moves with`}
        value={anchor ?? ANCHOR_NONE}
        options={[ANCHOR_NONE, ...order.map(({ id }) => id)]}
        words={(id) => (id === ANCHOR_NONE ? "the programme" : nameOf(id))}
        onChange={(id) =>
          place({ anchor: id === ANCHOR_NONE ? null : id }, id === ANCHOR_NONE ? "stays" : `moves with “${nameOf(id)}”`)
        }
      />
      <span className="w-16">
        <NumberCell
          label={`Gain, ${item.name}`}
          value={gainDb}
          sign
          onCommit={(db) =>
            place({ gainDb: Math.max(-60, Math.min(24, db ?? 0)) }, `gain ${formatDb(db ?? 0, { sign: true })} dB`)
          }
        />
      </span>
      <span className="text-soft">dB</span>
      <span className="figure ml-2 text-soft">{formatDb(levels?.items.get(item.id)?.integratedLufs ?? NaN)} LUFS</span>
      <ItemMenu item={item} />
    </div>
  );
}
