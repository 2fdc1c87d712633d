"use client";

import { Plus, Trash2 } from "lucide-react";
import { useState } from "react";
import { toast } from "sonner";
import { formatDb } from "@core/audio/format";
import { layoutProblem } from "@core/programme/fitted-source";
import type { Reference } from "@core/programme/programme";
import { heardReferences } from "@core/programme/references";
import { Button } from "@ui/design-system/button";
import { Select } from "@ui/design-system/controls";
import { IconButton } from "@ui/design-system/icon-button";
import { useCurrentItem } from "@ui/state/current-item";
import { useWholeProgramme } from "@ui/state/programme";
import { useWorkspace } from "@ui/state/workspace-store";
import { alignedReference } from "./align-reference";
import { NumberCell } from "./number-cell";

const WHOLE = "";
const GONE_RECORDING = "a recording that is gone";

/** Choices with the one that is in force, which may be gone. */
const withOwn = (options: string[], own: string): string[] => (options.includes(own) ? options : [...options, own]);

/** Recordings laid beside the programme, or beside one of its items: heard with Q at the same place, at the same loudness. */
export function ReferencesPanel() {
  const { view, edit, item } = useCurrentItem();
  const { references } = view.document.programme;
  const chosen = useWorkspace((workspace) => workspace.heardReference);
  const heard = new Set(heardReferences(references, chosen).map(({ id }) => id));
  const ready = view.sources.filter(({ figures }) => figures !== null);
  // Most likely one that no item is made of.
  const used = new Set(view.document.items.map(({ source }) => source));
  const offered = ready.find(({ hash }) => !used.has(hash)) ?? ready[0];
  const add = () =>
    offered &&
    void edit({
      type: "setReference",
      reference: { id: crypto.randomUUID(), source: offered.hash, item: item?.id ?? null, atSeconds: 0 },
    });
  return (
    <section aria-label="References" className="px-4 pb-3">
      <h2 className="flex items-center gap-2 text-label font-semibold">
        References
        <Button
          kind="quiet"
          disabled={!offered}
          onClick={add}
          hint="Lays a recording of the project beside the item in hand"
        >
          <Plus size={13} /> Reference
        </Button>
        {references.length === 0 && (
          <span className="font-normal text-soft">
            none yet: recordings beside the order, heard with Q at the same place and loudness, and never rendered.
          </span>
        )}
      </h2>
      {references.map((reference) => (
        <ReferenceRow key={reference.id} reference={reference} isHeard={heard.has(reference.id)} />
      ))}
    </section>
  );
}

function ReferenceRow({ reference, isHeard }: { reference: Reference; isHeard: boolean }) {
  const { view, edit } = useCurrentItem();
  const { order, nameOf, placed, timeline } = useWholeProgramme();
  /** Fraction done while it is aligned. */
  const [aligned, setAligned] = useState<number | null>(null);
  const { id, source, item, atSeconds } = reference;
  const recording = view.sources.find(({ hash }) => hash === source);
  const name = recording?.name ?? GONE_RECORDING;
  const isThere = (one: string) => view.document.items.some((stored) => stored.id === one);
  const owner = view.document.items.find((one) => one.id === (item ?? order[0]?.id));
  const problem = recording?.layout && timeline ? layoutProblem(recording.layout, timeline.layout) : null;
  const change = (changes: Partial<Reference>) =>
    void edit({ type: "setReference", reference: { ...reference, ...changes } });
  const align = async () => {
    const at = owner && placed(owner.id);
    if (!owner || !at || !timeline) return;
    setAligned(0);
    try {
      const place = { ...at, sampleRate: timeline.sampleRate };
      const begins = await alignedReference(view, reference, owner, place, setAligned);
      change({ atSeconds: begins });
      toast.success(`“${name}” lies on “${owner.name}”: it begins at ${begins.toFixed(4)} s`);
    } catch (error) {
      toast.error("The reference was not aligned", {
        description: error instanceof Error ? error.message : String(error),
      });
    } finally {
      setAligned(null);
    }
  };
  return (
    <div
      className="flex items-center gap-2 border-t border-grid py-0.5 text-label whitespace-nowrap"
      data-testid={`reference-${id}`}
    >
      <input
        type="radio"
        aria-label={`Hear the reference ${name}`}
        title="The one that is heard of several at one place; those of the whole in the place of all"
        checked={isHeard}
        onChange={() => useWorkspace.setState({ heardReference: id, monitorSource: "reference" })}
      />
      <Select
        label={`Recording of the reference ${name}`}
        value={source}
        options={withOwn(
          view.sources.map(({ hash }) => hash),
          source,
        )}
        words={(hash) => view.sources.find((one) => one.hash === hash)?.name ?? GONE_RECORDING}
        onChange={(hash) => change({ source: hash })}
        className="w-40"
      />
      <span className="text-soft">belongs to</span>
      <Select
        label={`What ${name} belongs to`}
        value={item ?? WHOLE}
        options={withOwn([WHOLE, ...order.map((one) => one.id)], item ?? WHOLE)}
        words={(one) => (one === WHOLE ? "the programme" : isThere(one) ? nameOf(one) : "an item that is gone")}
        onChange={(one) => change({ item: one === WHOLE ? null : one, atSeconds: 0 })}
        className="w-40"
      />
      <span className="text-soft">begins</span>
      <span className="w-20">
        <NumberCell
          label={`Begins, ${name}`}
          value={atSeconds}
          digits={3}
          sign
          onCommit={(seconds) => change({ atSeconds: Math.max(-36_000, Math.min(360_000, seconds ?? 0)) })}
        />
      </span>
      <span className="text-soft">s</span>
      <Button
        kind="quiet"
        disabled={aligned !== null || !owner}
        onClick={() => void align()}
        hint="By the sound that both share"
      >
        {aligned === null ? "Align by sound" : `Aligning, ${Math.round(100 * aligned)} %`}
      </Button>
      <span
        className="figure text-soft"
        title="Integrated loudness of the recording; while listening it is brought to that of the programme"
      >
        {formatDb(recording?.figures?.integratedLufs ?? NaN)} LUFS
      </span>
      {problem && (
        <span className="text-close" title={problem}>
          ◆ cannot be heard here
        </span>
      )}
      <IconButton
        label={`Remove the reference ${name}`}
        onClick={() => void edit({ type: "removeReference", reference: id })}
      >
        <Trash2 size={13} />
      </IconButton>
    </div>
  );
}
