"use client";

import { format } from "date-fns";
import { useState } from "react";
import type { Comment, NewComment } from "@core/project/comment";
import { api } from "@ui/api/api";
import { told } from "@ui/api/told";
import { Button } from "@ui/design-system/button";
import { CheckboxField } from "@ui/design-system/controls";
import { SheetDialog } from "@ui/design-system/sheet-dialog";
import { markedFrames } from "@ui/state/markers";
import { showRange } from "@ui/state/show-range";
import { useTimeFormatter } from "@ui/state/use-time-format";
import { openThreads, useComments, usePlacedThreads, type PlacedThread } from "../state/comments";
import { useCurrentItem, type ItemFacts } from "../state/current-item";
import { engine } from "../state/listening-engine";
import { openItem, useWorkspace } from "../state/workspace-store";

/** What the team says to one another of the item in hand, and of places in it. */
export function CommentsPanel() {
  const open = useWorkspace((workspace) => workspace.dialog === "comments");
  const { facts } = useCurrentItem();
  return (
    <SheetDialog
      side
      open={open && facts !== null}
      onClose={() => useWorkspace.setState({ dialog: null })}
      title={`Comments on “${facts?.item.name ?? ""}”`}
      help="Of the team, for the team: clients see nothing of them."
    >
      {facts && <Comments key={facts.item.id} facts={facts} />}
    </SheetDialog>
  );
}

function Comments({ facts }: { facts: ItemFacts }) {
  const { view } = useCurrentItem();
  const [showsResolved, setShowsResolved] = useState(false);
  const threads = usePlacedThreads(view.id, facts.item.id, facts);
  const resolved = threads?.filter(({ resolved_at: at }) => at !== null).length ?? 0;
  const shown = threads?.filter(({ resolved_at: at }) => showsResolved || at === null);
  return (
    <>
      <NewThread facts={facts} />
      {resolved > 0 && (
        <CheckboxField label={`Resolved as well (${resolved})`} checked={showsResolved} onChange={setShowsResolved} />
      )}
      {shown === undefined && <p className="py-4 text-soft">Reading what was said …</p>}
      {shown?.length === 0 && <p className="py-4 text-soft">Nothing is open here.</p>}
      <ul data-testid="comments">
        {shown?.map((thread) => (
          <Thread key={thread.id} thread={thread} facts={facts} />
        ))}
      </ul>
      <Elsewhere item={facts.item.id} />
    </>
  );
}

/** Other items of which something is open: pressed, they are taken in hand. */
function Elsewhere({ item }: { item: string }) {
  const { view } = useCurrentItem();
  const open = openThreads(useComments(view.id) ?? []);
  const others = view.document.items.filter(({ id }) => id !== item && open.has(id));
  if (others.length === 0) return null;
  return (
    <section className="mt-4" aria-label="Open elsewhere">
      <h3 className="border-b border-hair pb-1 text-label text-soft">Open elsewhere</h3>
      {others.map(({ id, name }) => (
        <button
          key={id}
          type="button"
          onClick={() => openItem(id)}
          className="flex w-full gap-2 border-b border-grid py-1 text-left text-act hover:underline"
        >
          <span className="truncate">{name}</span>
          <span className="figure ml-auto">{open.get(id)}</span>
        </button>
      ))}
    </section>
  );
}

type Place = "playhead" | "selection" | "item";
const PLACE_WORDS: Record<Place, string> = {
  playhead: "at the playhead",
  selection: "on the selection",
  item: "on the whole item",
};

/** Where a new comment is put, taken when it is sent: in frames of the recording. */
function framesOf(place: Place, facts: ItemFacts): Pick<NewComment, "start" | "end"> {
  const { cursor, selection } = useWorkspace.getState();
  if (place === "item") return { start: null, end: null };
  const range = place === "selection" ? selection : null;
  const seconds = range?.start ?? (engine().state.playing ? engine().position / facts.sampleRate : cursor);
  const { start, end = null } = markedFrames(facts, seconds, range?.end ?? null);
  return { start, end };
}

function NewThread({ facts }: { facts: ItemFacts }) {
  const { view } = useCurrentItem();
  const selection = useWorkspace((workspace) => workspace.selection);
  const [chosen, setChosen] = useState<Place | null>(null);
  const place = chosen ?? (selection ? "selection" : "playhead");
  const places: Place[] = selection ? ["selection", "playhead", "item"] : ["playhead", "item"];
  return (
    <div className="mb-2 border-b border-hair pb-2">
      <div role="radiogroup" aria-label="What the comment is about" className="flex flex-wrap gap-x-3 text-label">
        {places.map((one) => (
          <label key={one} className="flex min-h-6 items-center gap-1">
            <input
              type="radio"
              name="comment-place"
              className="accent-act"
              checked={place === one}
              onChange={() => setChosen(one)}
            />
            {PLACE_WORDS[one]}
          </label>
        ))}
      </div>
      <Words
        label="New comment"
        button="Comment"
        onSend={(words) => send(view.id, { item: facts.item.id, ...framesOf(place, facts), words, thread: null })}
      />
    </div>
  );
}

const send = (project: string, body: NewComment): Promise<Comment> =>
  api("POST /api/projects/{project}/comments", { params: { project }, body });

/** Words that are kept until they are sent; Ctrl Enter sends. */
function Words({
  label,
  button,
  onSend,
}: {
  label: string;
  button: string;
  onSend: (words: string) => Promise<unknown>;
}) {
  const [words, setWords] = useState("");
  const isEmpty = words.trim() === "";
  const go = () => {
    if (!isEmpty)
      told(
        onSend(words.trim()).then(() => setWords("")),
        "The comment was not sent",
      );
  };
  return (
    <div className="flex items-end gap-2">
      <textarea
        aria-label={label}
        value={words}
        maxLength={2000}
        rows={2}
        onChange={(event) => setWords(event.target.value)}
        onKeyDown={(event) => {
          if (event.key === "Enter" && (event.ctrlKey || event.metaKey)) go();
        }}
        className="min-h-14 flex-1 resize-y rounded-[4px] border border-hair bg-sheet px-2 py-1 focus:border-act focus:outline-none"
      />
      <Button disabled={isEmpty} onClick={go} hint="Ctrl Enter">
        {button}
      </Button>
    </div>
  );
}

function Thread({ thread, facts }: { thread: PlacedThread; facts: ItemFacts }) {
  const { view } = useCurrentItem();
  const [answering, setAnswering] = useState(false);
  const words = useTimeFormatter(facts);
  const { seconds, endSeconds: end, resolved_at: resolvedAt, resolved_by: resolvedBy } = thread;
  const params = { project: view.id, comment: thread.id };
  const resolve = (resolved: boolean) =>
    told(api("PATCH /api/projects/{project}/comments/{comment}", { params, body: { resolved } }), "It stays as it is");
  return (
    <li className="border-b border-grid py-2">
      <div className="flex flex-wrap items-baseline gap-x-2">
        {seconds === null ? (
          <span className="text-label text-soft">
            {thread.start === null ? "the whole item" : "in what is cut out"}
          </span>
        ) : (
          <button
            type="button"
            onClick={() => showRange(facts, seconds, end === null ? 0 : end - seconds)}
            className="figure text-label text-act hover:underline"
            title="Goes there"
          >
            {words(seconds)}
            {end !== null && `–${words(end)}`}
          </button>
        )}
        {resolvedAt !== null && <span className="text-label text-inside">resolved by {resolvedBy}</span>}
      </div>
      <Said comment={thread} isAnswered={thread.answers.some((answer) => !answer.own)} />
      {thread.answers.map((answer) => (
        <div key={answer.id} className="mt-1 border-l-2 border-act pl-2">
          <Said comment={answer} />
        </div>
      ))}
      <div className="mt-1 flex gap-2">
        <Button kind="quiet" onClick={() => setAnswering(!answering)}>
          Answer
        </Button>
        <Button kind="quiet" onClick={() => resolve(resolvedAt === null)}>
          {resolvedAt === null ? "Resolve" : "Open again"}
        </Button>
      </div>
      {answering && (
        <Words
          label={`Answer to ${thread.name}`}
          button="Answer"
          onSend={(said) =>
            send(view.id, { item: thread.item_id, start: null, end: null, words: said, thread: thread.id }).then(() =>
              setAnswering(false),
            )
          }
        />
      )}
    </li>
  );
}

/** @param isAnswered by somebody else, so that it stays */
function Said({ comment, isAnswered = false }: { comment: Comment; isAnswered?: boolean }) {
  const { id, name, own, words, created_at: at } = comment;
  const { view } = useCurrentItem();
  const remove = () =>
    told(
      api("DELETE /api/projects/{project}/comments/{comment}", { params: { project: view.id, comment: id } }),
      "It stays",
    );
  return (
    <>
      <p className="flex items-baseline gap-2">
        <b className="font-semibold">{name}</b>
        <span className="text-label text-soft">{format(new Date(at), "d MMM HH:mm")}</span>
        {own && !isAnswered && (
          <Button kind="quiet" className="ml-auto" onClick={remove}>
            Remove
          </Button>
        )}
      </p>
      <p className="[overflow-wrap:anywhere] whitespace-pre-wrap">{words}</p>
    </>
  );
}
