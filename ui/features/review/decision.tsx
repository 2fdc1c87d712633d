"use client";

import { format } from "date-fns";
import { Check, Undo2 } from "lucide-react";
import { useState } from "react";
import type { ReviewFile, ReviewVerdict } from "@core/review/views";
import { api } from "@ui/api/api";
import { told } from "@ui/api/told";
import { Button } from "@ui/design-system/button";
import { TextField } from "@ui/design-system/text-field";

interface Props {
  review: string;
  file: ReviewFile;
  verdicts: readonly ReviewVerdict[];
  again: () => void;
}

/** Approves a file or sends it back: these bytes, by the guest's name. */
export function Decision({ review, file, verdicts, again }: Props) {
  const [words, setWords] = useState("");
  const decide = async (approved: boolean) => {
    const body = { position: file.position, hash: file.file_hash, approved, words: words.trim() };
    await api("POST /api/review/{review}/verdicts", { params: { review }, body });
    setWords("");
    again();
  };
  return (
    <section aria-label="Decision" className="border-t border-hair px-4 py-3 pb-8">
      <h2 className="pb-1 text-head">Decision</h2>
      <p className="text-label text-soft">
        It is about this file and no other:{" "}
        <span className="figure break-all">SHA-256 {file.file_hash.slice(0, 16)}…</span>
      </p>
      <TextField
        label="A word with it, if you like"
        value={words}
        onChange={setWords}
        maxLength={4000}
        className="pt-2"
      />
      <div className="flex gap-2 pt-2">
        <Button kind="main" className="h-10" onClick={() => told(decide(true), "It was not approved")}>
          <Check size={15} /> Approve
        </Button>
        <Button className="h-10" onClick={() => told(decide(false), "It was not sent back")}>
          <Undo2 size={15} /> Send back
        </Button>
      </div>
      <ul className="pt-2">
        {verdicts.map((one) => (
          <li key={one.created_at} className="border-t border-grid py-1.5 [overflow-wrap:anywhere]">
            <span className={one.approved ? "text-inside" : "text-outside"}>
              {one.approved ? "approved" : "sent back"}
            </span>{" "}
            by <b className="font-semibold">{one.name}</b>, {format(new Date(one.created_at), "d MMMM yyyy HH:mm")}
            {one.words && <span className="block whitespace-pre-wrap">{one.words}</span>}
          </li>
        ))}
      </ul>
    </section>
  );
}
