"use client";

import { ArrowLeft, ArrowRight, CopyPlus, Redo2, Replace, Trash2, Undo2 } from "lucide-react";
import { useState } from "react";
import { toast } from "sonner";
import { processorNamed, settingsOf, type ChainEntry } from "@core/processors";
import { chainOf, isLaneOwner } from "@core/project/chain-owners";
import { PROGRAMME_ID } from "@core/project/document";
import { Button } from "@ui/design-system/button";
import { IconButton } from "@ui/design-system/icon-button";
import { MixSwitches } from "./mix-switches";
import { useWorkspace } from "@ui/state/workspace-store";
import { useChainCosts } from "@ui/state/freezing";
import { useCurrentItem } from "@ui/state/current-item";
import { newId } from "@ui/api/use-project";
import { ProcessorMenu } from "./add-processor";
import { DeliverablesAfter } from "./deliverables-after";
import { costLabel, Freeze } from "./freeze";
import { PresetMenu } from "./preset-menu";
import type { EntryEditing } from "./visualisers/use-entry";

/** What can be done with the processor in hand: flip, undo, presets, place in the chain. */
export function EntrySide({ inHand, onChoose }: { inHand: EntryEditing; onChoose: (id: string) => void }) {
  const { entry, owner } = inHand;
  const { edit, view, item } = useCurrentItem();
  const chain = chainOf(view.document, owner) ?? [];
  const at = chain.findIndex(({ id }) => id === entry.id);
  const fields = { item: owner, entry: entry.id ?? "" };
  const duplicate = () => {
    const id = newId();
    void edit({ type: "addProcessor", item: owner, entry: { ...entry, id }, at: at + 1 });
    onChoose(id);
  };
  const remove = () => {
    void edit({ type: "removeProcessor", ...fields });
    onChoose(chain[at + 1]?.id ?? chain[at - 1]?.id ?? "");
  };
  return (
    <aside
      className="flex flex-col gap-2 overflow-y-auto border-l border-hair px-3 py-2"
      aria-label="Processor in hand"
    >
      <TwoSettings inHand={inHand} />
      <div className="flex flex-wrap items-center gap-1">
        <Button
          aria-pressed={entry.bypass}
          onClick={() => void edit({ type: "bypass", ...fields, bypass: !entry.bypass })}
          hint="Leaves it in the chain without effect"
        >
          {entry.bypass ? "Switch on" : "Bypass"}
        </Button>
        <PresetMenu inHand={inHand} />
      </div>
      <div className="flex items-center">
        <IconButton
          label="Earlier in the chain"
          disabled={at <= 0}
          onClick={() => void edit({ type: "moveProcessor", ...fields, to: at - 1 })}
        >
          <ArrowLeft size={15} />
        </IconButton>
        <IconButton
          label="Later in the chain"
          disabled={at >= chain.length - 1}
          onClick={() => void edit({ type: "moveProcessor", ...fields, to: at + 1 })}
        >
          <ArrowRight size={15} />
        </IconButton>
        <IconButton label="Duplicate" onClick={duplicate}>
          <CopyPlus size={15} />
        </IconButton>
        <ProcessorMenu
          label="Replace by"
          trigger={<Replace size={15} aria-label="Replace by another" />}
          className="rounded-[4px] p-1 text-act hover:bg-act-ground"
          onChoose={([next]) => {
            if (!next) return;
            void edit({ type: "replaceProcessor", ...fields, with: next });
            onChoose(next.id ?? "");
          }}
        />
        <IconButton label="Remove" onClick={remove}>
          <Trash2 size={15} />
        </IconButton>
        <span className="ml-auto">
          <IconButton label="Undo this processor’s last change" disabled={!inHand.undo} onClick={() => inHand.undo?.()}>
            <Undo2 size={15} />
          </IconButton>
          <IconButton label="Redo this processor’s change" disabled={!inHand.redo} onClick={() => inHand.redo?.()}>
            <Redo2 size={15} />
          </IconButton>
        </span>
      </div>
      {owner === item?.id && <MixSwitches work={fields.entry} />}
      {!isLaneOwner(owner) && <InItem entry={entry} />}
      <WholeChain owner={owner} />
    </aside>
  );
}

/** What is told and heard of a processor while its item is heard. */
function InItem({ entry }: { entry: ChainEntry }) {
  const costs = useChainCosts();
  const cost = costs?.of(entry);
  return (
    <>
      <p className="figure text-label text-soft" data-testid="cost">
        {cost
          ? `${(cost.latencySeconds * 1000).toFixed(1)} ms, compensated · ${costLabel(cost.share)}`
          : "cost and delay are being tried …"}
      </p>
      <Freeze entry={entry} costs={costs} />
      <HearIt entry={entry} />
      <DeliverablesAfter />
    </>
  );
}

/** Two sets of settings to flip between, and the copy from one to the other. */
function TwoSettings({ inHand: { entry, owner } }: { inHand: EntryEditing }) {
  const { edit } = useCurrentItem();
  const fields = { item: owner, entry: entry.id ?? "" };
  const second = entry.usesAlternate ?? false;
  const same =
    !entry.alternateSettings || JSON.stringify(entry.alternateSettings) === JSON.stringify(settingsOf(entry));
  const flip = (to: boolean) => to !== second && void edit({ type: "flipSettings", ...fields });
  const half = (to: boolean, words: string) => (
    <button
      type="button"
      aria-pressed={second === to}
      onClick={() => flip(to)}
      className={`h-7 px-2 ${second === to ? "bg-act-ground font-semibold text-act" : "hover:text-act"}`}
    >
      {words}
    </button>
  );
  return (
    <div className="flex h-7 shrink-0 items-stretch divide-x divide-hair overflow-hidden rounded-[4px] border border-hair">
      {half(false, "setting 1")}
      {half(true, "setting 2")}
      <button
        type="button"
        title="Copy the setting that is heard to the other one"
        onClick={() => void edit({ type: "copySettings", ...fields })}
        className="ml-auto px-2 text-act hover:bg-act-ground disabled:text-soft"
        disabled={same && Boolean(entry.alternateSettings)}
      >
        {second ? "2 → 1" : "1 → 2"}
      </button>
    </div>
  );
}

/** Before and after this processor, level-matched, or only what it takes away. */
function HearIt({ entry }: { entry: ChainEntry }) {
  const { monitorSource, step } = useWorkspace();
  const about = step === entry.id;
  const choose = (next: (typeof ways)[number][0]) =>
    useWorkspace.setState({ monitorSource: next, step: next === "now" ? null : (entry.id ?? null) });
  const ways = [
    ["now", "all"],
    ["before", "bypassed"],
    ["removed", "delta"],
    ...(processorNamed(entry.type).createDetector ? [["detector", "detector"] as const] : []),
  ] as const;
  return (
    <div className="flex flex-wrap items-center gap-x-0.5 text-label">
      <span className="text-soft">hear</span>
      {ways.map(([way, words]) => {
        const on = way === "now" ? monitorSource === "now" : monitorSource === way && about;
        return (
          <button
            key={way}
            type="button"
            aria-pressed={on}
            onClick={() => choose(way)}
            className={`rounded-[3px] px-1.5 py-0.5 ${on ? "bg-act-ground font-semibold text-act" : "text-act hover:bg-act-ground"}`}
          >
            {words}
          </button>
        );
      })}
    </div>
  );
}

/** What is done with all of a chain. */
function WholeChain({ owner }: { owner: string }) {
  const { view, edit } = useCurrentItem();
  const [naming, setNaming] = useState<string | null>(null);
  const chain = chainOf(view.document, owner) ?? [];
  const others = view.document.items.filter(({ id }) => id !== owner);
  const allOff = chain.length > 0 && chain.every(({ bypass }) => bypass);
  const copy = () => {
    void edit({ type: "setChain", items: others.map(({ id }) => id), chain, prefix: newId() });
    toast(
      `The chain stands on ${others.length} other ${others.length === 1 ? "item" : "items"} now; undo takes it back.`,
    );
  };
  const keep = () => {
    const name = naming?.trim();
    if (name) void edit({ type: "keepPreset", preset: { id: newId(), name, note: "", isDefault: false, chain } });
    setNaming(null);
  };
  return (
    <div className="mt-auto flex flex-wrap items-center gap-x-1 border-t border-grid pt-1 text-label">
      <span className="w-full text-soft">the whole chain</span>
      <Small
        pressed={allOff}
        hint="All of its processors at once, to hear the item without them"
        onClick={() => void edit({ type: "bypassChain", item: owner, bypass: !allOff })}
      >
        {allOff ? "Switch all on" : "Bypass all"}
      </Small>
      {owner !== PROGRAMME_ID && (
        <Small
          disabled={others.length === 0}
          hint="The same chain on every other item, in place of theirs"
          onClick={copy}
        >
          To all items
        </Small>
      )}
      {naming === null ? (
        <Small hint="Kept by a name in this project, to be added elsewhere" onClick={() => setNaming("")}>
          Keep …
        </Small>
      ) : (
        <input
          autoFocus
          aria-label="Name of the chain"
          placeholder="a name, then Enter"
          value={naming}
          onChange={(event) => setNaming(event.target.value)}
          onKeyDown={(event) => {
            if (event.key === "Enter") keep();
            if (event.key === "Escape") setNaming(null);
          }}
          className="h-7 w-36 rounded-[4px] border border-act bg-sheet px-2 outline-none"
        />
      )}
    </div>
  );
}

function Small({
  hint,
  pressed,
  disabled,
  onClick,
  children,
}: {
  hint: string;
  pressed?: boolean;
  disabled?: boolean;
  onClick: () => void;
  children: string;
}) {
  return (
    <button
      type="button"
      title={hint}
      aria-pressed={pressed}
      disabled={disabled}
      onClick={onClick}
      className="rounded-[3px] px-1.5 py-0.5 text-act hover:bg-act-ground disabled:text-soft"
    >
      {children}
    </button>
  );
}
