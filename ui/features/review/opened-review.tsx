"use client";

import { addressOf } from "@ui/api/api";
import { format } from "date-fns";
import { AudioWaveform, Download, Pause, Play } from "lucide-react";
import { useEffect, useMemo, useState } from "react";
import type { ReviewFile, ReviewPage } from "@core/review/views";
import { matchedGainsDb } from "@core/review/level-match";
import { formatTime } from "@core/audio/format";
import { Button } from "@ui/design-system/button";
import { CheckboxField } from "@ui/design-system/controls";
import { Decision } from "./decision";
import { Outline } from "./outline";
import { Remarks } from "./remarks";
import { blindOrder, letterOf, titlesOf, type Title } from "./titles";
import { useReviewPlayer } from "./use-review-player";

const STEP_SECONDS = 5;

interface Props {
  page: ReviewPage;
  /** Asks for it again after something was said. */
  again: () => void;
}

/** A review as a guest hears it: on a phone as well, and by keys. */
export function OpenedReview({ page, again }: Props) {
  const titles = useMemo(() => titlesOf(page.files), [page.files]);
  const [item, setItem] = useState(titles[0]!.item);
  const title = titles.find((one) => one.item === item) ?? titles[0]!;
  return (
    <main className="mx-auto flex min-h-screen max-w-[860px] flex-col bg-sheet sm:border-x sm:border-hair">
      <header className="border-b border-hair px-4 py-3">
        <p className="flex items-center gap-2 text-label text-soft">
          <AudioWaveform size={15} aria-hidden /> Resonum · from {page.from} · open until{" "}
          {format(new Date(page.expires_at), "d MMMM yyyy")}
        </p>
        <h1 className="pt-1 text-head font-semibold">{page.title}</h1>
        {page.message && <p className="pt-1 whitespace-pre-wrap">{page.message}</p>}
        <p className="pt-1 text-label text-soft">You are here as {page.name}.</p>
      </header>
      {titles.length > 1 && (
        <nav aria-label="Titles" className="flex max-h-48 flex-col overflow-y-auto border-b border-hair">
          {titles.map((one) => (
            <TitleButton
              key={one.item}
              page={page}
              title={one}
              chosen={one === title}
              onChoose={() => setItem(one.item)}
            />
          ))}
        </nav>
      )}
      <TitlePlayer key={title.item} page={page} title={title} again={again} />
    </main>
  );
}

function TitleButton(props: { page: ReviewPage; title: Title; chosen: boolean; onChoose: () => void }) {
  const { page, title, chosen, onChoose } = props;
  const decided = title.files.flatMap(({ position }) => page.verdicts.find((one) => one.position === position) ?? []);
  return (
    <button
      type="button"
      aria-pressed={chosen}
      onClick={onChoose}
      className={`flex min-h-11 items-center gap-3 border-b border-grid px-4 text-left last:border-b-0 ${chosen ? "bg-act-ground font-semibold text-act" : ""}`}
    >
      <span className="min-w-0 flex-1 truncate">{title.title}</span>
      {decided[0] && <span className="text-label">{decided[0].approved ? "approved" : "sent back"}</span>}
      <span className="figure text-soft">{formatTime(title.files[0]!.seconds)}</span>
    </button>
  );
}

/** What is heard: the file itself, or the copy that plays anywhere. */
function soundWords({ has_copy: hasCopy, copy_problem: problem }: ReviewFile, lossless: boolean): string {
  if (problem) return `There is no copy of it for listening: ${problem} The file itself plays where the browser can.`;
  if (!hasCopy) return "A copy is being made; until then the file itself plays.";
  return lossless ? "The file itself plays." : "A copy plays; “without loss” takes the file itself.";
}

function TitlePlayer({ page, title, again }: { page: ReviewPage; title: Title; again: () => void }) {
  const isCompared = title.files.length > 1;
  const files = useMemo(
    () => (page.blind && isCompared ? blindOrder(title.files, page.name) : title.files),
    [page.blind, page.name, title.files, isCompared],
  );
  const [position, setPosition] = useState(files[0]!.position);
  const [isMatched, setMatched] = useState(true);
  const [lossless, setLossless] = useState(false);
  const index = Math.max(
    0,
    files.findIndex((one) => one.position === position),
  );
  const file = files[index]!;
  const gains = useMemo(() => matchedGainsDb(files.map(({ integrated_lufs: lufs }) => lufs)), [files]);
  const gainDb = isCompared && isMatched ? gains[index]! : 0;
  const player = useReviewPlayer(page.id, file, gainDb, lossless);
  useKeys(player, files, setPosition);
  const remarks = page.remarks.filter((one) => one.position === file.position);
  const nameOf = (one: ReviewFile) =>
    page.blind ? letterOf(files.indexOf(one)) : `${letterOf(files.indexOf(one))} ${one.label}`;
  return (
    <>
      <section aria-label="Player" className="sticky top-0 z-10 border-b border-hair bg-sheet px-4 py-3">
        <Outline
          outline={file.outline}
          seconds={file.seconds}
          time={player.time}
          remarks={remarks}
          onSeek={player.seek}
        />
        <div className="flex flex-wrap items-center gap-3 pt-2">
          <Button kind="main" className="h-11 w-28" onClick={player.toggle}>
            {player.playing ? <Pause size={16} /> : <Play size={16} />} {player.playing ? "Pause" : "Play"}
          </Button>
          <span className="figure">
            {formatTime(player.time)} <span className="text-soft">of {formatTime(file.seconds)}</span>
          </span>
          <CheckboxField
            label="without loss"
            title="The file itself, where this browser can play it; otherwise a copy that needs less of the line"
            checked={lossless}
            onChange={setLossless}
          />
          {page.downloads && (
            <a
              href={addressOf("GET /api/review/{review}/files/{position}/download", {
                params: { review: page.id, position: file.position },
              })}
              download
              className="ml-auto inline-flex items-center gap-1 text-act hover:underline"
            >
              <Download size={14} aria-hidden /> Download
            </a>
          )}
        </div>
        {/* Always a line: what stands below must not move under a finger when the copy is there. */}
        <p className="pt-1 text-label text-soft">{soundWords(file, lossless)}</p>
        {player.problem && (
          <p role="alert" className="pt-1 text-outside">
            {player.problem}
          </p>
        )}
        {isCompared && (
          <div role="group" aria-label="Versions" className="flex flex-wrap items-center gap-2 pt-2">
            {files.map((one) => (
              <button
                key={one.position}
                type="button"
                aria-pressed={one === file}
                onClick={() => setPosition(one.position)}
                className={`min-h-9 rounded-[4px] border px-3 text-left ${one === file ? "border-act bg-act-ground font-semibold text-act" : "border-hair"}`}
              >
                {nameOf(one)}
              </button>
            ))}
            <CheckboxField
              label="same loudness"
              title="The louder ones are turned down, so that loudness decides nothing"
              checked={isMatched}
              onChange={setMatched}
            />
          </div>
        )}
        {!isCompared && <p className="pt-1 text-label text-soft">{file.label}</p>}
      </section>
      <Remarks review={page.id} file={file} remarks={remarks} time={player.time} onSeek={player.seek} again={again} />
      <Decision
        key={file.position}
        review={page.id}
        file={file}
        verdicts={page.verdicts.filter((one) => one.position === file.position)}
        again={again}
      />
    </>
  );
}

/** Space, arrows, and letters for versions: not where somebody writes. */
function useKeys(
  { toggle, seek, time }: { toggle: () => void; seek: (to: number) => void; time: number },
  files: readonly ReviewFile[],
  onChoose: (position: number) => void,
): void {
  useEffect(() => {
    const press = (event: KeyboardEvent) => {
      const on = event.target as HTMLElement;
      if (/^(TEXTAREA|BUTTON|A)$/.test(on.tagName) || event.ctrlKey || event.metaKey || event.altKey) return;
      if (on instanceof HTMLInputElement && on.type !== "range") return;
      const version = files[event.key.toUpperCase().charCodeAt(0) - 65];
      if (event.key === " ") toggle();
      else if (event.key === "ArrowLeft") seek(time - STEP_SECONDS);
      else if (event.key === "ArrowRight") seek(time + STEP_SECONDS);
      else if (event.key.length === 1 && version && files.length > 1) onChoose(version.position);
      else return;
      event.preventDefault();
    };
    addEventListener("keydown", press);
    return () => removeEventListener("keydown", press);
  }, [toggle, seek, time, files, onChoose]);
}
