"use client";

import { useQueryClient } from "@tanstack/react-query";
import { format, formatDistanceToNowStrict, isPast } from "date-fns";
import { useState } from "react";
import type { Remark, ReviewFile, ReviewView } from "@core/review/views";
import { shareHeard } from "@core/review/ranges";
import { api } from "@ui/api/api";
import { told } from "@ui/api/told";
import { Button } from "@ui/design-system/button";
import { useCurrentItem } from "@ui/state/current-item";
import { approvalWords, isOfFileNow } from "./approval";
import { timesOf } from "./remarks";
import { useShowRemark } from "./show-remark";

/** A review that was sent out: whether its link is open, what was heard, decided and remarked. */
export function SentReview({ review }: { review: ReviewView }) {
  const { view } = useCurrentItem();
  const client = useQueryClient();
  const { id, title, created_at: made, expires_at: until, withdrawn_at: withdrawn, guests } = review;
  const isOpen = withdrawn === null && !isPast(new Date(until));
  const close = async () => {
    await api("DELETE /api/projects/{project}/reviews/{review}", { params: { project: view.id, review: id } });
    await client.invalidateQueries({ queryKey: ["reviews", view.id] });
  };
  const settings = [review.has_password && "password", review.downloads && "downloads", review.blind && "blind"];
  return (
    <section aria-label={`Review ${title}`} className="border border-hair bg-sheet">
      <header className="flex flex-wrap items-baseline gap-x-3 border-b border-hair px-3 py-1.5">
        <h2 className="font-semibold">{title}</h2>
        <span className="text-label text-soft">
          sent {format(new Date(made), "d MMM HH:mm")} by {review.created_by} ·{" "}
          {isOpen ? `open for ${formatDistanceToNowStrict(new Date(until))}` : withdrawn ? "closed" : "expired"}
          {settings.filter(Boolean).map((words) => ` · ${String(words)}`)}
          {" · "}
          {guests.length === 0 ? "nobody has opened it yet" : `opened by ${guests.join(", ")}`}
        </span>
        {isOpen && view.role === "edit" && (
          <Button kind="quiet" className="ml-auto" onClick={() => told(close(), "The link stays open")}>
            Close the link
          </Button>
        )}
      </header>
      {review.files.map((file) => (
        <FileOfReview key={file.position} review={review} file={file} />
      ))}
    </section>
  );
}

function FileOfReview({ review, file }: { review: ReviewView; file: ReviewFile }) {
  const { view } = useCurrentItem();
  const heard = review.heard.filter((one) => one.position === file.position);
  const verdict = review.verdicts.find((one) => one.position === file.position);
  const remarks = review.remarks.filter((one) => one.position === file.position);
  const words = heard.map(
    ({ name, ranges, plays }) =>
      `${name} ${Math.round(100 * shareHeard(ranges, file.seconds))} %${plays > 1 ? `, ${plays} times` : ""}`,
  );
  return (
    <div className="border-t border-grid px-3 py-1.5 first:border-t-0">
      <p className="flex flex-wrap items-baseline gap-x-3">
        <span>{file.title}</span>
        <span className="text-label text-soft">{file.label}</span>
        <span className="text-label text-soft">
          {words.length > 0 ? `heard by ${words.join("; ")}` : "not heard yet"}
        </span>
        {verdict && (
          <span
            className={`ml-auto ${verdict.approved ? "text-inside" : "text-outside"}`}
            title={verdict.words || undefined}
          >
            {approvalWords(verdict, isOfFileNow(view, { ...verdict, ...file }))}
          </span>
        )}
      </p>
      {verdict?.words && <p className="pl-3 [overflow-wrap:anywhere] text-soft">“{verdict.words}”</p>}
      <ul>
        {remarks.map((remark) => (
          <RemarkRow key={remark.id} remark={remark} file={file} />
        ))}
      </ul>
    </div>
  );
}

function RemarkRow({ remark, file }: { remark: Remark; file: ReviewFile }) {
  const { view } = useCurrentItem();
  const client = useQueryClient();
  const show = useShowRemark();
  const [answer, setAnswer] = useState<string | null>(null);
  const change = async (body: { answer?: string; resolved?: boolean }) => {
    await api("PATCH /api/projects/{project}/remarks/{remark}", {
      params: { project: view.id, remark: remark.id },
      body,
    });
    setAnswer(null);
    await client.invalidateQueries({ queryKey: ["reviews", view.id] });
  };
  const isResolved = remark.resolved_at !== null;
  return (
    <li className="flex items-baseline gap-3 py-0.5 pl-3">
      <button
        type="button"
        onClick={() => show(remark, file)}
        className="figure shrink-0 text-act hover:underline"
        title="Show it in the item"
      >
        {timesOf(remark)}
      </button>
      <span className="min-w-0 flex-1">
        <span className={`[overflow-wrap:anywhere] ${isResolved ? "text-soft" : ""}`}>
          <b className="font-semibold">{remark.name}</b> {remark.words}
        </span>
        {remark.answer && answer === null && (
          <span className="block border-l-2 border-act pl-2 [overflow-wrap:anywhere]">
            <b className="font-semibold">{remark.answered_by}</b> {remark.answer}
          </span>
        )}
        {answer !== null && (
          <form
            className="flex gap-2 pt-1"
            onSubmit={(event) => {
              event.preventDefault();
              told(change({ answer: answer.trim(), resolved: true }), "The answer was not kept");
            }}
          >
            <input
              autoFocus
              aria-label="Answer"
              value={answer}
              maxLength={4000}
              onChange={(event) => setAnswer(event.target.value)}
              className="h-7 min-w-0 flex-1 rounded-[4px] border border-hair bg-sheet px-2"
            />
            <Button kind="main" type="submit" disabled={answer.trim() === ""}>
              Answer and resolve
            </Button>
          </form>
        )}
      </span>
      {view.role === "edit" && (
        <span className="shrink-0">
          <Button kind="quiet" onClick={() => setAnswer(answer === null ? (remark.answer ?? "") : null)}>
            {answer === null ? "Answer" : "Leave it"}
          </Button>
          <Button kind="quiet" onClick={() => told(change({ resolved: !isResolved }), "It stays as it was")}>
            {isResolved ? "Open again" : "Resolve"}
          </Button>
        </span>
      )}
    </li>
  );
}
