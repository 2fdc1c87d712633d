"use client";

import { useRouter } from "next/navigation";
import { useState } from "react";
import { TEMPLATES, type TemplateId } from "@core/project/templates";
import { specNamed } from "@core/delivery/specs";
import { api } from "@ui/api/api";
import { Button } from "@ui/design-system/button";
import { SheetDialog } from "@ui/design-system/sheet-dialog";

/** Asks for a name and a template, and opens what comes of it. */
export function NewProject({ open, onClose }: { open: boolean; onClose: () => void }) {
  const router = useRouter();
  const [name, setName] = useState("");
  const [template, setTemplate] = useState<TemplateId>("music");
  const [problem, setProblem] = useState<string | null>(null);
  const create = async () => {
    try {
      const { id } = await api("POST /api/projects", { body: { name: name.trim(), template } });
      router.push(`/projects/${id}`);
    } catch (error) {
      setProblem(error instanceof Error ? error.message : String(error));
    }
  };
  return (
    <SheetDialog
      open={open}
      onClose={onClose}
      title="New project"
      help="A template only sets the first deliverables; all of it can be changed."
    >
      <form
        onSubmit={(event) => {
          event.preventDefault();
          void create();
        }}
      >
        <label className="block text-label text-soft">
          Name
          <input
            autoFocus
            value={name}
            onChange={(event) => setName(event.target.value)}
            maxLength={200}
            className="mt-0.5 block h-8 w-full rounded-[4px] border border-hair bg-sheet px-2 text-body text-ink focus:border-act focus:outline-none"
          />
        </label>
        <fieldset className="mt-3 border border-hair">
          <legend className="sr-only">Template</legend>
          {TEMPLATES.map((one) => (
            <label
              key={one.id}
              className={`flex items-start gap-2 border-b border-grid px-3 py-1.5 last:border-b-0 ${one.id === template ? "bg-act-ground" : ""}`}
            >
              <input
                type="radio"
                name="template"
                className="mt-1 accent-act"
                checked={one.id === template}
                onChange={() => setTemplate(one.id)}
              />
              <span>
                <b className="font-semibold">{one.name}</b>
                <span className="block text-label text-soft">
                  {one.help} · begins with {one.deliverables.map(({ spec }) => specNamed(spec).name).join(" and ")}
                </span>
              </span>
            </label>
          ))}
        </fieldset>
        {problem && <p className="mt-2 text-outside">{problem}</p>}
        <div className="mt-3 flex justify-end">
          <Button kind="main" type="submit" disabled={name.trim() === ""}>
            Create project
          </Button>
        </div>
      </form>
    </SheetDialog>
  );
}
