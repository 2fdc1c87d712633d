"use client";

import { Select } from "@ui/design-system/controls";
import { apiContent } from "@ui/api/api";
import { useVirtualizer } from "@tanstack/react-virtual";
import { FileDown, FolderOpen, Square, Trash2 } from "lucide-react";
import Link from "next/link";
import { PageHead } from "@ui/design-system/page-head";
import { useEffect, useMemo, useRef, useState, type DragEvent } from "react";
import { toast } from "sonner";
import { SOUND_EXTENSIONS } from "@core/files/extensions";
import { csvRows } from "@core/report/csv";
import { csvText } from "@core/report/csv-text";
import { describeReport } from "@core/report/description";
import { dayWords } from "@core/project/report-head";
import { htmlReport } from "@core/report/html";
import { formatTime } from "@core/audio/format";
import { SPECS, specNamed } from "@core/delivery/specs";
import { Button } from "@ui/design-system/button";
import { SearchField } from "@ui/design-system/search-field";
import { ProgressBar, timeLeft } from "@ui/design-system/progress-bar";
import { saveAs } from "@ui/api/save-as";
import { addFiles, clearBatch, holdAgainst, stopMeasuring, useBatch, type BatchRow } from "./batch";
import { droppedFiles } from "./dropped-files";
import { BatchRowView, BatchHead, ROW_HEIGHT } from "./batch-row";
import { shownRows, type Order } from "./order";

const TITLE = "Measured recordings";

/** Any number of recordings, measured where they lie and held against one specification. */
export function BatchMeasure() {
  const rows = useBatch((batch) => batch.rows);
  const spec = useBatch((batch) => batch.spec);
  const [words, setWords] = useState("");
  const [onlyFailing, setOnlyFailing] = useState(false);
  const [order, setOrder] = useState<Order>({ column: "added", descending: false });
  const shown = useMemo(() => shownRows(rows, { words, onlyFailing }, order), [rows, words, onlyFailing, order]);
  useEffect(() => {
    document.title = "Batch measure · Resonum";
  }, []);
  const onDrop = (event: DragEvent) => {
    event.preventDefault();
    void droppedFiles(event.dataTransfer).then(add);
  };
  return (
    <div className="flex h-screen flex-col" onDragOver={(event) => event.preventDefault()} onDrop={onDrop}>
      <PageHead
        title="Batch measure"
        help="Files are measured where they lie; nothing is kept or uploaded to a project."
      >
        <Link href="/proof" className="whitespace-nowrap text-act hover:underline">
          Prove the meter
        </Link>
      </PageHead>
      <main className="flex min-h-0 flex-1 flex-col px-6 py-4">
        <div className="mb-2 flex flex-wrap items-center gap-3">
          <Choosers />
          <label className="flex items-center gap-2 text-soft">
            held against
            <Select
              label="held against"
              value={spec ?? ""}
              options={["", ...SPECS.map(({ id }) => id)]}
              words={(id) => (id === "" ? "nothing" : specNamed(id).name)}
              onChange={(id) => holdAgainst(id || null)}
              className="h-7 text-ink"
            />
          </label>
          <SearchField label="Find by name" words={words} onChange={setWords} className="h-7 w-52" />
          <label className="flex items-center gap-1.5">
            <input type="checkbox" checked={onlyFailing} onChange={(event) => setOnlyFailing(event.target.checked)} />
            only what fails
          </label>
          <Exports rows={shown} />
        </div>
        <Under />
        <Table rows={shown} order={order} onOrder={setOrder} empty={rows.length === 0} />
      </main>
    </div>
  );
}

function add(files: File[]): void {
  const passedOver = addFiles(files);
  if (passedOver > 0)
    toast.info(`${passedOver} ${passedOver === 1 ? "file was" : "files were"} passed over`, {
      description: "They are no sound or video files.",
    });
}

function Choosers() {
  const files = useRef<HTMLInputElement>(null);
  const folder = useRef<HTMLInputElement>(null);
  useEffect(() => folder.current?.setAttribute("webkitdirectory", ""), []);
  const chosen = (event: React.ChangeEvent<HTMLInputElement>) => {
    add(Array.from(event.target.files ?? []));
    event.target.value = "";
  };
  return (
    <>
      <input
        ref={files}
        type="file"
        multiple
        hidden
        data-testid="many-files"
        accept={SOUND_EXTENSIONS.join(",")}
        onChange={chosen}
      />
      <input ref={folder} type="file" multiple hidden data-testid="many-folder" onChange={chosen} />
      <Button kind="main" onClick={() => files.current?.click()} hint="Sound or video files, as many as you like">
        <FolderOpen size={14} /> Choose files
      </Button>
      <Button onClick={() => folder.current?.click()} hint="All sound and video files in a folder and below">
        Choose a folder
      </Button>
    </>
  );
}

/** How far it is, how fast it goes, and how to end it. */
function Under() {
  const { rows, measuredSeconds, startedAt, endedAt } = useBatch();
  const [now, setNow] = useState(() => Date.now());
  const working = startedAt !== null && endedAt === null;
  useEffect(() => {
    if (!working) return;
    const timer = setInterval(() => setNow(Date.now()), 500);
    return () => clearInterval(timer);
  }, [working]);
  if (startedAt === null) return null;
  const done = rows.filter(({ state }) => state === "done" || state === "failed").length;
  const failing = rows.filter(({ verdict, state }) => state === "failed" || verdict?.pass === false).length;
  const seconds = Math.max(0.5, ((endedAt ?? now) - startedAt) / 1000);
  const fraction = rows.length === 0 ? 1 : done / rows.length;
  const left = working && fraction > 0.02 ? (seconds / fraction) * (1 - fraction) : null;
  return (
    <div className="mb-2 flex items-center gap-3 text-label text-soft" role="status" data-testid="batch-status">
      <div className="w-40">
        <ProgressBar fraction={fraction} label="Measuring" />
      </div>
      <span className="figure">
        {done} of {rows.length}
      </span>
      {failing > 0 && <span className="text-outside">▲ {failing} fail</span>}
      <span>
        {formatTime(measuredSeconds)} of sound in {formatTime(seconds)}, {Math.round(measuredSeconds / seconds)}× as
        fast
      </span>
      {working && <span>{timeLeft(left)}</span>}
      <span className="ml-auto" />
      {working ? (
        <Button kind="quiet" onClick={stopMeasuring} hint="What was measured stays">
          <Square size={13} /> Stop
        </Button>
      ) : (
        <Button kind="quiet" onClick={clearBatch} hint="Take all rows away">
          <Trash2 size={13} /> Clear
        </Button>
      )}
    </div>
  );
}

function Exports({ rows }: { rows: BatchRow[] }) {
  const spec = useBatch((batch) => batch.spec);
  const [writing, setWriting] = useState(false);
  const ready = rows.filter(({ state }) => state === "done" || state === "failed");
  const disabled = ready.length === 0;
  const held = spec === null ? null : specNamed(spec);
  const asJson = () => {
    const answers = ready.map(({ name, problem, figures, verdict, findings }) => [
      name,
      problem === null ? { ...figures, ...(held ? { verdict } : {}), findings } : { error: problem },
    ]);
    saveAs("measured.json", "application/json", JSON.stringify(Object.fromEntries(answers), null, 2));
  };
  const asPdf = async () => {
    setWriting(true);
    try {
      const response = await apiContent("POST /api/reports", { body: { title: TITLE, spec, entries: ready } });
      saveAs("measured.pdf", "application/pdf", await response.arrayBuffer());
    } catch (error) {
      toast.error("The PDF could not be made", { description: (error as Error).message });
    } finally {
      setWriting(false);
    }
  };
  return (
    <div className="ml-auto flex items-center gap-1" aria-label="Export what is shown">
      <FileDown size={14} className="text-soft" aria-hidden />
      <Button
        kind="quiet"
        disabled={disabled}
        onClick={() => saveAs("measured.csv", "text/csv", csvText(csvRows(ready)))}
      >
        CSV
      </Button>
      <Button kind="quiet" disabled={disabled} onClick={asJson}>
        JSON
      </Button>
      <Button
        kind="quiet"
        disabled={disabled}
        hint="A report with the curves, one document"
        onClick={() =>
          saveAs(
            "measured.html",
            "text/html",
            htmlReport(describeReport(ready, held, { title: TITLE, date: dayWords(new Date()) })),
          )
        }
      >
        HTML
      </Button>
      <Button kind="quiet" disabled={disabled || writing} hint="The same report as a PDF" onClick={() => void asPdf()}>
        {writing ? "writing …" : "PDF"}
      </Button>
    </div>
  );
}

function Table({
  rows,
  order,
  onOrder,
  empty,
}: {
  rows: BatchRow[];
  order: Order;
  onOrder: (order: Order) => void;
  empty: boolean;
}) {
  const scroller = useRef<HTMLDivElement>(null);
  const virtual = useVirtualizer({
    count: rows.length,
    getScrollElement: () => scroller.current,
    estimateSize: () => ROW_HEIGHT,
    overscan: 12,
  });
  return (
    <div
      ref={scroller}
      role="table"
      aria-rowcount={rows.length + 1}
      className="min-h-0 flex-1 overflow-auto border border-hair bg-sheet"
      data-testid="many-table"
    >
      <BatchHead order={order} onOrder={onOrder} />
      {rows.length === 0 && (
        <p className="p-6 text-soft">
          {empty
            ? "Drop files or folders anywhere on this page, or choose them above. WAV, RF64 and AIFF are measured in this page, other formats by the server, which keeps nothing of them."
            : "No recording is like that."}
        </p>
      )}
      <div className="relative" style={{ height: virtual.getTotalSize() }}>
        {virtual.getVirtualItems().map(({ index, start }) => (
          <BatchRowView key={rows[index]!.key} row={rows[index]!} top={start} index={index} />
        ))}
      </div>
    </div>
  );
}
