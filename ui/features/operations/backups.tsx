"use client";

import { useQueryClient } from "@tanstack/react-query";
import { formatDistanceStrict, formatDistanceToNowStrict } from "date-fns";
import { DatabaseBackup } from "lucide-react";
import { useState } from "react";
import { toast } from "sonner";
import { formatBytes } from "@core/audio/format";
import type { BackupRun, OperationsView } from "@core/project/operations-view";
import { api } from "@ui/api/api";
import { told } from "@ui/api/told";
import { Button } from "@ui/design-system/button";
import { ComplianceMark } from "@ui/design-system/compliance-mark";

/** Backups that were made or tried, and one more. */
export function Backups({ backups, schedule }: Pick<OperationsView, "backups" | "schedule">) {
  return (
    <section aria-label="Backups">
      <div className="flex flex-wrap items-center gap-x-4 gap-y-1 pb-1">
        <h2 className="text-head">Backups</h2>
        <p className="text-label text-soft">
          {schedule
            ? `by themselves every ${schedule.hours} h in ${schedule.folder}`
            : "none are made by themselves: RESONUM_BACKUPS names a folder for them"}
        </p>
        <NewBackup folder={backups[0]?.place ?? schedule?.folder ?? ""} />
      </div>
      {backups.length === 0 ? (
        <p className="border border-hair bg-sheet px-3 py-2 text-soft">
          There is none yet. A backup holds every project with its history and every recording and master once; it is
          made while people work, and only what is new is copied. Choose a folder on another disk.
        </p>
      ) : (
        <table className="w-full border border-hair bg-sheet" data-testid="backups">
          <thead className="text-left text-label text-soft">
            <tr>
              <th className="py-1 pl-3 font-normal">begun</th>
              <th className="font-normal">folder</th>
              <th className="font-normal">snapshot</th>
              <th className="text-right font-normal">blobs</th>
              <th className="text-right font-normal">size</th>
              <th className="text-right font-normal">new</th>
              <th className="pr-3 text-right font-normal">took</th>
            </tr>
          </thead>
          <tbody>
            {backups.map((run) => (
              <RunRow key={run.id} run={run} />
            ))}
          </tbody>
        </table>
      )}
    </section>
  );
}

function RunRow({ run }: { run: BackupRun }) {
  const { started_at: begun, finished_at: ended, place, snapshot, blobs, bytes, copied_bytes: copied, lost } = run;
  const status = run.problem ? "fail" : !ended ? "unknown" : lost ? "marginal" : "pass";
  return (
    <tr className="border-t border-grid">
      <td className="py-1.5 pl-3 whitespace-nowrap" title={new Date(begun).toLocaleString()}>
        <span className="flex items-center gap-2">
          <ComplianceMark status={status} /> {formatDistanceToNowStrict(new Date(begun))} ago
        </span>
      </td>
      <td className="[overflow-wrap:anywhere]">{place}</td>
      {run.problem ? (
        <td colSpan={5} className="pr-3 text-outside">
          {run.problem}
        </td>
      ) : (
        <>
          <td className="figure whitespace-nowrap">{snapshot ?? "under way"}</td>
          <td className="figure text-right">
            {blobs ?? "–"}
            {lost ? <span className="text-close"> without {lost}</span> : null}
          </td>
          <td className="figure text-right">{bytes === null ? "–" : formatBytes(bytes)}</td>
          <td className="figure text-right">{copied === null ? "–" : formatBytes(copied)}</td>
          <td className="figure pr-3 text-right">
            {ended ? formatDistanceStrict(new Date(ended), new Date(begun)) : "–"}
          </td>
        </>
      )}
    </tr>
  );
}

function NewBackup({ folder: known }: { folder: string }) {
  const [folder, setFolder] = useState<string | null>(null);
  const client = useQueryClient();
  const wanted = (folder ?? known).trim();
  const ask = () => {
    const asked = api("POST /api/operations/backups", { body: { folder: wanted } });
    told(asked, "The backup was not begun");
    void asked.then(
      () => {
        toast(`A backup in ${wanted} is asked for`, { description: "It is made in the background." });
        void client.invalidateQueries({ queryKey: ["operations"] });
      },
      () => undefined, // was told
    );
  };
  return (
    <form
      className="ml-auto flex items-center gap-2"
      onSubmit={(event) => {
        event.preventDefault();
        ask();
      }}
    >
      <label className="flex items-center gap-2 text-label text-soft">
        folder
        <input
          value={folder ?? known}
          onChange={(event) => setFolder(event.target.value)}
          placeholder="/mnt/second-disk/resonum"
          className="h-7 w-72 rounded-[4px] border border-hair bg-sheet px-2 text-ink"
        />
      </label>
      <Button kind="main" type="submit" disabled={wanted === ""}>
        <DatabaseBackup size={13} /> Back up now
      </Button>
    </form>
  );
}
