"use client";

import { Printer } from "lucide-react";
import { useEffect, useRef, useState } from "react";
import { toast } from "sonner";
import { Button } from "@ui/design-system/button";
import { saveAs } from "@ui/api/save-as";
import { SheetDialog } from "@ui/design-system/sheet-dialog";
import { COMMAND_GROUPS, keyWords, useWorkspaceCommands, type WorkspaceCommand } from "./commands";
import { assignKeys, importKeys, isTaken, keysOfEvent, ownKeysJson, useOwnKeys } from "./commands/keys";
import { useWorkspace } from "../state/workspace-store";

/** Commands that come and go with the project have no keys of their own. */
const listed = ({ group }: WorkspaceCommand) => group !== "Items";

/** Every command with its key: changed by pressing another, exported, printed. */
export function KeysPanel({ project }: { project: string }) {
  const open = useWorkspace((workspace) => workspace.dialog === "keys");
  return (
    <SheetDialog
      side
      open={open}
      onClose={() => useWorkspace.setState({ dialog: null })}
      title="Keys"
      help="Choose a key, then press the new one. Delete takes it away; Escape leaves it."
    >
      <Keys project={project} />
    </SheetDialog>
  );
}

function Keys({ project }: { project: string }) {
  const commands = useWorkspaceCommands(project).filter(listed);
  const own = useOwnKeys((kept) => kept.own);
  const [waiting, setWaiting] = useState<string | null>(null);
  const file = useRef<HTMLInputElement>(null);
  useEffect(() => {
    if (!waiting) return;
    const press = (event: KeyboardEvent) => {
      const keys = keysOfEvent(event);
      if (keys === null) return;
      event.preventDefault();
      event.stopPropagation();
      setWaiting(null);
      if (keys === "escape") return;
      if (isTaken(keys))
        return void toast.error(`${keyWords(keys)} belongs to the browser`, { description: "Another key is needed." });
      const had = commands.find((command) => command.keys === keys && command.id !== waiting);
      assignKeys(commands, waiting, keys === "delete" || keys === "backspace" ? "" : keys);
      if (had) toast(`${keyWords(keys)} was taken from “${had.label}”`);
    };
    window.addEventListener("keydown", press, true);
    return () => window.removeEventListener("keydown", press, true);
  }, [waiting, commands]);
  const read = async (chosen: File | undefined) => {
    if (!chosen) return;
    try {
      importKeys(await chosen.text());
    } catch (error) {
      toast.error(`${chosen.name} was not taken`, {
        description: error instanceof Error ? error.message : String(error),
      });
    }
  };
  return (
    <>
      <div className="mb-3 flex flex-wrap gap-1.5">
        <Button onClick={() => window.open("/keys", "resonum-keys")} hint="A sheet of all keys, to be printed">
          <Printer size={13} /> Sheet to print
        </Button>
        <Button onClick={() => saveAs("resonum keys.json", "application/json", ownKeysJson())}>Export</Button>
        <Button onClick={() => file.current?.click()}>Import</Button>
        <Button disabled={Object.keys(own).length === 0} onClick={() => useOwnKeys.setState({ own: {} })}>
          As they came
        </Button>
        <input
          ref={file}
          type="file"
          hidden
          accept=".json,application/json"
          aria-label="Keys to import"
          onChange={(event) => void read(event.target.files?.[0]).then(() => (event.target.value = ""))}
        />
      </div>
      {COMMAND_GROUPS.map((group) => {
        const inGroup = commands.filter((command) => command.group === group);
        if (inGroup.length === 0) return null;
        return (
          <section key={group} className="mb-3">
            <h3 className="text-label text-soft">{group}</h3>
            <ul>
              {inGroup.map(({ id, label, keys }) => (
                <li key={id} className="flex items-center justify-between border-b border-grid py-0.5">
                  {label}
                  <button
                    type="button"
                    aria-label={`Key of: ${label}`}
                    data-testid={`key-${id}`}
                    onClick={() => setWaiting(id)}
                    className={`figure min-w-20 rounded-[3px] border px-1.5 text-label ${waiting === id ? "border-act bg-act-ground text-act" : own[id] === undefined ? "border-hair text-soft" : "border-act text-act"}`}
                  >
                    {waiting === id ? "press a key" : keys ? keyWords(keys) : "none"}
                  </button>
                </li>
              ))}
            </ul>
          </section>
        );
      })}
    </>
  );
}
