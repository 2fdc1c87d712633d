"use client";

import { toast } from "sonner";
import type { QueuedJob } from "@core/project/views";
import { addressOf, api } from "@ui/api/api";
import { ProgressBar, timeLeft, queueLabel } from "@ui/design-system/progress-bar";
import { useJobProgress } from "@ui/api/server-events";
import { ComplianceMark } from "@ui/design-system/compliance-mark";
import { useCurrentItem } from "@ui/state/current-item";
import type { Cell } from "@core/project/board";
import { useRender } from "./use-render";

const MOST_DONE = 12;

/** A job as the queue lists it. */
interface Listed {
  job: QueuedJob;
  words: string;
  stop?: () => Promise<void>;
  first?: () => Promise<void>;
}

/** A project's jobs, whatever they are for: masters of settings that have changed since as well. */
function useJobs(cells: readonly Cell[]): Listed[] {
  const { view } = useCurrentItem();
  return view.jobs.flatMap((job): Listed[] => {
    const { queue, subject } = job;
    const name = view.sources.find(({ hash }) => hash === subject)?.name ?? "a recording";
    if (queue === "prepare")
      return [
        {
          job,
          words: `Reading ${name}`,
          stop: () => stopping(api("DELETE /api/sources/{hash}/prepare", { params: { hash: subject } })),
        },
      ];
    // Nobody waits for these: they make room by themselves.
    if (queue === "standing" || queue === "copy" || queue === "backup") return [];
    if (queue === "search") return [{ job, words: `Looking through ${name}` }];
    if (queue === "figures") {
      const item = view.document.items.find(({ id }) => subject.endsWith(`/${id}`));
      return [{ job, words: `Measuring ${item?.name ?? "an item"} after its chain` }];
    }
    if (queue === "submission") return [{ job, words: "Submitting" }];
    if (queue === "segment") return []; // parts of what is listed
    const cell = cells.find(({ master }) => master?.id === subject);
    const master = view.masters.find(({ id }) => id === subject);
    const title = cell?.item.name ?? master?.inputs.tags.title ?? "a master";
    const spec = cell?.spec.name ?? `${master?.inputs.recipe.spec?.name ?? "master"}, settings of before`;
    const waits = !job.active;
    return [
      {
        job,
        words: `${title} · ${spec}`,
        stop: () => stopping(api("DELETE /api/masters/{master}", { params: { master: subject } })),
        ...(waits ? { first: () => putFirst(subject) } : {}),
      },
    ];
  });
}

/** What is under way, what waits and what is done. */
export function RenderQueue({ cells }: { cells: Cell[] }) {
  const render = useRender();
  const jobs = useJobs(cells);
  const failed = cells.filter(({ master }) => master?.state === "failed");
  const done = cells
    .filter(({ master }) => master?.state === "done")
    .sort((a, b) => (b.master!.finished_at ?? "").localeCompare(a.master!.finished_at ?? ""));
  const left = Math.max(0, ...jobs.map(({ job }) => job.secondsLeft));
  const notify = "Notification" in globalThis && Notification.permission === "default" && jobs.length > 0;
  return (
    <section className="overflow-y-auto px-4 py-2" data-testid="queue">
      <h2 className="flex justify-between gap-2 border-b border-hair pb-1.5 font-semibold">
        Rendering{" "}
        <span className="font-normal whitespace-nowrap text-soft">
          {jobs.length ? `${jobs.length} to go, ${timeLeft(left).replace(" left", "")}` : "nothing under way"}
          {jobs.length > 1 && (
            <Action
              words="stop all"
              onClick={() => void Promise.all(jobs.flatMap(({ stop }) => (stop ? [stop()] : [])))}
            />
          )}
          {notify && <Action words="tell me at the end" onClick={() => void Notification.requestPermission()} />}
        </span>
      </h2>
      {jobs.map((listed) => (
        <JobRow key={`${listed.job.queue} ${listed.job.subject}`} listed={listed} />
      ))}
      {failed.map((cell) => (
        <div key={cell.master!.id} className="flex min-h-[26px] items-center gap-2 border-b border-grid">
          <ComplianceMark status="fail" />
          <span className="min-w-0 flex-1 truncate" title={cell.master!.problem ?? ""}>
            {cell.item.name} · {cell.spec.name}: <span className="text-outside">{cell.master!.problem}</span>
          </span>
          <Action words="try again" onClick={() => void render([cell])} />
        </div>
      ))}
      {done.slice(0, MOST_DONE).map(({ master, item, spec, verdict }) => (
        <div key={master!.id} className="flex h-[26px] items-center gap-2 border-b border-grid">
          <ComplianceMark status={verdict?.status ?? "unknown"} />
          <span className="truncate">
            {item.name} · {spec.name}
          </span>
          <a
            href={addressOf("GET /api/masters/{master}/file", { params: { master: master!.id } })}
            download
            className="ml-auto text-act hover:underline"
          >
            file
          </a>
        </div>
      ))}
      {done.length > MOST_DONE && (
        <p className="pt-1 text-label text-soft">and {done.length - MOST_DONE} more on the board</p>
      )}
      {jobs.length + done.length + failed.length === 0 && (
        <p className="py-2 text-soft">Masters that are rendered appear here, with their files.</p>
      )}
    </section>
  );
}

const said = (error: unknown) => (error instanceof Error ? error.message : String(error));

const stopping = (asked: Promise<undefined>): Promise<void> =>
  asked.catch((error: unknown) => {
    toast.error("It could not be stopped", { description: said(error) });
  });

const putFirst = (master: string): Promise<void> =>
  api("POST /api/masters/{master}", { params: { master }, body: { place: "first" } }).catch((error: unknown) => {
    toast.error("It could not be moved", { description: said(error) });
  });

function Action({ words, onClick }: { words: string; onClick: () => void }) {
  return (
    <button type="button" onClick={onClick} className="ml-2 text-act hover:underline">
      {words}
    </button>
  );
}

function JobRow({ listed: { job, words, stop: end, first } }: { listed: Listed }) {
  const progress = useJobProgress((state) => state.progress[job.subject]);
  return (
    <div className="grid h-[26px] grid-cols-[minmax(0,1fr)_40px_minmax(0,112px)_auto] items-center gap-2 border-b border-grid">
      <span className="truncate" title={words}>
        {words}
      </span>
      <ProgressBar fraction={progress?.fraction ?? 0} label={`Progress of ${words}`} />
      <span className="truncate text-label text-soft" title={queueLabel(job)}>
        {progress ? timeLeft(progress.secondsLeft) || progress.stage : queueLabel(job)}
      </span>
      <span className="whitespace-nowrap">
        {first && <Action words="first" onClick={() => void first()} />}
        {end && <Action words="stop" onClick={() => void end()} />}
      </span>
    </div>
  );
}
