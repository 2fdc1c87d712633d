"use client";

import { Select } from "@ui/design-system/controls";
import { counted } from "@core/audio/format";
import { format } from "date-fns";
import { useQuery, useQueryClient } from "@tanstack/react-query";
import { Download, FileText, Send } from "lucide-react";
import { useState } from "react";
import { toast } from "sonner";
import { currentMasters } from "@core/project/delivery";
import { specOf } from "@core/project/document";
import { knownRecordings, type Submission } from "@core/project/views";
import { formatWords } from "@core/delivery/recipe";
import { addressOf, api } from "@ui/api/api";
import { Button } from "@ui/design-system/button";
import { ComplianceMark } from "@ui/design-system/compliance-mark";
import { useCurrentItem } from "@ui/state/current-item";
import { projectKey } from "@ui/api/use-project";
import { ReportHeadLine } from "./report-head";
import { useReceivers } from "./use-receivers";

/** Everything that leaves the house: masters with their documents, to a zip, a folder or a receiver. */
export function SubmissionView() {
  const { view } = useCurrentItem();
  const masters = currentMasters(view.document, view.masters, knownRecordings(view.sources));
  const ready = new Set(masters.map(({ deliverable }) => deliverable.id));
  return (
    <div className="grid grid-cols-2 gap-6 px-4 py-2">
      <div>
        <Documents key={masters.map(({ master }) => master.id).join()} finished={masters.length} />
      </div>
      <div>
        <SubmitToReceivers ready={ready} />
        <SubmissionLog />
      </div>
    </div>
  );
}

function Documents({ finished }: { finished: number }) {
  const { view } = useCurrentItem();
  const { data: documents } = useQuery({
    queryKey: ["documents", view.id, view.head, finished],
    queryFn: () => api("GET /api/projects/{project}/documents", { params: { project: view.id } }),
  });
  const wanted = view.document.items.length * view.document.deliverables.length;
  return (
    <section data-testid="documents">
      <header className="flex items-center gap-3 border-b border-hair pb-1.5">
        <h2 className="font-semibold">Documents</h2>
        <span className="text-label text-soft">
          of {finished} finished {finished === 1 ? "master" : "masters"}
          {finished < wanted ? `; ${wanted - finished} are not rendered yet` : ""}
        </span>
        <a
          href={addressOf("GET /api/projects/{project}/delivery", { params: { project: view.id } })}
          download
          aria-disabled={finished === 0}
          className={`ml-auto inline-flex h-7 shrink-0 items-center gap-1.5 rounded-[4px] px-2.5 whitespace-nowrap ${finished === 0 ? "pointer-events-none border border-hair opacity-45" : "bg-act text-on-act hover:opacity-90"}`}
        >
          <Download size={14} /> Masters and documents as zip
        </a>
      </header>
      <ReportHeadLine />
      {documents?.length === 0 && (
        <p className="py-2 text-soft">
          Reports, tables, the cue sheet and the manifest are made once a master is rendered.
        </p>
      )}
      <ul>
        {documents?.map(({ name }) => (
          <li key={name} className="border-b border-grid">
            <a
              href={addressOf("GET /api/projects/{project}/documents/{name}", { params: { project: view.id, name } })}
              download
              className="flex h-[26px] items-center gap-2 hover:text-act"
            >
              <FileText size={13} className="text-soft" />
              <span className="truncate" title={name}>
                {name}
              </span>
            </a>
          </li>
        ))}
      </ul>
    </section>
  );
}

function SubmitToReceivers({ ready }: { ready: ReadonlySet<string> }) {
  const { view } = useCurrentItem();
  const client = useQueryClient();
  const receivers = useReceivers();
  const { deliverables } = view.document;
  const [chosen, setChosen] = useState<Record<string, string>>({});
  /** Its specification, and what tells it from others of the same. */
  const wordsOf = (id: string): string => {
    const { spec, format } = deliverables.find((one) => one.id === id)!;
    const isAlone = deliverables.filter((one) => one.spec === spec).length === 1;
    return `${specOf(view.document, spec).name}${isAlone ? "" : `, ${formatWords(format)}`}`;
  };
  const send = async (receiver: string, deliverable: string) => {
    try {
      await api("POST /api/projects/{project}/submissions", {
        params: { project: view.id },
        body: { receiver, deliverable },
      });
    } catch (error) {
      toast.error("Not submitted", { description: error instanceof Error ? error.message : String(error) });
    }
    await client.invalidateQueries({ queryKey: projectKey(view.id) });
  };
  return (
    <section data-testid="receivers">
      <h2 className="border-b border-hair pb-1.5 font-semibold">Submit</h2>
      {receivers?.map(({ id, name, help }) => {
        const deliverable = chosen[id] ?? deliverables.find((one) => ready.has(one.id))?.id ?? deliverables[0]?.id;
        return (
          <div key={id} className="flex items-center gap-2 border-b border-grid py-1.5">
            <div className="min-w-0 flex-1">
              {name}
              <p className="text-label text-soft">{help}</p>
            </div>
            <Select
              label={`What ${name} is given`}
              title="Which deliverable it is given"
              value={deliverable ?? ""}
              options={deliverables.map((one) => one.id)}
              words={wordsOf}
              onChange={(given) => setChosen({ ...chosen, [id]: given })}
              className="h-7 max-w-44"
            />
            <Button
              disabled={!deliverable || !ready.has(deliverable)}
              onClick={() => deliverable && void send(id, deliverable)}
              hint={
                deliverable && ready.has(deliverable) ? `To ${name}` : "No master of this deliverable is finished yet"
              }
            >
              <Send size={13} /> Submit
            </Button>
          </div>
        );
      })}
    </section>
  );
}

const STATE_WORDS: Record<Submission["state"], string> = {
  waiting: "under way",
  accepted: "accepted",
  refused: "refused",
  failed: "failed",
};

function SubmissionLog() {
  const { view } = useCurrentItem();
  const receivers = useReceivers();
  if (view.submissions.length === 0) return null;
  return (
    <section className="pt-3" data-testid="submissions">
      <h2 className="border-b border-hair pb-1.5 font-semibold">Submissions so far</h2>
      {view.submissions.map((one) => {
        const deliverable = view.document.deliverables.find(({ id }) => id === one.deliverable_id);
        const status = one.state === "accepted" ? "pass" : one.state === "waiting" ? "unknown" : "fail";
        return (
          <div key={one.id} className="border-b border-grid py-1">
            <div className="flex items-center gap-2">
              <ComplianceMark status={status} />
              <span className="min-w-0 flex-1 truncate">
                {receivers?.find(({ id }) => id === one.receiver)?.name ?? one.receiver} ·{" "}
                {deliverable ? specOf(view.document, deliverable.spec).name : "a deliverable of before"}
              </span>
              <span className="text-label text-soft">
                {STATE_WORDS[one.state]}
                {one.state === "waiting" &&
                  one.fileCount !== null &&
                  `, ${one.files.length} of ${counted(one.fileCount, "file")}`}{" "}
                · {format(new Date(one.asked_at), "HH:mm:ss")}
              </span>
            </div>
            {one.problem && <p className="pl-5 text-label text-outside">{one.problem}</p>}
            {one.files
              .filter(({ accepted }) => !accepted)
              .map(({ name, reasons }) => (
                <p key={name} className="pl-5 text-label">
                  {name}: <span className="text-outside">{reasons.join(" ")}</span>
                </p>
              ))}
            {one.state === "accepted" && <p className="pl-5 text-label text-soft">{one.files.length} files</p>}
          </div>
        );
      })}
    </section>
  );
}
