"use client";

import { useQuery } from "@tanstack/react-query";
import { useCallback, useMemo, useState } from "react";
import type { Alignment } from "@core/compare/alignment";
import type { Curves, Figures } from "@core/measure";
import type { MeasureRequest } from "@playback/measure.worker";
import { FIGURE_COLUMNS } from "@core/report/columns";
import { CORE_VERSION } from "@core/audio/core-version";
import { formatDb, formatTime } from "@core/audio/format";
import { layoutForChannels, type Layout } from "@core/audio/layout";
import type { Context, Colours } from "@ui/canvas/draw";
import { useCanvas } from "@ui/canvas/use-canvas";
import { blobUrl } from "@ui/api/api";
import { measureInBrowser } from "@ui/workers/measuring";
import { ProgressBar } from "@ui/design-system/progress-bar";
import { useCurrentItem, type ItemFacts } from "@ui/state/current-item";
import { soundUrl } from "@ui/state/use-range-figures";
import { LinearPartChart } from "./linear-part-chart";
import { Panel } from "../../design-system/panel";
import { secondsOfRecording } from "@ui/state/item-time";
import { showRange } from "../../state/show-range";

/** Something that the item can be compared with. */
interface Other {
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

/** The recording beside another one, or beside a master of it: figures, and the difference signal measured. */
export function CompareView({ facts }: { facts: ItemFacts }) {
  const { view, source } = useCurrentItem();
  const others = useMemo<Other[]>(() => {
    const nameOf = (hash: string) => view.document.sources.find((one) => one.hash === hash)?.name ?? hash.slice(0, 8);
    const recordings = view.sources
      .filter(({ hash, pcm_hash }) => hash !== source?.hash && pcm_hash !== null)
      .map(({ hash, pcm_hash, figures }) => ({
        key: hash,
        name: nameOf(hash),
        url: soundUrl(pcm_hash!),
        figures,
        madeOf: null,
      }));
    const masters = view.masters
      .filter(
        ({ item_id, file_hash, state, inputs }) =>
          item_id === facts.item.id && file_hash !== null && state === "done" && inputs.coreVersion === CORE_VERSION,
      )
      .map(({ id, file_hash, result, inputs }) => ({
        key: id,
        name: `its master for ${inputs.recipe.spec?.name ?? "no specification"}`,
        url: new URL(blobUrl(file_hash!), location.href).href,
        figures: result?.figures ?? null,
        // A file of a programme begins elsewhere.
        madeOf: inputs.programme ? null : { repairs: inputs.recipe.repairs, clips: inputs.clips },
      }));
    return [...masters, ...recordings];
  }, [view, source, facts.item.id]);
  // Masters that come in meanwhile do not take the place of what is being compared.
  const [chosen, setChosen] = useState<string | null>(others[0]?.key ?? null);
  const other = others.find(({ key }) => key === chosen) ?? others[0] ?? null;
  if (!other)
    return (
      <p className="p-4 text-soft">
        There is nothing to compare with yet: another recording of the project, or a master of this item, can be laid
        beside it.
      </p>
    );
  return (
    <div className="grid h-full grid-cols-[minmax(340px,1fr)_minmax(420px,1.5fr)] divide-x divide-hair">
      <Panel
        title="Side by side"
        aside={
          <select
            aria-label="Compare with"
            value={other.key}
            onChange={(event) => setChosen(event.target.value)}
            className="h-6 max-w-52 rounded-[4px] border border-hair bg-sheet text-act"
          >
            {others.map(({ key, name }) => (
              <option key={key} value={key}>
                {name}
              </option>
            ))}
          </select>
        }
      >
        <SideBySide first={facts.source.figures!} second={other.figures} />
      </Panel>
      <Difference facts={facts} other={other} />
    </div>
  );
}

function SideBySide({ first, second }: { first: Figures; second: Figures | null }) {
  return (
    <table className="w-full text-right" data-testid="side-by-side">
      <thead className="text-label text-soft">
        <tr className="h-[20px] [&>th]:font-normal">
          <th />
          <th>this</th>
          <th>the other</th>
          <th title="The other less this">differs by</th>
        </tr>
      </thead>
      <tbody className="figure">
        {FIGURE_COLUMNS.map(({ id, label, unit, digits, value }) => {
          const [a, b] = [value(first), second && value(second)];
          return (
            <tr key={id} className="h-[21px] border-t border-grid">
              <th className="text-left font-sans font-normal">
                {label} <span className="text-label text-soft">{unit}</span>
              </th>
              <td>{a === null ? "—" : formatDb(a, { digits })}</td>
              <td>{b === null ? "—" : formatDb(b, { digits })}</td>
              <td>{a === null || b === null ? "" : formatDb(b - a, { digits, sign: true })}</td>
            </tr>
          );
        })}
      </tbody>
    </table>
  );
}

function Difference({ facts, other }: { facts: ItemFacts; other: Other }) {
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
        {formatDb(likeness * 100, { digits: 1 })} % of the waveform is alike
        {likeness < LIKE ? ": the chain has turned its phases or changed it much" : ""}
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
          {inverted ? "inverted" : "the same"} · {formatDb(likeness * 100, { digits: 1 })} % alike
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
