"use client";

import { toast } from "sonner";
import { api } from "@ui/shared/api";
import { ProgressBar, timeLeft } from "@ui/shared/progress-bar";
import { useProgress } from "@ui/shared/server-events";
import { StandingMark } from "@ui/shared/standing-mark";
import type { Cell } from "./board-model";
import { isBusy, useRender } from "./use-render";

const MOST_DONE = 12;

/** What is being rendered, what waits and what is done. */
export function RenderQueue({ cells }: { cells: Cell[] }) {
  const render = useRender();
  const progress = useProgress((state) => state.progress);
  const busy = cells.filter(isBusy);
  const failed = cells.filter(({ master }) => master?.state === "failed");
  const done = cells
    .filter(({ master }) => master?.state === "done")
    .sort((a, b) => (b.master!.finished_at ?? "").localeCompare(a.master!.finished_at ?? ""));
  const left = busy.map(({ master }) => progress[master!.id]?.secondsLeft ?? null);
  const known = left.filter((seconds): seconds is number => seconds !== null);
  const guess = known.length > 0 ? Math.max(...known) * Math.ceil(busy.length / known.length) : null;
  const notify = "Notification" in globalThis && Notification.permission === "default" && busy.length > 0;
  return (
    <section className="overflow-y-auto px-4 py-2" data-testid="queue">
      <h2 className="flex justify-between gap-2 border-b border-hair pb-1.5 font-semibold">
        Rendering{" "}
        <span className="font-normal whitespace-nowrap text-soft">
          {busy.length
            ? `${busy.length} to go${guess === null ? "" : `, about ${timeLeft(guess)}`}`
            : "nothing under way"}
          {busy.length > 1 && (
            <Action words="stop all" onClick={() => void Promise.all(busy.map(({ master }) => stop(master!.id)))} />
          )}
          {notify && <Action words="tell me at the end" onClick={() => void Notification.requestPermission()} />}
        </span>
      </h2>
      {[...busy]
        .sort((a, b) => Number(b.master!.state === "rendering") - Number(a.master!.state === "rendering"))
        .map((cell) => (
          <BusyRow key={cell.master!.id} cell={cell} />
        ))}
      {failed.map((cell) => (
        <div key={cell.master!.id} className="flex min-h-[26px] items-center gap-2 border-b border-grid">
          <StandingMark standing="outside" />
          <span className="min-w-0 flex-1 truncate" title={cell.master!.problem ?? ""}>
            {cell.item.name} · {cell.spec.name}: <span className="text-outside">{cell.master!.problem}</span>
          </span>
          <Action words="try again" onClick={() => void render([cell])} />
        </div>
      ))}
      {done.slice(0, MOST_DONE).map(({ master, item, spec, verdict }) => (
        <div key={master!.id} className="flex h-[26px] items-center gap-2 border-b border-grid">
          <StandingMark standing={verdict?.standing ?? "unknown"} />
          <span className="truncate">
            {item.name} · {spec.name}
          </span>
          <a href={`/api/masters/${master!.id}/file`} download className="ml-auto text-act hover:underline">
            file
          </a>
        </div>
      ))}
      {done.length > MOST_DONE && (
        <p className="pt-1 text-label text-soft">and {done.length - MOST_DONE} more on the board</p>
      )}
      {busy.length + done.length + failed.length === 0 && (
        <p className="py-2 text-soft">Masters that are rendered appear here, with their files.</p>
      )}
    </section>
  );
}

const said = (error: unknown) => (error instanceof Error ? error.message : String(error));

const stop = (master: string): Promise<void> =>
  api<void>(`masters/${master}`, { method: "DELETE" }).catch((error: unknown) => {
    toast.error("It could not be stopped", { description: said(error) });
  });

const first = (master: string): Promise<void> =>
  api<void>(`masters/${master}`, { method: "POST", body: { place: "first" } }).catch((error: unknown) => {
    toast.error("It could not be moved", { description: said(error) });
  });

function Action({ words, onClick }: { words: string; onClick: () => void }) {
  return (
    <button type="button" onClick={onClick} className="ml-2 text-act hover:underline">
      {words}
    </button>
  );
}

function BusyRow({ cell }: { cell: Cell }) {
  const master = cell.master!;
  const progress = useProgress((state) => state.progress[master.id]);
  return (
    <div className="grid h-[26px] grid-cols-[minmax(0,1fr)_64px_minmax(0,auto)_auto] items-center gap-2 border-b border-grid">
      <span className="truncate" title={`${cell.item.name} · ${cell.spec.name}`}>
        {cell.item.name} · {cell.spec.name}
      </span>
      <ProgressBar fraction={progress?.fraction ?? 0} label={`Rendering ${cell.item.name}`} />
      <span className="truncate text-label text-soft">
        {progress
          ? timeLeft(progress.secondsLeft) || progress.stage
          : master.state === "waiting"
            ? "waiting"
            : "beginning"}
      </span>
      <span className="whitespace-nowrap">
        {master.state === "waiting" && <Action words="first" onClick={() => void first(master.id)} />}
        <Action words="stop" onClick={() => void stop(master.id)} />
      </span>
    </div>
  );
}
