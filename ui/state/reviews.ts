"use client";

import { useQuery } from "@tanstack/react-query";
import { useMemo } from "react";
import type { Remark, ReviewView } from "@core/review/views";
import { api } from "@ui/api/api";

/** Reviews of a project, with what was said, decided and heard; `undefined` until they are known. */
export const useReviews = (project: string): ReviewView[] | undefined =>
  useQuery({
    queryKey: ["reviews", project],
    queryFn: () => api("GET /api/projects/{project}/reviews", { params: { project } }),
  }).data;

/** Remarks upon an item's masters that are not resolved yet, in the order of their times. */
export function useOpenRemarks(project: string, item: string | undefined): Remark[] {
  const reviews = useReviews(project);
  return useMemo(
    () =>
      (reviews ?? [])
        .flatMap(({ files, remarks }) => {
          const own = new Set(files.filter((file) => file.item_id === item).map(({ position }) => position));
          return remarks.filter(({ position, resolved_at: resolved }) => own.has(position) && resolved === null);
        })
        .sort((a, b) => a.at_seconds - b.at_seconds),
    [reviews, item],
  );
}
