"use client";

import { useQuery } from "@tanstack/react-query";
import { useMemo } from "react";
import { threadsOf, type Comment, type CommentThread } from "@core/project/comment";
import { api } from "@ui/api/api";
import { secondsOfRecording, type Timed } from "@ui/state/item-time";

/** What the team says of a project, in the order of time; `undefined` until it is known. */
export const useComments = (project: string): Comment[] | undefined =>
  useQuery({
    queryKey: ["comments", project],
    queryFn: () => api("GET /api/projects/{project}/comments", { params: { project } }),
  }).data;

/** A thread with its place in the item, in seconds; `null` of one on the whole item, or in what is cut out. */
export interface PlacedThread extends CommentThread {
  seconds: number | null;
  endSeconds: number | null;
}

/** Threads of an item, those on the whole of it first, then in the order of their places. */
export function placeThreads(comments: readonly Comment[], item: string, timed: Timed): PlacedThread[] {
  const at = (frame: number | null) => (frame === null ? null : secondsOfRecording(timed, frame));
  return threadsOf(comments)
    .filter(({ item_id: id }) => id === item)
    .map((thread) => {
      const last = at(thread.end === null ? null : thread.end - 1);
      return {
        ...thread,
        seconds: at(thread.start),
        endSeconds: last === null ? null : last + 1 / timed.sampleRate,
      };
    })
    .sort((a, b) => (a.seconds ?? -1) - (b.seconds ?? -1));
}

/** The same of the project that is open, as it is told; `undefined` until it is known. */
export function usePlacedThreads(project: string, item: string, timed: Timed): PlacedThread[] | undefined {
  const comments = useComments(project);
  return useMemo(() => comments && placeThreads(comments, item, timed), [comments, item, timed]);
}

/** How many threads are open, by item. */
export function openThreads(comments: readonly Comment[]): Map<string, number> {
  const open = new Map<string, number>();
  for (const { thread, resolved_at: resolved, item_id: item } of comments)
    if (thread === null && resolved === null) open.set(item, (open.get(item) ?? 0) + 1);
  return open;
}
