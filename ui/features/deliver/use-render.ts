"use client";

import { useQueryClient } from "@tanstack/react-query";
import { useEffect, useRef } from "react";
import { toast } from "sonner";
import { api } from "@ui/api/api";
import { useCurrentItem } from "@ui/state/current-item";
import { projectKey } from "@ui/api/use-project";
import type { Cell } from "@core/project/board";

export const isBusy = ({ master }: Pick<Cell, "master">): boolean =>
  master?.state === "waiting" || master?.state === "rendering";

/** Gives the function that has cells rendered: one column after the other, so that workers do not wait for each other. */
export function useRender(): (cells: readonly Pick<Cell, "item" | "deliverable">[]) => Promise<void> {
  const { view } = useCurrentItem();
  const client = useQueryClient();
  return async (wanted) => {
    try {
      await api("POST /api/projects/{project}/masters", {
        params: { project: view.id },
        body: { masters: wanted.map(({ item, deliverable }) => ({ item: item.id, deliverable: deliverable.id })) },
      });
    } catch (error) {
      toast.error("Not rendered", { description: error instanceof Error ? error.message : String(error) });
    }
    await client.invalidateQueries({ queryKey: projectKey(view.id) });
  };
}

/** Tells when the last master of a batch is finished: here, and by the system where the page lies behind others. */
export function useEndOfRendering(cells: readonly Cell[]): void {
  const busy = cells.filter(isBusy).length;
  const before = useRef(0);
  useEffect(() => {
    const most = before.current;
    before.current = busy === 0 ? 0 : Math.max(most, busy);
    if (busy > 0 || most === 0) return;
    const missed = cells.filter(({ verified, verdict }) => verified && verdict && !verdict.pass).length;
    const failed = cells.filter(({ master }) => master?.state === "failed").length;
    const words = `${most === 1 ? "The master is" : "All masters are"} rendered${missed ? `; ${missed} outside the spec` : ""}${failed ? `; ${failed} failed` : ""}`;
    if (missed || failed) toast.warning(words);
    else toast.success(words);
    if (document.hidden && "Notification" in window && Notification.permission === "granted")
      new Notification("Resonum", { body: words });
  }, [busy, cells]);
}
