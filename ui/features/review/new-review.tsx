"use client";

import { useQueryClient } from "@tanstack/react-query";
import { format } from "date-fns";
import { Link2 } from "lucide-react";
import { useState } from "react";
import { boardRows } from "@core/project/board";
import { currentMasters } from "@core/project/delivery";
import { specOf } from "@core/project/document";
import { knownRecordings, type Master, type ProjectView } from "@core/project/views";
import { counted } from "@core/audio/format";
import { api } from "@ui/api/api";
import { told } from "@ui/api/told";
import { Button } from "@ui/design-system/button";
import { CheckboxField, Select } from "@ui/design-system/controls";
import { SheetDialog } from "@ui/design-system/sheet-dialog";
import { TextField } from "@ui/design-system/text-field";
import { useCurrentItem } from "@ui/state/current-item";

const LASTING = [7, 14, 30, 90];

/** Opens the sheet on which masters are chosen and sent out. @param onMade told the secret of the link */
export function NewReview({ onMade }: { onMade: (secret: string) => void }) {
  const { view } = useCurrentItem();
  const [isOpen, setOpen] = useState(false);
  const finished = inOrder(view);
  return (
    <div className="flex items-center gap-3">
      <Button
        kind="main"
        disabled={finished.length === 0 || view.role !== "edit"}
        onClick={() => setOpen(true)}
        hint="Masters by a link, to be heard, remarked upon and approved"
      >
        <Link2 size={14} /> Send out for review
      </Button>
      {finished.length === 0 && (
        <span className="text-label text-soft">Render masters first: a review is of files.</span>
      )}
      <SheetDialog open={isOpen} onClose={() => setOpen(false)} title="Send out for review" wide>
        {isOpen && (
          <ReviewForm
            view={view}
            finished={finished}
            onMade={(secret) => {
              setOpen(false);
              onMade(secret);
            }}
          />
        )}
      </SheetDialog>
    </div>
  );
}

/** Finished masters in the running order, of each item by its deliverables, the latest first. */
function inOrder({ document, masters }: ProjectView): Master[] {
  const items = boardRows(document).map(({ id }) => id);
  const deliverables = document.deliverables.map(({ id }) => id);
  const placeOf = (all: readonly string[], id: string) => (all.includes(id) ? all.indexOf(id) : all.length);
  return masters
    .filter(({ state, file_hash: hash }) => state === "done" && hash !== null)
    .sort(
      (a, b) =>
        placeOf(items, a.item_id) - placeOf(items, b.item_id) ||
        placeOf(deliverables, a.deliverable_id) - placeOf(deliverables, b.deliverable_id) ||
        (b.finished_at ?? "").localeCompare(a.finished_at ?? ""),
    );
}

interface FormProps {
  view: ProjectView;
  finished: readonly Master[];
  onMade: (secret: string) => void;
}

function ReviewForm({ view, finished, onMade }: FormProps) {
  const client = useQueryClient();
  const current = new Set(
    currentMasters(view.document, view.masters, knownRecordings(view.sources)).map(({ master }) => master.id),
  );
  const { activeDeliverable } = view.document;
  const [title, setTitle] = useState(view.document.name);
  const [message, setMessage] = useState("");
  const [chosen, setChosen] = useState<ReadonlySet<string>>(
    () =>
      new Set(
        finished
          .filter(({ id, deliverable_id: deliverable }) => current.has(id) && deliverable === activeDeliverable)
          .map(({ id }) => id),
      ),
  );
  const [days, setDays] = useState(14);
  const [password, setPassword] = useState("");
  const [downloads, setDownloads] = useState(false);
  const [blind, setBlind] = useState(false);
  const send = async () => {
    const { secret } = await api("POST /api/projects/{project}/reviews", {
      params: { project: view.id },
      body: {
        ...{ title: title.trim(), message: message.trim(), days, downloads, blind },
        masters: finished.filter(({ id }) => chosen.has(id)).map(({ id }) => id),
        password: password || null,
      },
    });
    await client.invalidateQueries({ queryKey: ["reviews", view.id] });
    onMade(secret);
  };
  const choose = (id: string, isChosen: boolean) => {
    const next = new Set(chosen);
    if (isChosen) next.add(id);
    else next.delete(id);
    setChosen(next);
  };
  return (
    <form
      className="flex flex-col gap-3"
      onSubmit={(event) => {
        event.preventDefault();
        told(send(), "The review was not sent out");
      }}
    >
      <div className="grid grid-cols-2 gap-4">
        <TextField label="Title" value={title} onChange={setTitle} maxLength={200} required />
        <TextField
          label="Message"
          placeholder="what to listen for"
          value={message}
          onChange={setMessage}
          maxLength={4000}
        />
      </div>
      <fieldset className="max-h-64 overflow-y-auto border border-hair">
        <legend className="sr-only">Masters</legend>
        {finished.map((master) => (
          <MasterChoice
            key={master.id}
            view={view}
            master={master}
            isCurrent={current.has(master.id)}
            checked={chosen.has(master.id)}
            onChange={(isChosen) => choose(master.id, isChosen)}
          />
        ))}
      </fieldset>
      <p className="text-label text-soft">
        Of one item several files may be sent: they are compared side by side, at the same place and loudness.
      </p>
      <div className="flex flex-wrap items-end gap-5">
        <label className="flex flex-col gap-0.5 text-label text-soft">
          Open for
          <Select
            label="Open for"
            value={days}
            options={LASTING}
            words={(count) => `${count} days`}
            onChange={setDays}
            className="h-8 text-body text-ink"
          />
        </label>
        <TextField
          label="Password, if wanted"
          autoComplete="off"
          value={password}
          onChange={setPassword}
          minLength={6}
          className="w-48"
        />
        <CheckboxField
          label="downloads"
          title="The files may be kept, not only heard"
          checked={downloads}
          onChange={setDownloads}
        />
        <CheckboxField
          label="blind"
          title="Files of one item are told apart by letters alone, in an order of each guest's own"
          checked={blind}
          onChange={setBlind}
        />
        <Button
          kind="main"
          type="submit"
          className="ml-auto h-8"
          disabled={chosen.size === 0 || title.trim() === "" || (password !== "" && password.length < 6)}
        >
          Make a link to {counted(chosen.size, "master")}
        </Button>
      </div>
    </form>
  );
}

interface MasterChoiceProps {
  view: ProjectView;
  master: Master;
  /** Whether it is of the settings as they are now. */
  isCurrent: boolean;
  checked: boolean;
  onChange: (checked: boolean) => void;
}

function MasterChoice({ view, master, isCurrent, checked, onChange }: MasterChoiceProps) {
  const { inputs, deliverable_id: id, finished_at: finished } = master;
  const deliverable = view.document.deliverables.find((one) => one.id === id);
  const spec = deliverable ? specOf(view.document, deliverable.spec) : inputs.recipe.spec;
  return (
    <label className="flex items-center gap-3 border-b border-grid px-3 py-1.5 last:border-b-0">
      <input
        type="checkbox"
        className="accent-act"
        checked={checked}
        onChange={(event) => onChange(event.target.checked)}
      />
      <span className="min-w-0 flex-1 truncate">{inputs.tags.title}</span>
      <span className="w-56 truncate text-soft">{spec?.name ?? "master"}</span>
      <span className="w-40 text-label text-soft">
        {isCurrent ? "as it is now" : finished ? `of ${format(new Date(finished), "d MMM HH:mm")}` : ""}
      </span>
    </label>
  );
}
