"use client";

import { format } from "date-fns";
import { useState } from "react";
import type { Remark, ReviewFile } from "@core/review/views";
import { formatTime } from "@core/audio/format";
import { api } from "@ui/api/api";
import { told } from "@ui/api/told";
import { Button } from "@ui/design-system/button";

interface Props {
  review: string;
  file: ReviewFile;
  remarks: readonly Remark[];
  time: number;
  onSeek: (seconds: number) => void;
  again: () => void;
}

/** What was remarked upon a file, at its time, with what was answered; and one more remark. */
export function Remarks({ review, file, remarks, time, onSeek, again }: Props) {
  const takeBack = async (id: string) => {
    await api("DELETE /api/review/{review}/remarks/{remark}", { params: { review, remark: id } });
    again();
  };
  return (
    <section aria-label="Remarks" className="px-4 py-3">
      <h2 className="pb-1 text-head">Remarks</h2>
      <NewRemark review={review} file={file} time={time} again={again} />
      <ul>
        {remarks.map((remark) => (
          <li key={remark.id} className="border-t border-grid py-2">
            <div className="flex flex-wrap items-baseline gap-x-2">
              <button
                type="button"
                onClick={() => onSeek(remark.at_seconds)}
                className="figure min-h-8 text-act hover:underline"
              >
                {timesOf(remark)}
              </button>
              <b className="font-semibold">{remark.name}</b>
              <span className="text-label text-soft">{format(new Date(remark.created_at), "d MMM HH:mm")}</span>
              {remark.resolved_at && <span className="text-label text-inside">resolved</span>}
              {remark.own && remark.answer === null && (
                <Button kind="quiet" className="ml-auto" onClick={() => told(takeBack(remark.id), "It stays")}>
                  Take back
                </Button>
              )}
            </div>
            <p className="[overflow-wrap:anywhere] whitespace-pre-wrap">{remark.words}</p>
            {remark.answer && (
              <p className="mt-1 border-l-2 border-act pl-2 [overflow-wrap:anywhere] whitespace-pre-wrap">
                <b className="font-semibold">{remark.answered_by}</b> {remark.answer}
              </p>
            )}
          </li>
        ))}
      </ul>
    </section>
  );
}

export const timesOf = ({ at_seconds: from, end_seconds: to }: Pick<Remark, "at_seconds" | "end_seconds">): string =>
  to === null ? formatTime(from) : `${formatTime(from)}–${formatTime(to)}`;

function NewRemark({ review, file, time, again }: Pick<Props, "review" | "file" | "time" | "again">) {
  const [words, setWords] = useState("");
  /** Taken when the writing begins: the sound goes on. */
  const [at, setAt] = useState<number | null>(null);
  const [end, setEnd] = useState<number | null>(null);
  const from = Math.min(at ?? time, file.seconds);
  const send = async () => {
    await api("POST /api/review/{review}/remarks", {
      params: { review },
      body: { position: file.position, at: from, end, words: words.trim() },
    });
    setWords("");
    setAt(null);
    setEnd(null);
    again();
  };
  return (
    <form
      className="pb-3"
      onSubmit={(event) => {
        event.preventDefault();
        told(send(), "The remark was not sent");
      }}
    >
      <label className="block text-label text-soft">
        At <span className="figure">{timesOf({ at_seconds: from, end_seconds: end })}</span>
        <textarea
          value={words}
          rows={2}
          maxLength={4000}
          placeholder="What should be otherwise here?"
          onFocus={() => setAt((known) => known ?? time)}
          onChange={(event) => setWords(event.target.value)}
          onBlur={() => words === "" && end === null && setAt(null)}
          className="mt-0.5 block w-full resize-y rounded-[4px] border border-hair bg-sheet px-2 py-1 text-body text-ink outline-none focus:border-act"
        />
      </label>
      <div className="flex flex-wrap items-center gap-2 pt-1">
        <Button kind="main" type="submit" className="h-9" disabled={words.trim() === ""}>
          Remark
        </Button>
        <Button className="h-9" onClick={() => (setAt(time), setEnd(null))}>
          From here
        </Button>
        <Button className="h-9" disabled={at === null || time <= at} onClick={() => setEnd(time)}>
          To here
        </Button>
      </div>
    </form>
  );
}
