"use client";

import { X } from "lucide-react";
import type { WaitingUpload } from "@core/project/views";
import { formatBytes } from "@core/audio/format";
import { api } from "@ui/api/api";
import { told } from "@ui/api/told";
import { cancelUpload, dismissUpload, type FileUpload } from "@ui/api/uploads";
import { Button } from "@ui/design-system/button";
import { ComplianceMark } from "@ui/design-system/compliance-mark";
import { ProgressBar, timeLeft } from "@ui/design-system/progress-bar";
import { fileKey, useLocalFigures } from "@ui/workers/local-figures";
import { UploadPreview } from "./upload-preview";

/** Columns of all rows of recordings. */
export const ROW =
  "grid grid-cols-[18px_minmax(140px,1fr)_minmax(220px,3fr)_auto] items-center gap-3 border-b border-grid px-4 py-1.5";

/** A file that is on its way. */
export function SendingRow({ sending }: { sending: FileUpload }) {
  const { name, bytes, sent, pace, state, problem, key } = sending;
  const local = useLocalFigures(({ figures }) => figures[fileKey(sending)]);
  const failed = state === "failed";
  return (
    <div className={ROW} data-testid="sending">
      <ComplianceMark status={failed ? "fail" : "unknown"} />
      <span className="truncate" title={name}>
        {name}
      </span>
      {failed ? (
        <span className="text-outside">{problem}</span>
      ) : (
        <div>
          <ProgressBar fraction={sent / bytes} label={`Upload of ${name}`} />
          <span className="figure text-label text-soft">
            {state === "finishing"
              ? "arrived, being stored"
              : `${formatBytes(sent)} of ${formatBytes(bytes)} · ${formatBytes(pace)}/s · ${timeLeft(pace > 0 ? (bytes - sent) / pace : null)}`}
          </span>
          {local && <UploadPreview local={local} />}
        </div>
      )}
      <Button
        kind="quiet"
        onClick={() => (failed ? dismissUpload(key) : cancelUpload(key))}
        hint={failed ? "Take this line away" : "Stop and forget what arrived"}
      >
        <X size={14} /> {failed ? "Dismiss" : "Cancel"}
      </Button>
    </div>
  );
}

/** The same recording came once more: whether another item is wanted is a person's word. */
export function DuplicateRow({ project, upload }: { project: string; upload: WaitingUpload }) {
  const answer = (method: "POST" | "DELETE") =>
    told(
      api(`${method} /api/projects/{project}/uploads`, { params: { project }, body: { upload: upload.id } }),
      "It could not be done",
    );
  return (
    <div className={ROW} data-testid="duplicate">
      <ComplianceMark status="marginal" />
      <span className="truncate" title={upload.name}>
        {upload.name}
      </span>
      <span className="truncate" title={`In the project already, as “${upload.duplicateOf}”`}>
        In the project already, as “{upload.duplicateOf}”. Nothing was added.
      </span>
      <span className="flex items-center">
        <Button kind="quiet" onClick={() => answer("POST")} hint="Another item of the same recording">
          Add a second item
        </Button>
        <Button kind="quiet" onClick={() => answer("DELETE")} hint="Leave it as it is">
          <X size={14} /> Dismiss
        </Button>
      </span>
    </div>
  );
}

export function InterruptedRow({ project, upload }: { project: string; upload: WaitingUpload }) {
  const discard = () =>
    told(
      api("DELETE /api/projects/{project}/uploads", { params: { project }, body: { upload: upload.id } }),
      "The upload could not be discarded",
    );
  const take = () =>
    told(
      api("POST /api/projects/{project}/uploads", { params: { project }, body: { upload: upload.id } }),
      "The recording could not be taken in",
    );
  const recording = upload.bytes === 0;
  return (
    <div className={ROW} data-testid="interrupted">
      <ComplianceMark status="marginal" />
      <span className="truncate" title={upload.name}>
        {upload.name}
      </span>
      {recording ? (
        <span className="flex items-center gap-2">
          A recording under way, or broken off: {formatBytes(upload.received)} arrived.
          <Button
            kind="quiet"
            onClick={take}
            hint="Makes an item of what arrived. Not while it is still being recorded."
          >
            Import what arrived
          </Button>
        </span>
      ) : (
        <span>
          Interrupted at {Math.floor((upload.received / upload.bytes) * 100)} %. Choose or drop the same file again and
          it goes on from there.
        </span>
      )}
      <Button kind="quiet" onClick={discard} hint="Forget what arrived of it">
        <X size={14} /> Discard
      </Button>
    </div>
  );
}
