"use client";

import { useQuery, useQueryClient, type QueryClient } from "@tanstack/react-query";
import { useCallback, useEffect } from "react";
import { toast } from "sonner";
import { prettifyError, ZodError } from "zod";
import { applyCommand, commandLabel, type Command } from "@core/project/commands";
import type { ProjectView } from "@core/project/views";
import { api, ApiProblem } from "@ui/api/api";
import { keepContradiction, rememberOwnEdit } from "@ui/api/contradictions";
import {
  browserOutbox,
  editsOfClosedPages,
  pageId,
  sendUntilAnswered,
  type EditAnswer,
  type HeadMove,
  type PendingEdit,
} from "@ui/api/outbox";
import { editsOf, enqueue, withAllEdits } from "@ui/api/pending-edits";
import { setUnanswered, whileSaving } from "@ui/api/save-state";

export const projectKey = (id: string) => ["project", id] as const;

/** A project with all that was done to it in this browser, also what a page that is gone could not send any more. */
export const useProject = (id: string) => {
  const client = useQueryClient();
  useEffect(() => {
    // Another page of this browser may be closed with edits on their way.
    const timer = setInterval(() => void sendLeftBehind(client, id), LOOK_AFTER_MS);
    return () => clearInterval(timer);
  }, [client, id]);
  return useQuery({
    queryKey: projectKey(id),
    queryFn: async () => {
      await sendLeftBehind(client, id);
      return withAllEdits(id, () => viewOf(id));
    },
  });
};

const LOOK_AFTER_MS = 15_000;

const viewOf = (id: string) => api("GET /api/projects/{project}", { params: { project: id } });

const moveHere = (client: QueryClient, id: string, change: (view: ProjectView) => ProjectView) =>
  client.setQueryData<ProjectView>(projectKey(id), (view) => view && change(view));

const post = ({ id, project, base, change }: PendingEdit): Promise<EditAnswer> =>
  "command" in change
    ? api("POST /api/projects/{project}/commands", { params: { project }, body: { id, base, command: change.command } })
    : api("POST /api/projects/{project}/head", { params: { project }, body: { id, base, ...change.move } });

const pause = (milliseconds: number) => new Promise<void>((resolve) => setTimeout(resolve, milliseconds));

/** Sends an edit until it is answered, and forgets it then. @throws ApiProblem where it is refused */
async function send(edit: PendingEdit, kept?: Promise<void>): Promise<EditAnswer> {
  try {
    return await sendUntilAnswered(edit, { post, pause, waiting: setUnanswered });
  } finally {
    void Promise.resolve(kept).then(() => browserOutbox.remove(edit.id).catch(() => undefined));
  }
}

/**
 * Keeps an edit and sends it when those before it are answered.
 * @param answered told of the answer, or of the refusal
 */
function submit(
  client: QueryClient,
  project: string,
  change: PendingEdit["change"],
  answered: (answer: EditAnswer | null) => Promise<void> | void,
): Promise<void> {
  const base = client.getQueryData<ProjectView>(projectKey(project))?.head ?? 0;
  const edit: PendingEdit = { id: crypto.randomUUID(), project, page: pageId(), base, change };
  rememberOwnEdit(edit.id);
  // A browser that cannot keep it still sends it; it is sent while it is being kept.
  const kept = browserOutbox.add(edit).catch(() => undefined);
  return whileSaving(project, () =>
    enqueue(project, async () => {
      // Those before it have led to a later state meanwhile.
      const head = client.getQueryData<ProjectView>(projectKey(project))?.head ?? base;
      let answer: EditAnswer | null = null;
      try {
        answer = await send({ ...edit, base: head }, kept);
      } catch (error) {
        if (!("command" in change && keepContradiction(error, project, change.command, head))) tellRefused(error);
        void client.invalidateQueries({ queryKey: projectKey(project) });
      }
      await answered(answer);
    }),
  );
}

function tellRefused(error: unknown, words?: string): void {
  const { title, message } = error instanceof ApiProblem ? error : { title: "Failed", message: String(error) };
  toast.error(words ?? title, { description: message });
}

let sending: Promise<void> | undefined;

/** Sends what pages that are gone had not sent, in the order in which it was made. */
function sendLeftBehind(client: QueryClient, project: string): Promise<void> {
  sending ??= sendAllLeftBehind(client, project).finally(() => (sending = undefined));
  return sending;
}

async function sendAllLeftBehind(client: QueryClient, project: string): Promise<void> {
  const left = await editsOfClosedPages(browserOutbox, project).catch(() => []);
  if (left.length === 0) return;
  await whileSaving(project, async () => {
    const heads = new Map<string, number>();
    for (const edit of left) {
      try {
        const { head } = await send({ ...edit, base: heads.get(edit.page) ?? edit.base });
        heads.set(edit.page, head);
      } catch (error) {
        tellRefused(
          error,
          `What was done before the page was closed could not be kept: ${wordsOfChange(edit, client)}`,
        );
      }
    }
  });
  void client.invalidateQueries({ queryKey: projectKey(project) });
}

function wordsOfChange({ project, change }: PendingEdit, client: QueryClient): string {
  if (!("command" in change)) return "a step in the history";
  const document = client.getQueryData<ProjectView>(projectKey(project))?.document;
  return document ? commandLabel(change.command, document) : change.command.type;
}

function wordsOf(error: unknown): string {
  if (error instanceof ZodError) return prettifyError(error);
  return error instanceof Error ? error.message : String(error);
}

/** Tells whoever may only listen that nothing was changed. */
function isRefused(client: QueryClient, id: string): boolean {
  const role = client.getQueryData<ProjectView>(projectKey(id))?.role;
  if (role === undefined || role === "edit") return false;
  toast("You listen to this project; nothing was changed.", {
    id: "listening", // told once at a time, however often it is tried
    description: "An engineer or an owner can let you edit it.",
  });
  return true;
}

/** Gives the function that makes edits: shown at once, kept until the server has them, taken back when it refuses. */
export function useEdit(id: string): (command: Command) => Promise<void> {
  const client = useQueryClient();
  return useCallback(
    (command) => {
      if (isRefused(client, id)) return Promise.resolve();
      try {
        moveHere(client, id, (view) => ({ ...view, document: applyCommand(view.document, command) }));
      } catch (error) {
        toast.error("This cannot be done", { description: wordsOf(error) });
        return Promise.resolve();
      }
      return submit(client, id, { command }, (answer) => {
        if (!answer) return;
        moveHere(client, id, (current) => ({
          ...current,
          head: answer.head,
          undo: current.head,
          redo: null,
          states: current.states + 1,
          savedAt: new Date().toISOString(),
        }));
        if (!answer.rebased) return;
        toast("The project was changed in another window; your change was put on top of it.");
        void client.invalidateQueries({ queryKey: projectKey(id) });
      });
    },
    [client, id],
  );
}

/** Gives the function that goes to another state of the project. */
export function useMoveHead(id: string): (move: HeadMove) => Promise<void> {
  const client = useQueryClient();
  return useCallback(
    // In turn with edits and with each other: each starts from the state that the one before arrived at.
    async (move) => {
      if (isRefused(client, id)) return;
      await submit(client, id, { move }, async () => {
        const before = editsOf(id);
        const arrived = await viewOf(id).catch(() => undefined);
        if (arrived) client.setQueryData(projectKey(id), arrived);
        // What was edited meanwhile stands further back in the line.
        if (!arrived || editsOf(id) !== before) void client.invalidateQueries({ queryKey: projectKey(id) });
      });
    },
    [client, id],
  );
}

/** A short id that is new in its project. */
export const newId = (): string => crypto.randomUUID().slice(0, 8);
