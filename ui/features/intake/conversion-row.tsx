"use client";

import { X } from "lucide-react";
import { Button } from "@ui/design-system/button";
import { ProgressBar } from "@ui/design-system/progress-bar";
import { stopConversion, type ConversionBatch } from "@ui/state/conversions";

/** Recordings that are being made of others: how far they are, and how to stop. */
export function ConversionRow({ batch }: { batch: ConversionBatch }) {
  const { id, jobs, fraction } = batch;
  const name = jobs.length === 1 ? jobs[0]!.name : `${jobs[0]!.name} and ${jobs.length - 1} more`;
  return (
    <div className="flex items-center gap-3 py-1" data-testid="conversion">
      <span className="min-w-0 flex-1 truncate" title={jobs.map((job) => job.name).join(" · ")}>
        {name}
      </span>
      <span className="w-64">
        <ProgressBar fraction={fraction ?? 0} label={`${name} made`} />
        <span className="text-label text-soft">
          {fraction === null ? "waits for the one before" : `being made · ${Math.round(100 * fraction)} %`}
        </span>
      </span>
      <Button kind="quiet" onClick={() => stopConversion(id)} hint="Nothing is taken in of what is not made yet">
        <X size={14} /> Stop
      </Button>
    </div>
  );
}
