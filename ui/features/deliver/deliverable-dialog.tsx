"use client";

import { Copy, Download, Pencil, Trash2, Upload } from "lucide-react";
import { useState } from "react";
import { toast } from "sonner";
import { specOf, type Deliverable, type ProjectDocument } from "@core/project/document";
import { formatForSpec, newFormat, type MasterFormat } from "@core/delivery/recipe";
import { SPECS } from "@core/delivery/specs";
import { deliverySpecSchema, type DeliverySpec } from "@core/delivery/spec";
import { Button } from "@ui/design-system/button";
import { IconButton } from "@ui/design-system/icon-button";
import { saveAs } from "@ui/api/save-as";
import { SheetDialog } from "@ui/design-system/sheet-dialog";
import { useCurrentItem } from "@ui/state/current-item";
import { newId } from "@ui/api/use-project";
import { AutomaticFields } from "./automatic-delivery";
import { targetLabel } from "./target-label";
import { FormatFields } from "./format-fields";
import { ProgrammeFields } from "./programme-fields";
import { SpecEditor } from "./spec-editor";

export type DeliverableDraft = { kind: "new" } | { kind: "edit"; deliverable: Deliverable };

/** Chooses a specification and a format to deliver to, or changes them. */
export function DeliverableDialog({ wanted, onClose }: { wanted: DeliverableDraft; onClose: () => void }) {
  const { view, edit } = useCurrentItem();
  const given = wanted.kind === "edit" ? wanted.deliverable : null;
  const [spec, setSpec] = useState(given?.spec ?? SPECS[0]!.id);
  const [format, setFormat] = useState<MasterFormat>(given?.format ?? newFormat());
  const [made, setMade] = useState<Pick<Deliverable, "programme" | "mix">>({
    ...(given?.programme ? { programme: given.programme } : {}),
    ...(given?.mix ? { mix: given.mix } : {}),
  });
  const [automatic, setAutomatic] = useState(given?.automatic);
  const [editing, setEditing] = useState<DeliverySpec | null>(null);
  if (editing)
    return (
      <SpecEditor
        spec={editing}
        isNew={!view.document.specs.some(({ id }) => id === editing.id)}
        onClose={() => setEditing(null)}
        onKept={(id) => {
          setSpec(id);
          setEditing(null);
        }}
      />
    );
  const choose = (id: string) => {
    setSpec(id);
    // What the spec asks of the file is filled in; it can be changed after.
    if (!given) setFormat(formatForSpec(specOf(view.document, id)));
  };
  const keep = () => {
    const deliverable = { id: given?.id ?? newId(), spec, format, ...made, ...(automatic ? { automatic } : {}) };
    void edit({ type: given ? "setDeliverable" : "addDeliverable", deliverable });
    onClose();
  };
  return (
    <SheetDialog
      open
      onClose={onClose}
      title={given ? "Change a deliverable" : "Add a deliverable"}
      help="The specification that masters are brought to, and the file that they become."
    >
      <SpecList document={view.document} chosen={spec} onChoose={choose} onEdit={setEditing} />
      <FormatFields format={format} onChange={setFormat} />
      <ProgrammeFields document={view.document} {...made} onChange={setMade} />
      <AutomaticFields automatic={automatic} onChange={setAutomatic} />
      <div className="mt-3 flex justify-end">
        <Button kind="main" onClick={keep}>
          {given ? "Keep it" : "Add it"}
        </Button>
      </div>
    </SheetDialog>
  );
}

interface ListProps {
  document: ProjectDocument;
  chosen: string;
  onChoose: (id: string) => void;
  onEdit: (spec: DeliverySpec) => void;
}

function SpecList({ document, chosen, onChoose, onEdit }: ListProps) {
  const { edit } = useCurrentItem();
  const all = [...document.specs, ...SPECS];
  const isOwn = (spec: DeliverySpec) => document.specs.includes(spec);
  const used = new Set(document.deliverables.map((deliverable) => deliverable.spec));
  const copyOf = (spec: DeliverySpec): DeliverySpec => {
    let id = `own-${spec.id}`.slice(0, 36);
    for (let n = 2; all.some((one) => one.id === id); n++) id = `own-${spec.id}`.slice(0, 36) + `-${n}`;
    return { ...spec, id, name: `${spec.name}, own`, source: `own, after ${spec.source}`, edition: spec.edition };
  };
  const take = async (file: File | undefined) => {
    if (!file) return;
    try {
      const read = deliverySpecSchema.parse(JSON.parse(await file.text()));
      onEdit(all.some(({ id }) => id === read.id) ? copyOf(read) : read);
    } catch (error) {
      toast.error(`${file.name} is no delivery spec`, {
        description: error instanceof SyntaxError ? "It is not JSON." : String((error as Error).message).slice(0, 400),
      });
    }
  };
  return (
    <>
      <fieldset className="max-h-[30vh] overflow-y-auto border border-hair">
        <legend className="sr-only">Specification</legend>
        {all.map((one) => (
          <div
            key={one.id}
            className={`flex items-start gap-2 border-b border-grid px-3 py-1.5 ${one.id === chosen ? "bg-act-ground" : ""}`}
          >
            <label className="flex min-w-0 flex-1 items-start gap-2">
              <input
                type="radio"
                name="spec"
                className="mt-1 accent-act"
                checked={one.id === chosen}
                onChange={() => onChoose(one.id)}
              />
              <span className="min-w-0">
                <b className="font-semibold">{one.name}</b>
                <span className="figure ml-2 text-label text-soft">{targetLabel(one)}</span>
                <span className="block text-label text-soft">
                  {one.help} · {isOwn(one) ? "own, from " : ""}
                  {one.source}, {one.edition}
                </span>
              </span>
            </label>
            {isOwn(one) ? (
              <>
                <IconButton label={`Change ${one.name}`} onClick={() => onEdit(one)}>
                  <Pencil size={13} />
                </IconButton>
                <IconButton
                  label={used.has(one.id) ? `${one.name} is used by a deliverable` : `Remove ${one.name}`}
                  disabled={used.has(one.id)}
                  onClick={() => void edit({ type: "removeSpec", spec: one.id })}
                >
                  <Trash2 size={13} />
                </IconButton>
              </>
            ) : (
              <IconButton label={`Make an own one from ${one.name}`} onClick={() => onEdit(copyOf(one))}>
                <Copy size={13} />
              </IconButton>
            )}
            <IconButton
              label={`Save ${one.name} as JSON`}
              onClick={() => saveAs(`${one.id}.json`, "application/json", `${JSON.stringify(one, null, 2)}\n`)}
            >
              <Download size={13} />
            </IconButton>
          </div>
        ))}
      </fieldset>
      <label className="mt-1.5 inline-flex cursor-pointer items-center gap-1.5 text-act hover:underline">
        <Upload size={13} /> Import a specification from JSON
        <input
          type="file"
          accept=".json,application/json"
          className="sr-only"
          onChange={(event) => {
            void take(event.target.files?.[0]);
            event.target.value = "";
          }}
        />
      </label>
    </>
  );
}
