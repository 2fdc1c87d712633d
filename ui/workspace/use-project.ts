"use client";

import { useQuery, useQueryClient, type QueryClient } from "@tanstack/react-query";
import { useCallback } from "react";
import { toast } from "sonner";
import { prettifyError, ZodError } from "zod";
import { applyCommand, type Command } from "@core/project/commands";
import type { ProjectView } from "@core/project/views";
import { api, ServerProblem } from "@ui/shared/api";
import { editsOf, enqueue, withAllEdits } from "@ui/shared/pending-edits";

export const projectKey = (id: string) => ["project", id] as const;

export const useProject = (id: string) =>
  useQuery({ queryKey: projectKey(id), queryFn: () => withAllEdits(id, () => viewOf(id)) });

const viewOf = (id: string) => api<ProjectView>(`projects/${id}`);

const moveHere = (client: QueryClient, id: string, change: (view: ProjectView) => ProjectView) =>
  client.setQueryData<ProjectView>(projectKey(id), (view) => view && change(view));

async function send(client: QueryClient, id: string, command: Command): Promise<void> {
  const view = client.getQueryData<ProjectView>(projectKey(id));
  if (!view) return;
  try {
    const { head, rebased } = await api<{ head: number; rebased: boolean }>(`projects/${id}/commands`, {
      method: "POST",
      body: { base: view.head, command },
    });
    moveHere(client, id, (current) => ({
      ...current,
      head,
      undo: current.head,
      redo: null,
      states: current.states + 1,
      savedAt: new Date().toISOString(),
    }));
    if (rebased) {
      toast("The project was changed in another window; your change was put on top of it.");
      void client.invalidateQueries({ queryKey: projectKey(id) });
    }
  } catch (error) {
    const { title, message } = error instanceof ServerProblem ? error : { title: "Failed", message: String(error) };
    toast.error(title, { description: message });
    void client.invalidateQueries({ queryKey: projectKey(id) });
  }
}

function wordsOf(error: unknown): string {
  if (error instanceof ZodError) return prettifyError(error);
  return error instanceof Error ? error.message : String(error);
}

/** Gives the function that makes edits: shown at once, kept by the server, taken back when it refuses. */
export function useEdit(id: string): (command: Command) => Promise<void> {
  const client = useQueryClient();
  return useCallback(
    (command) => {
      try {
        moveHere(client, id, (view) => ({ ...view, document: applyCommand(view.document, command) }));
      } catch (error) {
        toast.error("This cannot be done", { description: wordsOf(error) });
        return Promise.resolve();
      }
      return enqueue(id, () => send(client, id, command));
    },
    [client, id],
  );
}

export type HeadMove = { to: "undo" } | { to: "redo" } | { to: "state"; state: number };

/** Gives the function that goes to another state of the project. */
export function useMoveHead(id: string): (move: HeadMove) => Promise<void> {
  const client = useQueryClient();
  return useCallback(
    // In turn with edits and with each other: each starts from the state that the one before arrived at.
    (move) =>
      enqueue(id, async () => {
        const view = client.getQueryData<ProjectView>(projectKey(id));
        if (!view || (move.to === "undo" && view.undo === null) || (move.to === "redo" && view.redo === null)) return;
        try {
          await api(`projects/${id}/head`, { method: "POST", body: { base: view.head, ...move } });
        } catch (error) {
          if (error instanceof ServerProblem) toast.error(error.title, { description: error.message });
        }
        const before = editsOf(id);
        const arrived = await viewOf(id).catch(() => undefined);
        if (arrived) client.setQueryData(projectKey(id), arrived);
        // What was edited meanwhile stands further back in the line.
        if (!arrived || editsOf(id) !== before) void client.invalidateQueries({ queryKey: projectKey(id) });
      }),
    [client, id],
  );
}

/** A short id that is new in its project. */
export const newId = (): string => crypto.randomUUID().slice(0, 8);
