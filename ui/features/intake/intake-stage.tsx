"use client";

import { FileDown, FolderOpen, Mic, RefreshCw, X } from "lucide-react";
import { useRef, type KeyboardEvent } from "react";

import type { Source } from "@core/project/views";
import { SOUND_EXTENSIONS } from "@core/files/extensions";
import { counted, formatBytes, formatRate, formatTime, formatClock } from "@core/audio/format";
import { addressOf, api } from "@ui/api/api";
import { Button } from "@ui/design-system/button";
import { ProgressBar, timeLeft, queueLabel } from "@ui/design-system/progress-bar";
import { useJobProgress } from "@ui/api/server-events";
import { ComplianceMark } from "@ui/design-system/compliance-mark";
import { openItem, useWorkspace } from "@ui/state/workspace-store";
import { useCurrentItem } from "@ui/state/current-item";
import { UploadPreview } from "./upload-preview";
import { DuplicateRow, InterruptedRow, ROW, SendingRow } from "./upload-rows";
import { PickedBar } from "@ui/design-system/picked-bar";
import { isPick, pick, pickByEnter, pickNothing, usePickedOf, type PickKeys } from "@ui/state/picked";
import { told } from "@ui/api/told";
import { Outline } from "@ui/timeline/growing-waveform";
import { useConversions } from "@ui/state/conversions";
import { ConversionRow } from "./conversion-row";
import { LayoutChoice } from "./layout-choice";
import { TrackChoice } from "./track-choice";
import { fileKey, useLocalFigures } from "../../workers/local-figures";
import { uploadFiles, useUploads } from "../../api/uploads";

/** Recordings as they come in: what they are, how far they are, what was wrong with them. */
export function IntakeStage() {
  const { view, item } = useCurrentItem();
  const chooser = useRef<HTMLInputElement>(null);
  const sendings = useUploads((state) => state.uploads).filter(({ project }) => project === view.id);
  const conversions = useConversions((now) => now.batches).filter(({ project }) => project === view.id);
  const duplicates = view.uploads.filter(({ duplicateOf }) => duplicateOf !== null);
  const interrupted = view.uploads.filter(
    (upload) =>
      upload.duplicateOf === null &&
      !sendings.some(({ name, bytes }) => name === upload.name && bytes === upload.bytes),
  );
  const recordings = view.document.sources.map(({ hash }) => hash);
  const picked = usePickedOf("recordings", recordings);
  const nothing = view.sources.length + sendings.length + view.uploads.length === 0;
  return (
    <div className="flex h-full flex-col">
      <header className="flex items-center gap-3 border-b border-hair px-4 py-2">
        <h2 className="font-semibold">Recordings</h2>
        <p className="truncate text-label text-soft">
          Originals are kept byte for byte and never written to. Drop more anywhere on this page.
        </p>
        <input
          ref={chooser}
          type="file"
          multiple
          hidden
          data-testid="file-input"
          accept={SOUND_EXTENSIONS.join(",")}
          onChange={(event) => {
            void uploadFiles(view.id, Array.from(event.target.files ?? []));
            event.target.value = "";
          }}
        />
        <Button
          className="ml-auto"
          onClick={() => useWorkspace.setState({ dialog: "record" })}
          hint="From a microphone or another input"
          shortcut="Shift R"
        >
          <Mic size={14} /> Record
        </Button>
        <Button kind="main" onClick={() => chooser.current?.click()} hint="Sound or video files, as many as you like">
          <FolderOpen size={14} /> Choose files
        </Button>
      </header>
      <div className="flex min-h-0 flex-1 flex-col overflow-y-auto">
        {nothing && (
          <p className="px-4 py-8 text-center text-soft">
            No recordings yet. Drop WAV, RF64, AIFF, FLAC, MP3 or video files anywhere on this page, or choose them
            above.
          </p>
        )}
        {conversions.map((batch) => (
          <div key={batch.id} className="border-b border-grid px-4">
            <ConversionRow batch={batch} />
          </div>
        ))}
        {sendings.map((sending) => (
          <SendingRow key={sending.key} sending={sending} />
        ))}
        {duplicates.map((upload) => (
          <DuplicateRow key={upload.id} project={view.id} upload={upload} />
        ))}
        {interrupted.map((upload) => (
          <InterruptedRow key={upload.id} project={view.id} upload={upload} />
        ))}
        {view.document.sources.map(({ hash, name }) => {
          const source = view.sources.find((one) => one.hash === hash);
          const uses = view.document.items.filter((one) => one.source === hash);
          return (
            source && (
              <SourceRow
                key={hash}
                source={source}
                name={name}
                current={item?.source === hash}
                picked={picked.includes(hash)}
                onKeyDown={pickByEnter("recordings", hash, recordings)}
                onTake={(event) => {
                  pick("recordings", hash, recordings, event);
                  if (!isPick(event) && uses[0]) openItem(uses[0].id);
                }}
              />
            )
          );
        })}
        <PickedRecordings recordings={recordings} />
      </div>
    </div>
  );
}

/** What is done with several recordings at once. */
function PickedRecordings({ recordings }: { recordings: readonly string[] }) {
  const { view, edit } = useCurrentItem();
  const picked = usePickedOf("recordings", recordings);
  if (picked.length === 0) return null;
  const items = view.document.items.filter(({ source }) => picked.includes(source)).map(({ id }) => id);
  const failed = view.sources.filter(({ hash, state }) => picked.includes(hash) && state === "failed");
  const readAgain = () => {
    for (const { hash } of failed)
      told(api("POST /api/sources/{hash}/prepare", { params: { hash } }), "It could not be started");
  };
  return (
    <PickedBar count={picked.length} noun="recording" onClear={() => pickNothing("recordings")}>
      <Button
        kind="quiet"
        disabled={items.length === 0}
        hint="Their items leave the running order; the recordings stay, and undo brings the items back"
        onClick={() => void edit({ type: "removeItems", items })}
      >
        Take {items.length === 0 ? "their items" : counted(items.length, "item")} out of the order
      </Button>
      <Button kind="quiet" disabled={failed.length === 0} hint="Those that could not be read" onClick={readAgain}>
        <RefreshCw size={14} /> Read again
      </Button>
    </PickedBar>
  );
}

function SourceRow({
  source,
  name,
  current,
  picked,
  onTake,
  onKeyDown,
}: {
  source: Source;
  name: string;
  current: boolean;
  picked: boolean;
  onTake: (event: PickKeys) => void;
  onKeyDown: (event: KeyboardEvent) => void;
}) {
  const { view } = useCurrentItem();
  const progress = useJobProgress((state) => state.progress[source.hash]);
  const job = view.jobs.find(({ queue, subject }) => queue === "prepare" && subject === source.hash);
  const local = useLocalFigures(({ figures }) => figures[fileKey(source)]);
  const busy = source.state === "waiting" || source.state === "preparing";
  const standing = source.state === "failed" ? "fail" : busy ? "unknown" : source.warnings.length ? "marginal" : "pass";
  return (
    <div
      className={`${ROW} ${current || picked ? "bg-act-ground" : ""}`}
      data-testid="source"
      data-state={source.state}
    >
      <ComplianceMark status={standing} />
      <button
        type="button"
        onClick={onTake}
        className="truncate text-left text-act hover:underline"
        onKeyDown={onKeyDown}
        title={`${name} — take in hand; Ctrl or Shift with a click or Enter selects several`}
      >
        {name}
      </button>
      <div className="min-w-0">
        {busy ? (
          <>
            <ProgressBar fraction={progress?.fraction ?? 0} label={`Reading ${name}`} />
            <span className="text-label text-soft">
              {progress ? `${progress.stage}, ${timeLeft(progress.secondsLeft)}` : queueLabel(job)}
            </span>
            {local ? <UploadPreview local={local} /> : <Outline source={source} className="h-5 w-full max-w-96" />}
          </>
        ) : source.state === "failed" ? (
          <span className="text-outside">{source.problem}</span>
        ) : (
          <About source={source} />
        )}
      </div>
      <div className="flex items-center">
        {busy && (
          <Button
            kind="quiet"
            onClick={() =>
              told(
                api("DELETE /api/sources/{hash}/prepare", { params: { hash: source.hash } }),
                "It could not be cancelled",
              )
            }
            hint="Stop reading; the original is kept"
          >
            <X size={14} /> Cancel
          </Button>
        )}
        {source.state === "failed" && (
          <Button
            kind="quiet"
            onClick={() =>
              told(
                api("POST /api/sources/{hash}/prepare", { params: { hash: source.hash } }),
                "It could not be started",
              )
            }
            hint="Read the original once more"
          >
            <RefreshCw size={14} /> Read again
          </Button>
        )}
        <a
          href={addressOf("GET /api/sources/{hash}", { params: { hash: source.hash } })}
          download
          aria-label={`Download the original of ${name}`}
          title="Download the original, byte for byte"
          className="rounded-[4px] p-1.5 text-act hover:bg-act-ground"
        >
          <FileDown size={15} />
        </a>
      </div>
    </div>
  );
}

function About({ source }: { source: Source }) {
  const { figures } = source;
  if (!figures) return null;
  return (
    <>
      <p className="flex flex-wrap items-center gap-x-3 text-label">
        <span className="figure">{formatTime(figures.durationSeconds, 1)}</span>
        <span>{formatRate(figures.sampleRate)}</span>
        <span>{source.encoding}</span>
        <LayoutChoice source={source} channels={figures.channels} />
        <TrackChoice source={source} />
        {source.start_seconds !== null && (
          <span title="Timecode of its beginning, as the file tells it: timecodes count from there">
            from {formatClock(source.start_seconds)}
          </span>
        )}
        <span className="text-soft">
          {source.container} · {formatBytes(source.bytes)}
        </span>
      </p>
      {source.warnings.map((warning) => (
        <p key={warning} className="text-label text-close">
          {warning}
        </p>
      ))}
    </>
  );
}
