"use client";

import { keepPreviousData, useQuery } from "@tanstack/react-query";
import { RefreshCw } from "lucide-react";
import { useEffect } from "react";
import type { ComplianceStatus } from "@core/delivery/compliance";
import type { HealthCheck, OperationsView } from "@core/project/operations-view";
import { api } from "@ui/api/api";
import { Button } from "@ui/design-system/button";
import { useMe } from "@ui/api/me";
import { PageHead } from "@ui/design-system/page-head";
import { ComplianceMark } from "@ui/design-system/compliance-mark";
import { Backups } from "./backups";
import { QUEUE_LABELS } from "./queue-labels";
import { Webhooks } from "./webhooks";
import { Workers } from "./workers";

/** Looked at again by itself. */
const LOOK_MS = 10_000;

const MARKS: Readonly<Record<HealthCheck["state"], ComplianceStatus>> = {
  ok: "pass",
  warning: "marginal",
  failed: "fail",
};

/** What the studio stands on, for whoever looks after it. */
export function Operations() {
  const me = useMe();
  const { data, error, refetch } = useQuery({
    queryKey: ["operations"],
    queryFn: () => api("GET /api/operations"),
    refetchInterval: LOOK_MS,
  });
  const lastBackup = data?.backups.find((run) => run.finished_at !== null)?.id ?? null;
  // Programs are started and the disk is written to for it: once, after a backup, and when it is asked for.
  const {
    data: checks,
    error: sick,
    isFetching: isExamining,
    refetch: again,
  } = useQuery({
    queryKey: ["operations", "health", lastBackup],
    queryFn: () => api("GET /api/operations/health"),
    enabled: data !== undefined || error !== null,
    placeholderData: keepPreviousData,
  });
  useEffect(() => {
    document.title = "Operations · Resonum";
  }, []);
  return (
    <div className="flex h-screen flex-col">
      <PageHead title="Operations" help="What this studio stands on, its queue, its workers and its backups.">
        <Button
          onClick={() => void Promise.all([again(), refetch()])}
          disabled={isExamining}
          hint="Looks at everything again"
        >
          <RefreshCw size={13} /> Look again
        </Button>
      </PageHead>
      <main className="min-h-0 flex-1 overflow-y-auto">
        <div className="mx-auto flex w-full max-w-[1180px] flex-col gap-5 px-6 py-4">
          {(error ?? sick) && <p className="text-outside">{(error ?? sick)!.message}</p>}
          {!data && !error && <p className="text-soft">Looking at the studio …</p>}
          {data && (
            <>
              <div className="grid grid-cols-[3fr_2fr] gap-5">
                {checks ? <Health checks={checks} /> : <p className="text-soft">Looking at what it stands on …</p>}
                <Queues queues={data.queues} />
              </div>
              <Workers workers={data.workers} />
              <Backups backups={data.backups} schedule={data.schedule} />
              {me?.role === "owner" && <Webhooks />}
            </>
          )}
        </div>
      </main>
    </div>
  );
}

function Health({ checks }: { checks: readonly HealthCheck[] }) {
  const wrong = checks.filter(({ state }) => state !== "ok").length;
  return (
    <section aria-label="Health">
      <h2 className="pb-1 text-head">
        Health{" "}
        <span className="text-label text-soft">
          {wrong === 0 ? "all is well" : `${wrong} of ${checks.length} want to be looked at`}
        </span>
      </h2>
      <table className="w-full border border-hair bg-sheet">
        <tbody>
          {checks.map(({ name, state, words }) => (
            <tr key={name} className="border-t border-grid first:border-t-0">
              <th scope="row" className="w-28 py-1.5 pl-3 text-left font-normal whitespace-nowrap">
                <span className="flex items-center gap-2">
                  <ComplianceMark status={MARKS[state]} /> {name}
                </span>
              </th>
              <td className="py-1.5 pr-3 pl-4 [overflow-wrap:anywhere] text-soft">{words}</td>
            </tr>
          ))}
        </tbody>
      </table>
    </section>
  );
}

const waitedWords = (seconds: number): string =>
  seconds < 90
    ? `${Math.round(seconds)} s`
    : seconds < 5400
      ? `${Math.round(seconds / 60)} min`
      : `${(seconds / 3600).toFixed(1)} h`;

function Queues({ queues }: Pick<OperationsView, "queues">) {
  return (
    <section aria-label="Queue">
      <h2 className="pb-1 text-head">Queue</h2>
      {queues.length === 0 ? (
        <p className="border border-hair bg-sheet px-3 py-2 text-soft">Nothing waits, and nothing is under way.</p>
      ) : (
        <table className="w-full border border-hair bg-sheet">
          <thead className="text-left text-label text-soft">
            <tr>
              <th className="py-1 pl-3 font-normal">job</th>
              <th className="pl-3 text-right font-normal">under way</th>
              <th className="pl-3 text-right font-normal">waiting</th>
              <th className="pr-3 pl-3 text-right font-normal">the oldest for</th>
            </tr>
          </thead>
          <tbody>
            {queues.map(({ queue, active, waiting, waited }) => (
              <tr key={queue} className="border-t border-grid">
                <td className="py-1.5 pl-3">{QUEUE_LABELS[queue]}</td>
                <td className="figure text-right">{active}</td>
                <td className="figure text-right">{waiting}</td>
                <td className="figure pr-3 text-right">{waited === null ? "–" : waitedWords(waited)}</td>
              </tr>
            ))}
          </tbody>
        </table>
      )}
    </section>
  );
}
