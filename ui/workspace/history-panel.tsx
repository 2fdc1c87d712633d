"use client";

import { useInfiniteQuery, useQuery, useQueryClient } from "@tanstack/react-query";
import { format } from "date-fns";
import { Redo2, Tag, Undo2 } from "lucide-react";
import { useState } from "react";
import { toast } from "sonner";
import type { HistoryState } from "@core/project/views";
import { api } from "@ui/api/api";
import { Button } from "@ui/design-system/button";
import { SheetDialog } from "@ui/design-system/sheet-dialog";
import { useWorkspace } from "../state/workspace-store";
import { useCurrentItem } from "../state/current-item";
import { useMoveHead } from "../api/use-project";

/** All states of the project, the newest first; any can be gone to, and named. */
export function HistoryPanel({ project }: { project: string }) {
  const open = useWorkspace((workspace) => workspace.dialog === "history");
  const { view } = useCurrentItem();
  const moveHead = useMoveHead(project);
  const { data, isPending, hasNextPage, fetchNextPage, isFetchingNextPage } = useInfiniteQuery({
    queryKey: ["history", project, view.head],
    queryFn: ({ pageParam }) =>
      api("GET /api/projects/{project}/history", {
        params: { project },
        query: pageParam === null ? {} : { before: pageParam },
      }),
    initialPageParam: null as number | null,
    getNextPageParam: (page) => (page.at(-1)?.parent == null ? null : page.at(-1)!.id),
    enabled: open,
  });
  const states = data?.pages.flat() ?? [];
  const { data: versions = [] } = useQuery({
    queryKey: ["history", project, "versions"],
    queryFn: () => api("GET /api/projects/{project}/history", { params: { project }, query: { named: "yes" } }),
    enabled: open,
  });
  const row = (state: HistoryState) => (
    <StateRow
      key={state.id}
      state={state}
      project={project}
      current={state.id === view.head}
      onGo={() => void moveHead({ to: "state", state: state.id })}
    />
  );
  return (
    <SheetDialog
      side
      open={open}
      onClose={() => useWorkspace.setState({ dialog: null })}
      title="History"
      help="Every edit is kept. Going back loses nothing: later states stay in this list."
    >
      <div className="mb-3 flex gap-2">
        <Button
          onClick={() => void moveHead({ to: "undo" })}
          disabled={view.undo === null}
          shortcut="Ctrl Z"
          hint="Back to the state before"
        >
          <Undo2 size={14} /> Undo
        </Button>
        <Button
          onClick={() => void moveHead({ to: "redo" })}
          disabled={view.redo === null}
          shortcut="Ctrl Shift Z"
          hint="On to the newest state that was made from this one"
        >
          <Redo2 size={14} /> Redo
        </Button>
      </div>
      {isPending && <p className="text-soft">Reading the history …</p>}
      {versions.length > 0 && (
        <>
          <h3 className="pt-1 text-label text-soft">Versions</h3>
          <ol aria-label="Versions, newest first" className="mb-3">
            {versions.map(row)}
          </ol>
          <h3 className="pt-1 text-label text-soft">All states</h3>
        </>
      )}
      <ol aria-label="States, newest first">{states.map(row)}</ol>
      {hasNextPage && (
        <Button className="mt-2" onClick={() => void fetchNextPage()} disabled={isFetchingNextPage}>
          {isFetchingNextPage ? "Reading …" : "Earlier states"}
        </Button>
      )}
    </SheetDialog>
  );
}

function StateRow({
  state,
  project,
  current,
  onGo,
}: {
  state: HistoryState;
  project: string;
  current: boolean;
  onGo: () => void;
}) {
  const client = useQueryClient();
  const [naming, setNaming] = useState<string | null>(null);
  const keepName = async () => {
    const name = naming?.trim() ?? "";
    setNaming(null);
    if (name === (state.version_name ?? "")) return;
    try {
      await api("PATCH /api/projects/{project}/history", {
        params: { project },
        body: { state: state.id, name: name || null },
      });
    } catch (error) {
      toast.error("The state could not be named", {
        description: error instanceof Error ? error.message : String(error),
      });
    }
    await client.invalidateQueries({ queryKey: ["history", project] });
  };
  return (
    <li
      className={`grid grid-cols-[56px_1fr_auto] items-baseline gap-2 border-b border-grid py-1.5 ${current ? "bg-act-ground" : ""}`}
    >
      <span className="figure pl-1 text-label text-soft" title={format(new Date(state.created_at), "PPpp")}>
        {format(new Date(state.created_at), "HH:mm:ss")}
      </span>
      <div className="min-w-0">
        <p className="truncate" title={state.label}>
          {state.label}
        </p>
        {naming !== null ? (
          <input
            autoFocus
            aria-label="Name of this version"
            placeholder="a name makes it a version"
            className="w-full border-b border-act bg-transparent outline-none"
            value={naming}
            onChange={(event) => setNaming(event.target.value)}
            onBlur={() => void keepName()}
            onKeyDown={(event) => event.key === "Enter" && void keepName()}
          />
        ) : (
          <button
            type="button"
            onClick={() => setNaming(state.version_name ?? "")}
            className="flex items-center gap-1 text-label text-act hover:underline"
          >
            <Tag size={11} aria-hidden /> {state.version_name ?? "name it"}
          </button>
        )}
      </div>
      {current ? (
        <span className="pr-2 text-label text-soft">here</span>
      ) : (
        <Button kind="quiet" className="h-6" onClick={onGo}>
          go here
        </Button>
      )}
    </li>
  );
}
