"use client";

import { addressOf } from "@ui/api/api";
import { ImagePlus, Plus, Trash2 } from "lucide-react";
import { useRef, useState } from "react";
import { toast } from "sonner";
import type { About } from "@core/processors";
import { Button } from "@ui/design-system/button";
import { IconButton } from "@ui/design-system/icon-button";
import { keepPhoto } from "@ui/api/keep-photo";
import { useCurrentItem } from "@ui/state/current-item";
import type { EntryEditing } from "./visualisers/use-entry";

const NOTHING: About = { note: "", dials: [], photo: null };

/** What a person writes beside a processor: a note, how the knobs of a device stand, a picture of it. */
export function ProcessorNotes({ inHand }: { inHand: EntryEditing }) {
  const { entry, owner } = inHand;
  const { edit, view } = useCurrentItem();
  const about = entry.about ?? NOTHING;
  const keep = (next: Partial<About>) =>
    void edit({ type: "setAbout", item: owner, entry: entry.id ?? "", about: { ...about, ...next } });
  return (
    <details className="mt-1 border-t border-grid px-3 py-1.5" open={entry.type === "outboard" || undefined}>
      <summary className="cursor-pointer">
        Notes{" "}
        <span className="text-label text-soft">
          {about === NOTHING ? "none; they change no sound" : wordsOf(about)}
        </span>
      </summary>
      <div className="grid grid-cols-[minmax(0,1fr)_minmax(0,1fr)_auto] gap-4 pt-1.5">
        <Note key={about.note} note={about.note} onKeep={(note) => keep({ note })} />
        <Dials dials={about.dials} onKeep={(dials) => keep({ dials })} />
        <Photo project={view.id} photo={about.photo} onKeep={(photo) => keep({ photo })} />
      </div>
    </details>
  );
}

function wordsOf({ note, dials, photo }: About): string {
  const words = [
    note && `“${note.slice(0, 40)}${note.length > 40 ? "…" : ""}”`,
    dials.length > 0 && `${dials.length} knobs`,
    photo && "a picture",
  ].filter(Boolean);
  return words.length > 0 ? words.join(" · ") : "none";
}

function Note({ note, onKeep }: { note: string; onKeep: (note: string) => void }) {
  const [text, setText] = useState(note);
  return (
    <label className="flex flex-col gap-1 text-label">
      <span className="text-soft">Note</span>
      <textarea
        value={text}
        rows={5}
        maxLength={2000}
        onChange={(event) => setText(event.target.value)}
        onBlur={() => text !== note && onKeep(text)}
        className="resize-none rounded-[4px] border border-hair bg-sheet px-2 py-1 text-body outline-none focus:border-act"
      />
    </label>
  );
}

/** How the knobs of a device stand, so that it can be set up again. */
function Dials({ dials, onKeep }: { dials: About["dials"]; onKeep: (dials: About["dials"]) => void }) {
  const field = (index: number, key: "name" | "stands", placeholder: string) => (
    <input
      aria-label={`${key === "name" ? "Name" : "Place"} of knob ${index + 1}`}
      key={dials[index]![key]}
      defaultValue={dials[index]![key]}
      placeholder={placeholder}
      maxLength={60}
      onBlur={({ target }) =>
        target.value !== dials[index]![key] &&
        onKeep(dials.map((dial, i) => (i === index ? { ...dial, [key]: target.value } : dial)))
      }
      className="h-6 min-w-0 rounded-[4px] border border-hair bg-sheet px-1.5"
    />
  );
  return (
    <div className="flex flex-col gap-1 text-label">
      <span className="text-soft">Knobs and how they stand</span>
      {dials.map((_, index) => (
        <div key={index} className="grid grid-cols-[1fr_1fr_auto] gap-1">
          {field(index, "name", "Drive")}
          {field(index, "stands", "3 o’clock")}
          <IconButton label={`Remove knob ${index + 1}`} onClick={() => onKeep(dials.filter((_, i) => i !== index))}>
            <Trash2 size={13} />
          </IconButton>
        </div>
      ))}
      <span>
        <Button kind="quiet" onClick={() => onKeep([...dials, { name: "", stands: "" }])}>
          <Plus size={13} aria-hidden /> knob
        </Button>
      </span>
    </div>
  );
}

interface PhotoProps {
  project: string;
  photo: string | null;
  onKeep: (photo: string | null) => void;
}

function Photo({ project, photo, onKeep }: PhotoProps) {
  const chooser = useRef<HTMLInputElement>(null);
  const take = async (file: File | undefined) => {
    if (!file) return;
    try {
      onKeep(await keepPhoto(project, file));
    } catch (error) {
      toast.error(error instanceof Error ? error.message : String(error));
    }
  };
  return (
    <div className="flex w-36 flex-col gap-1 text-label">
      <span className="text-soft">Picture</span>
      {photo && (
        <a
          href={addressOf("GET /api/photos/{hash}", { params: { hash: photo } })}
          target="_blank"
          rel="noreferrer"
          title="Open it at its full size"
        >
          <img
            src={addressOf("GET /api/photos/{hash}", { params: { hash: photo } })}
            alt="The device"
            className="max-h-24 w-full object-cover"
          />
        </a>
      )}
      <input
        ref={chooser}
        type="file"
        accept="image/jpeg,image/png,image/webp"
        aria-label="Picture of the device"
        className="hidden"
        onChange={({ target }) => void take(target.files?.[0])}
      />
      <span className="flex">
        <Button kind="quiet" onClick={() => chooser.current?.click()}>
          <ImagePlus size={13} aria-hidden /> {photo ? "another" : "add one"}
        </Button>
        {photo && (
          <IconButton label="Remove the picture" onClick={() => onKeep(null)}>
            <Trash2 size={13} />
          </IconButton>
        )}
      </span>
    </div>
  );
}
