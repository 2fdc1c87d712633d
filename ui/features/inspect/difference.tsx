"use client";

import { useQuery } from "@tanstack/react-query";
import { useCallback, useState } from "react";
import { toast } from "sonner";
import type { Alignment } from "@core/compare/alignment";
import type { Curves, Figures } from "@core/measure";
import type { DifferenceAnswer, DifferenceRequest } from "@playback/difference.worker";
import type { MeasureRequest } from "@playback/measure.worker";
import { PersistentWorker } from "@playback/persistent-worker";
import { FIGURE_COLUMNS } from "@core/report/columns";
import { formatDb, formatTime } from "@core/audio/format";
import { layoutForChannels, type Layout } from "@core/audio/layout";
import { saveAs } from "@ui/api/save-as";
import type { Context, Colours } from "@ui/canvas/draw";
import { useCanvas } from "@ui/canvas/use-canvas";
import { Button } from "@ui/design-system/button";
import { Panel } from "@ui/design-system/panel";
import { ProgressBar } from "@ui/design-system/progress-bar";
import type { ItemFacts } from "@ui/state/current-item";
import { secondsOfRecording } from "@ui/state/item-time";
import { showRange } from "@ui/state/show-range";
import { soundUrl } from "@ui/state/use-range-figures";
import { askWorker } from "@ui/workers/ask-worker";
import { measureInBrowser } from "@ui/workers/measuring";
import { LinearPartChart } from "./linear-part-chart";

/** Something that the item can be compared with. */
export interface Compared {
  key: string;
  name: string;
  /** Where its sound lies. */
  url: string;
  figures: Figures | null;
  /** Of a master: how the item was repaired and arranged that it was made of. */
  madeOf: Pick<MeasureRequest, "repairs" | "clips"> | null;
}

/** Below this likeness the two are not the same programme, and their difference tells nothing. */
const LIKE = 0.5;
/** A filter that leaves more than this over is none. */
const EXPLAINED_DB = -1;
/** The difference is drawn from here … */
const LOWEST_DB = -100;

/** What is left of a recording when another one is taken away, aligned and at one level. */
export function Difference({ facts, other }: { facts: ItemFacts; other: Compared }) {
  const [progress, setProgress] = useState(0);
  const { source } = facts;
  const channels = source.figures!.channels;
  const { data, error, isFetching } = useQuery({
    queryKey: ["difference", source.pcm_hash, other.url],
    staleTime: Infinity,
    retry: false,
    queryFn: ({ signal }) => {
      setProgress(0);
      const shared = Math.min(channels, other.figures?.channels ?? channels);
      const layout: Layout = shared === channels ? source.layout! : layoutForChannels(shared);
      return measureInBrowser(
        {
          source: { url: soundUrl(source.pcm_hash!) },
          subtract: { url: other.url },
          layout,
          ...(other.madeOf ? { ...other.madeOf, madeOfIt: true } : {}),
        },
        signal,
        setProgress,
      );
    },
  });
  // Of two that have nothing to do with each other a filter explains nothing.
  const isExplained = (data?.linear?.leftOverDb ?? 0) < EXPLAINED_DB;
  return (
    <Panel title="What is left when the other is taken away" aside={isFetching ? "" : "aligned, at one level"}>
      {isFetching && (
        <div className="py-3">
          <ProgressBar fraction={progress} label="Difference" />
          <p className="text-label text-soft">
            {progress === 0
              ? "looking for where the two lie on each other"
              : `measuring · ${Math.round(progress * 100)} %`}
          </p>
        </div>
      )}
      {error && <p className="py-2 text-outside">{error.message}</p>}
      {data && !isFetching && (
        <>
          <AlignmentWords alignment={data.alignment!} sampleRate={facts.sampleRate} isMaster={other.madeOf !== null} />
          <div className={isExplained ? "grid grid-cols-2 gap-3" : ""}>
            <div>
              <DifferenceCurve facts={facts} curves={data.curves} isMaster={other.madeOf !== null} />
            </div>
            {isExplained && <LinearPartChart linear={data.linear!} />}
          </div>
          <SaveDifference facts={facts} other={other} />
          <p className="flex flex-wrap gap-x-5 pt-1" data-testid="difference">
            {(["integratedLufs", "rmsDbfs", "truePeakDbtp"] as const).map((figure) => {
              const { label, unit } = FIGURE_COLUMNS.find(({ id }) => id === figure)!;
              return (
                <span key={figure}>
                  {label} <span className="figure">{formatDb(data.figures[figure])}</span>{" "}
                  <span className="text-label text-soft">{unit}</span>
                </span>
              );
            })}
          </p>
        </>
      )}
    </Panel>
  );
}

/** The difference signal as a file: to be listened to elsewhere, or taken in as a recording. */
function SaveDifference({ facts, other }: { facts: ItemFacts; other: Compared }) {
  const [fraction, setFraction] = useState<number | null>(null);
  const { source, item } = facts;
  const save = async () => {
    setFraction(0);
    const worker = new PersistentWorker(
      () => new Worker(new URL("@playback/difference.worker.ts", import.meta.url), { type: "module" }),
    );
    const request: DifferenceRequest = {
      url: soundUrl(source.pcm_hash!),
      subtract: other.url,
      layout: source.layout!,
      repairs: other.madeOf?.repairs ?? [],
      clips: other.madeOf?.clips ?? null,
      madeOfIt: other.madeOf !== null,
    };
    try {
      const { file } = await askWorker<DifferenceAnswer>(worker, request, {
        onProgress: (progress) => setFraction(progress.fraction),
      });
      saveAs(`${item.name} less ${other.name}.wav`, "audio/wav", file);
    } catch (error) {
      toast.error(`The difference could not be written: ${(error as Error).message}`);
    }
    setFraction(null);
  };
  return (
    <div className="pt-1">
      <Button
        disabled={fraction !== null}
        onClick={() => void save()}
        hint="The difference signal as a WAV file of 32-bit float, aligned and at one level"
      >
        {fraction === null ? "Save the difference" : `Writing … ${Math.round(fraction * 100)} %`}
      </Button>
    </div>
  );
}

/** How alike, and in what: phases that a filter or a crossover turned change a waveform, not what is heard. */
const likenessWords = ({ likeness, by }: Alignment): string =>
  `${formatDb(likeness * 100, { digits: 1 })} % ${by === "waveform" ? "of the waveform" : "of the octaves, whose phases or levels were changed,"} alike`;

interface AlignmentWordsProps {
  alignment: Alignment;
  sampleRate: number;
  isMaster: boolean;
}

function AlignmentWords({ alignment, sampleRate, isMaster }: AlignmentWordsProps) {
  const { shift, inverted, gainDb, likeness } = alignment;
  if (isMaster)
    return (
      <p className="pt-1.5">
        Made of this item, so that it lies on it to the sample; {formatDb(-gainDb, { sign: true, digits: 2 })} dB ·{" "}
        {likenessWords(alignment)}
        {likeness < LIKE ? ": the chain has changed it much" : ""}
      </p>
    );
  const place =
    shift === 0
      ? "begins at the same sample"
      : `lies ${Math.abs(shift)} samples (${formatTime(Math.abs(shift) / sampleRate, 3)}) ${shift > 0 ? "later" : "earlier"}`;
  return (
    <>
      {likeness < LIKE ? (
        <p className="pt-1.5 text-close">
          ◆ No stretch of the two is alike ({Math.round(likeness * 100)} % at best): their difference tells little.
        </p>
      ) : (
        <p className="pt-1.5">
          The other {place}, {formatDb(-gainDb, { sign: true, digits: 2 })} dB, polarity{" "}
          {inverted ? "inverted" : "the same"} · {likenessWords(alignment)}
        </p>
      )}
    </>
  );
}

/** Level of the difference over time, under the level of the recording. */
function DifferenceCurve({ facts, curves, isMaster }: { facts: ItemFacts; curves: Curves; isMaster: boolean }) {
  const draw = useCallback(
    (context: Context, { width, height }: { width: number; height: number }, inks: Colours) => {
      const y = (db: number) => height * Math.min(1, Math.max(0, db / LOWEST_DB));
      context.font = "10px 'Atkinson Hyperlegible Mono Variable'";
      for (const db of [-20, -40, -60, -80]) {
        context.fillStyle = inks.grid;
        context.fillRect(0, Math.round(y(db)), width, 1);
        context.fillStyle = inks.soft;
        context.fillText(`−${-db}`, 2, y(db) - 2);
      }
      const line = ({ values }: { values: Float32Array }, ink: string) => {
        context.strokeStyle = ink;
        context.beginPath();
        for (let x = 0; x < width; x++) {
          const from = Math.floor((x / width) * values.length);
          const to = Math.max(from + 1, Math.floor(((x + 1) / width) * values.length));
          let level = -Infinity;
          for (let i = from; i < to && i < values.length; i++) level = Math.max(level, values[i]!);
          context.lineTo(x, y(level));
        }
        context.stroke();
      };
      // A master lies on the item, another recording on the recording.
      line((isMaster ? facts.curves : facts.overview.recording.curves).rmsDbfs, inks.peak);
      line(curves.rmsDbfs, inks.ink);
    },
    [facts, curves, isMaster],
  );
  const { ref } = useCanvas(draw);
  const { values, hopSeconds } = curves.rmsDbfs;
  return (
    <>
      <canvas
        ref={ref}
        aria-label="Level of the difference over time"
        title="Click to go there"
        className="mt-1 h-[104px] w-full cursor-pointer border border-grid"
        onClick={(event) => {
          const box = event.currentTarget.getBoundingClientRect();
          const seconds = ((event.clientX - box.left) / box.width) * values.length * hopSeconds;
          const at = isMaster ? seconds : secondsOfRecording(facts, Math.round(seconds * facts.sampleRate));
          if (at !== null) showRange(facts, at, 1);
        }}
      />
      <p className="text-label text-soft">
        RMS each 50 ms, dBFS: the difference in ink, {isMaster ? "this item" : "this recording"} grey
      </p>
    </>
  );
}
