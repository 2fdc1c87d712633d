"use client";

import { useQueryClient } from "@tanstack/react-query";
import { formatDistanceToNowStrict } from "date-fns";
import { CORE_VERSION } from "@core/audio/core-version";
import { formatBytes } from "@core/audio/format";
import type { OperationsView, WorkerView } from "@core/project/operations-view";
import type { ComplianceStatus } from "@core/delivery/compliance";
import { api } from "@ui/api/api";
import { told } from "@ui/api/told";
import { Button } from "@ui/design-system/button";
import { ComplianceMark } from "@ui/design-system/compliance-mark";
import { QUEUE_LABELS } from "./queue-labels";

/** Machines that render, and what is in their hands. */
export function Workers({ workers }: Pick<OperationsView, "workers">) {
  return (
    <section aria-label="Workers">
      <h2 className="pb-1 text-head">
        Workers <span className="text-label text-soft">{countWords(workers)}</span>
      </h2>
      {workers.length === 0 ? (
        <p className="border border-hair bg-sheet px-3 py-2 text-soft">
          None is at work: nothing is read or rendered. “resonum worker” starts one, on this machine or another.
        </p>
      ) : (
        <table className="w-full border border-hair bg-sheet" data-testid="workers">
          <thead className="text-left text-label text-soft">
            <tr>
              <th className="py-1 pl-3 font-normal">worker</th>
              <th className="font-normal">last sign</th>
              <th className="font-normal">version</th>
              <th className="text-right font-normal">load</th>
              <th className="pr-6 text-right font-normal">memory</th>
              <th className="font-normal">in its hands</th>
              <th aria-label="What can be done" />
            </tr>
          </thead>
          <tbody>
            {workers.map((worker) => (
              <WorkerRow key={worker.name} worker={worker} />
            ))}
          </tbody>
        </table>
      )}
    </section>
  );
}

function countWords(workers: readonly WorkerView[]): string {
  const atWork = workers.filter(({ gone, drained }) => !gone && !drained).length;
  const machines = new Set(workers.filter(({ gone }) => !gone).map(({ machine }) => machine)).size;
  return `${atWork} at work, on ${machines} ${machines === 1 ? "machine" : "machines"}`;
}

const statusOf = ({ gone, drained, core_version: version }: WorkerView): ComplianceStatus =>
  gone ? "fail" : version === CORE_VERSION ? (drained ? "unknown" : "pass") : "marginal";

function stateWords({ gone, drained, stop_asked: ends, seen_at: seen }: WorkerView): string {
  if (gone) return `gone, last heard of ${formatDistanceToNowStrict(new Date(seen))} ago`;
  if (ends) return "ends once its jobs are done";
  return drained ? "takes no more jobs" : `${formatDistanceToNowStrict(new Date(seen))} ago`;
}

function WorkerRow({ worker }: { worker: WorkerView }) {
  const { name, core_version: version, load, memory_bytes: memory, jobs, drained, stop_asked: ends, gone } = worker;
  const client = useQueryClient();
  const params = { worker: name };
  const ask = (asked: Promise<unknown>) => {
    told(asked, "The worker could not be asked");
    void asked.then(
      () => client.invalidateQueries({ queryKey: ["operations"] }),
      () => undefined, // was told
    );
  };
  return (
    <tr className="border-t border-grid">
      <td className="py-1.5 pl-3">
        <span className="flex items-center gap-2">
          <ComplianceMark status={statusOf(worker)} /> {name}
        </span>
      </td>
      <td className={gone ? "text-outside" : "text-soft"}>{stateWords(worker)}</td>
      <td className="figure" title="Of the core: masters are kept by it">
        {version}
        {version !== CORE_VERSION && <span className="text-close"> the studio has {CORE_VERSION}</span>}
      </td>
      <td className="figure text-right" title="Work of its machine for each processor, over a minute">
        {load.toFixed(2)}
      </td>
      <td className="figure pr-6 text-right">{formatBytes(memory)}</td>
      <td className="text-soft">
        {jobs.length === 0
          ? "nothing"
          : jobs.map(({ queue, fraction }) => `${QUEUE_LABELS[queue]} ${Math.round(fraction * 100)} %`).join(", ")}
      </td>
      <td className="pr-2 text-right whitespace-nowrap">
        {!gone && !ends && (
          <Button
            kind="quiet"
            onClick={() => ask(api("PATCH /api/operations/workers/{worker}", { params, body: { drained: !drained } }))}
            hint={drained ? "Takes jobs again" : "Ends what it has in hand, and takes no more"}
          >
            {drained ? "Resume" : "Drain"}
          </Button>
        )}
        {!ends && (
          <Button
            kind="quiet"
            onClick={() => ask(api("DELETE /api/operations/workers/{worker}", { params }))}
            hint={gone ? "Takes it off this list" : "Ends once its jobs are done; what watches over it starts another"}
          >
            {gone ? "Remove" : "End"}
          </Button>
        )}
      </td>
    </tr>
  );
}
