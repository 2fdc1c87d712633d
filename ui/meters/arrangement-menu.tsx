"use client";

import { ExternalLink, SlidersHorizontal } from "lucide-react";
import { Popover } from "radix-ui";
import { useRef, useState } from "react";
import { toast } from "sonner";
import type { TemplateId } from "@core/project/templates";
import { Select, Setting } from "@ui/design-system/controls";
import { NumberInput } from "@ui/design-system/number-input";
import { Button } from "@ui/design-system/button";
import { saveAs } from "@ui/api/save-as";
import {
  arrangementJson,
  chooseArrangement,
  saveArrangement,
  METER_KINDS,
  METER_LABELS,
  parseArrangement,
  removeArrangement,
  useArrangements,
  type MeterArrangement,
  type LevelScheme,
} from "./arrangement";

/** Told apart by all kinds of colour-blindness, on both sheets. */
const SCHEME: LevelScheme = { low: "#5c6f8f", near: "#c79a2e", over: "#b53a12", nearDb: 6 };

/** Chooses, changes and keeps arrangements of meters. */
export function ArrangementMenu({
  arrangement,
  template,
  onOpenWindow,
}: {
  arrangement: MeterArrangement;
  template: TemplateId;
  onOpenWindow?: (() => void) | undefined;
}) {
  const { arrangements } = useArrangements();
  const file = useRef<HTMLInputElement>(null);
  const [name, setName] = useState("");
  const change = (next: Partial<MeterArrangement>) => saveArrangement({ ...arrangement, ...next });
  const { scheme } = arrangement;
  const read = async (chosen: File | undefined) => {
    if (!chosen) return;
    try {
      const read = parseArrangement(await chosen.text());
      saveArrangement(read);
      chooseArrangement(template, read.name);
    } catch (error) {
      toast.error(`${chosen.name} was not taken`, {
        description: error instanceof Error ? error.message : String(error),
      });
    }
  };
  return (
    <Popover.Root>
      <Popover.Trigger
        className="flex h-6 min-w-0 items-center gap-1 rounded-[4px] px-1.5 text-label text-act hover:bg-act-ground"
        title="Which meters stand here"
      >
        <SlidersHorizontal size={12} className="shrink-0" />{" "}
        <span className="truncate">Meters: {arrangement.name}</span>
      </Popover.Trigger>
      <Popover.Portal>
        <Popover.Content
          side="left"
          align="start"
          collisionPadding={8}
          className="z-50 max-h-[85vh] w-72 overflow-y-auto rounded-[4px] border border-hair bg-sheet p-3 text-label"
        >
          <Setting label="arrangement, for this kind of project">
            <Select
              label="Arrangement of meters"
              value={arrangement.name}
              options={arrangements.map((one) => one.name)}
              onChange={(chosen) => chooseArrangement(template, chosen)}
            />
          </Setting>
          <h2 className="mt-2 font-semibold">Add</h2>
          <div className="mt-1 flex flex-wrap gap-1">
            {METER_KINDS.map((kind) => (
              <button
                key={kind}
                type="button"
                onClick={() => change({ meters: [...arrangement.meters, { kind, size: "medium" }] })}
                className="h-5.5 rounded-[4px] border border-hair px-1.5 hover:border-act"
              >
                + {METER_LABELS[kind]}
              </button>
            ))}
          </div>
          <p className="mt-1 text-soft">Each meter’s own arrows, size and × appear when it is pointed at or focused.</p>
          <h2 className="mt-2 font-semibold">Scales</h2>
          <Setting label="loudness in">
            <Select
              label="Scale of loudness"
              value={arrangement.scale}
              options={["LUFS", "LU"] as const}
              words={(unit) => (unit === "LU" ? "LU from the target" : "LUFS")}
              onChange={(scale) => change({ scale })}
            />
          </Setting>
          <Setting label="peaks coloured by level">
            <input
              type="checkbox"
              className="accent-act"
              checked={scheme !== undefined}
              onChange={(event) => {
                const { scheme: _, ...plain } = arrangement;
                saveArrangement(event.target.checked ? { ...plain, scheme: SCHEME } : plain);
              }}
            />
          </Setting>
          {scheme && (
            <div className="grid grid-cols-[1fr_72px] items-center gap-2 py-0.5">
              <span className="text-soft">near the limit from</span>
              <NumberInput
                label="Near the limit from, dB below it"
                value={scheme.nearDb}
                unit="dB"
                onCommit={(nearDb) => change({ scheme: { ...scheme, nearDb: Math.max(0, Math.min(30, nearDb)) } })}
              />
            </div>
          )}
          {scheme &&
            (["low", "near", "over"] as const).map((part) => (
              <Setting
                key={part}
                label={{ low: "low", near: `within ${scheme.nearDb} dB of the limit`, over: "over it" }[part]}
              >
                <input
                  type="color"
                  aria-label={`Colour of levels: ${part}`}
                  value={scheme[part]}
                  onChange={(event) => change({ scheme: { ...scheme, [part]: event.target.value } })}
                />
              </Setting>
            ))}
          <h2 className="mt-2 font-semibold">Keep</h2>
          <form
            className="mt-1 flex gap-1"
            onSubmit={(event) => {
              event.preventDefault();
              if (name.trim() === "") return;
              saveArrangement({ ...arrangement, name: name.trim() });
              chooseArrangement(template, name.trim());
              setName("");
            }}
          >
            <input
              aria-label="Name of the arrangement"
              placeholder="under a new name"
              maxLength={60}
              value={name}
              onChange={(event) => setName(event.target.value)}
              className="h-7 min-w-0 flex-1 rounded-[4px] border border-hair bg-sheet px-1.5"
            />
            <Button type="submit" disabled={name.trim() === ""}>
              Keep
            </Button>
          </form>
          <div className="mt-2 flex flex-wrap gap-1">
            <Button
              onClick={() => saveAs(`${arrangement.name}.json`, "application/json", arrangementJson(arrangement))}
            >
              Export
            </Button>
            <Button onClick={() => file.current?.click()}>Import</Button>
            <Button disabled={arrangements.length < 2} onClick={() => removeArrangement(arrangement.name)}>
              Remove
            </Button>
            <input
              ref={file}
              type="file"
              accept=".json,application/json"
              hidden
              aria-label="Arrangement to import"
              onChange={(event) => void read(event.target.files?.[0]).then(() => (event.target.value = ""))}
            />
          </div>
          {onOpenWindow && (
            <Button className="mt-2 w-full" onClick={onOpenWindow} hint="A window of their own, for another screen">
              <ExternalLink size={12} /> Meters in a window of their own
            </Button>
          )}
        </Popover.Content>
      </Popover.Portal>
    </Popover.Root>
  );
}
