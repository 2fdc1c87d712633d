"use client";

import { EyeOff } from "lucide-react";
import { formatDb } from "@core/audio/format";
import { blobUrl } from "@ui/api/api";
import { Select } from "@ui/design-system/controls";
import { Button } from "@ui/design-system/button";
import { SheetDialog } from "@ui/design-system/sheet-dialog";
import { answered, chanceOf, newBlindTest } from "../state/blind-test";
import { ChainVersions } from "./chain-versions";
import { useWorkspace } from "../state/workspace-store";
import type { MonitorSourceName, CompareSlot } from "../state/monitor-source";
import { useCurrentItem } from "../state/current-item";
import { engine, useEngineState } from "../state/listening-engine";
import { togglePlay, usePlaybackPlan } from "../state/use-monitor-source";
import { useKeepSlot } from "../state/use-keep-slot";

/** The order of a blind test; nothing that is rendered depends on it. */
const draw = (): boolean => (crypto.getRandomValues(new Uint8Array(1))[0]! & 1) === 1;

/** Two states or items against each other: in turn, as their difference, and without knowing which is which. */
export function ComparePanel() {
  const open = useWorkspace((workspace) => workspace.dialog === "compare");
  return (
    <SheetDialog
      side
      open={open}
      onClose={() => useWorkspace.setState({ dialog: null })}
      title="Compare two"
      help="X goes from one to the other at the same place, matched by loudness. Shift X lets their difference be heard."
    >
      <Compare />
    </SheetDialog>
  );
}

function Compare() {
  const { slots, blind, monitorSource } = useWorkspace();
  const { playing } = useEngineState();
  const { main, subtract } = usePlaybackPlan();
  const both = slots[0] !== null && slots[1] !== null;
  const hear = (what: MonitorSourceName) => () => {
    useWorkspace.setState({ monitorSource: what });
    if (!engine().state.playing) void engine().play();
  };
  const choice = (what: MonitorSourceName, words: string, ready: boolean) => (
    <Button
      onClick={hear(what)}
      disabled={!ready}
      aria-pressed={monitorSource === what}
      className={monitorSource === what ? "border-act bg-act-ground text-act" : ""}
    >
      {words}
    </Button>
  );
  return (
    <>
      {([0, 1] as const).map((index) => (
        <SlotRow key={index} index={index} hidden={blind !== null} />
      ))}
      <div className="mt-3 flex flex-wrap gap-1.5">
        {choice("first", blind ? "First" : "Slot 1", slots[0] !== null)}
        {choice("second", blind ? "Second" : "Slot 2", slots[1] !== null)}
        {!blind && choice("difference", "Difference", both)}
        <Button onClick={togglePlay}>{playing ? "Pause" : "Play"}</Button>
      </div>
      <p className="figure mt-2 text-label text-soft" data-testid="slot-offset">
        {blind
          ? "Levels are matched; which is which is hidden."
          : subtract
            ? `1 at ${formatDb(main.gainDb, { sign: true })} dB less 2 at ${formatDb(subtract.gainDb, { sign: true })} dB`
            : `heard at ${formatDb(main.gainDb, { sign: true })} dB, to be as loud as the original`}
      </p>
      <Blind both={both} />
      {!blind && <ChainVersions />}
    </>
  );
}

function SlotRow({ index, hidden }: { index: 0 | 1; hidden: boolean }) {
  const { view } = useCurrentItem();
  const slots = useWorkspace((workspace) => workspace.slots);
  const keepSlot = useKeepSlot();
  const slot = slots[index];
  const put = (next: CompareSlot | null) =>
    useWorkspace.setState({ slots: index === 0 ? [next, slots[1]] : [slots[0], next], blind: null });
  const items = view.document.items.flatMap((item) => {
    const source = view.sources.find(({ hash }) => hash === item.source);
    return source?.pcm_hash && source.figures ? [{ item, source }] : [];
  });
  const take = (id: string) => {
    const found = items.find(({ item }) => item.id === id);
    if (!found) return;
    const { item, source } = found;
    put({
      label: `${item.name} · original`,
      url: blobUrl(source.pcm_hash!),
      repairs: [],
      clips: item.clips ?? null,
      chain: [],
      lufs: source.figures!.integratedLufs,
    });
  };
  return (
    <section className="border-b border-grid py-2" aria-label={`Slot ${index + 1}`}>
      <h3 className="font-semibold">Slot {index + 1}</h3>
      <p className="truncate" title={slot?.label}>
        {slot ? hidden ? "kept, hidden while you listen blind" : slot.label : <span className="text-soft">empty</span>}
      </p>
      <div className="mt-1 flex gap-1.5">
        <Button
          onClick={() => keepSlot(index)}
          hint="The item in hand as it is heard: original or now"
          shortcut={`Shift ${index + 1}`}
        >
          Keep what is heard
        </Button>
        <Select
          label={`Item for slot ${index + 1}`}
          value=""
          options={["", ...items.map(({ item }) => item.id)]}
          words={(id) => items.find(({ item }) => item.id === id)?.item.name.slice(0, 24) ?? "or an item …"}
          onChange={take}
        />
      </div>
    </section>
  );
}

function Blind({ both }: { both: boolean }) {
  const blind = useWorkspace((workspace) => workspace.blind);
  const answer = (slot: 1 | 2) =>
    blind && useWorkspace.setState({ blind: answered(blind, slot, draw()), monitorSource: "first" });
  if (!blind)
    return (
      <section className="mt-4">
        <Button
          disabled={!both}
          onClick={() =>
            useWorkspace.setState({ blind: newBlindTest(draw()), monitorSource: "first", levelMatched: true })
          }
        >
          <EyeOff size={13} /> Listen blind
        </Button>
        <p className="mt-1 text-label text-soft">
          {both
            ? "The slots are called first and second in an order that is drawn anew each time; you say which is which, and the score is kept."
            : "Both slots must hold something."}
        </p>
      </section>
    );
  return (
    <section className="mt-4" aria-label="Blind listening">
      <p>“First” is …</p>
      <div className="mt-1 flex gap-1.5">
        <Button onClick={() => answer(1)}>slot 1</Button>
        <Button onClick={() => answer(2)}>slot 2</Button>
        <Button kind="quiet" onClick={() => useWorkspace.setState({ blind: null })}>
          Show, and end
        </Button>
      </div>
      <p role="status" className="figure mt-2" data-testid="blind-score">
        {blind.last === null ? "no answer yet" : blind.last ? "right" : "wrong"} · {blind.right} of {blind.asked}
        {blind.asked >= 5 && ` · by guessing alone ${(100 * chanceOf(blind)).toFixed(0)} %`}
      </p>
    </section>
  );
}
