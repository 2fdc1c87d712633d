"use client";

import { useQueryClient } from "@tanstack/react-query";
import Papa from "papaparse";
import { useRef, useState, type PointerEvent } from "react";
import { toast } from "sonner";
import { matchCurve, type ToneMatchSettings } from "@core/processors/tone-match";
import type { Breakpoint } from "@core/parameters/parameter";
import { envelopeAt } from "@core/parameters/breakpoints";
import { joinedBands } from "@core/measure/spectrum";
import type { TimeSeries } from "@core/measure/measurement";
import type { ChainEntry } from "@core/processors";
import { isActive } from "@core/repair";
import type { Source } from "@core/project/views";
import { SPECTRUM_ROWS, spectrumRow } from "@core/report/drawings";
import { RecordingOverview } from "@ui/state/recording-overview";
import { blobUrl } from "@ui/api/api";
import { Button } from "@ui/design-system/button";
import { saveAs } from "@ui/api/save-as";
import { useCurrentItem, type ItemFacts } from "@ui/state/current-item";
import { MAX_RANGE_SECONDS, soundUrl } from "@ui/state/use-range-figures";
import { measureInBrowser } from "@ui/workers/measuring";
import type { EntryEditing } from "./use-entry";
import { curvePath, FrequencyPlot, type PlotScale } from "./frequency-plot";

/** Points of a spectrum, [Hz, dBFS], in 1/24 octaves; not where nothing was measured. */
const pointsOf = (spectra: TimeSeries): Breakpoint[] =>
  joinedBands(spectrumRow(spectra, SPECTRUM_ROWS.average), 1)
    .filter(({ dbfs }) => Number.isFinite(dbfs))
    .map(({ hertz, dbfs }): Breakpoint => [Number(hertz.toFixed(2)), Number(dbfs.toFixed(2))]);

/** Mean of several spectra in dB, each first brought to the same mean level. */
function meanOf(spectra: readonly Breakpoint[][]): Breakpoint[] {
  const [first] = spectra;
  if (!first) return [];
  const levelled = spectra.map((points) => {
    const mean = points.reduce((sum, [, db]) => sum + db, 0) / points.length;
    return points.map(([hertz, db]): Breakpoint => [Math.log2(hertz), db - mean]);
  });
  return first.map(([hertz]): Breakpoint => {
    const sum = levelled.reduce((total, points) => total + envelopeAt(points, Math.log2(hertz)), 0);
    return [hertz, Number((sum / spectra.length).toFixed(2))];
  });
}

/** What comes into a processor: the item after those that stand before it, as much of it as tells its tone. */
async function spectrumBefore(entry: ChainEntry, facts: ItemFacts, chain: readonly ChainEntry[]): Promise<TimeSeries> {
  const at = chain.findIndex(({ id }) => id === entry.id);
  const before = chain.slice(0, Math.max(0, at)).filter(({ bypass }) => !bypass);
  const { source, item, editList, sampleRate } = facts;
  if (before.length === 0 || !source.pcm_hash) return facts.curves.spectraDbfs;
  const { curves } = await measureInBrowser(
    {
      source: { url: soundUrl(source.pcm_hash) },
      layout: source.layout,
      range: { start: 0, end: Math.min(editList.frames, MAX_RANGE_SECONDS * sampleRate) },
      repairs: item.repairs.filter(isActive),
      clips: item.clips ?? null,
      chain: before,
    },
    new AbortController().signal,
  );
  return curves.spectraDbfs;
}

/** A drawn change has a point in each third of an octave. */
const DRAWN_PER_OCTAVE = 3;

/** Spectra of the item and its references, the curve that follows, and what is drawn over it. */
export function ToneMatchEditor({ inHand }: { inHand: EntryEditing }) {
  const settings = inHand.settings as unknown as ToneMatchSettings;
  const curve = matchCurve(settings);
  const { facts, chain, view, source } = useCurrentItem();
  const client = useQueryClient();
  const chosen = useRef(new Set<string>());
  const drawing = useRef<Map<number, number> | null>(null);
  const others = view.sources.filter(({ hash, overview_hash }) => overview_hash && hash !== source?.hash);
  const nameOf = (hash: string) => view.document.sources.find((one) => one.hash === hash)?.name ?? hash.slice(0, 8);

  const spectrumOf = (other: Source) =>
    client.fetchQuery({
      queryKey: ["tone", other.overview_hash],
      staleTime: Infinity,
      queryFn: async () => {
        const data = await RecordingOverview.open(blobUrl(other.overview_hash!), blobUrl(other.pcm_hash!), () => {});
        return pointsOf(data.curves.spectraDbfs);
      },
    });
  const [learning, setLearning] = useState(false);
  const learn = async () => {
    const references = others.filter(({ hash }) => chosen.current.has(hash));
    if (!facts || references.length === 0) {
      toast("Choose one or more references first.");
      return;
    }
    setLearning(true);
    const [own, ...spectra] = await Promise.all([
      spectrumBefore(inHand.entry, facts, chain).then(pointsOf),
      ...references.map(spectrumOf),
    ]).finally(() => setLearning(false));
    if (own.length === 0 || spectra.some((points) => points.length === 0)) {
      const short =
        own.length === 0 ? "The item" : nameOf(references[spectra.findIndex((points) => points.length === 0)]!.hash);
      toast.error(`${short} has no average spectrum`, {
        description: "It is too short or silent; nothing was learned.",
      });
      return;
    }
    const wanted = meanOf(spectra);
    await inHand.commitAll({ own, wanted }, `learned from ${references.map(({ hash }) => nameOf(hash)).join(", ")}`);
  };
  /** A level drawn at a place, kept in thirds of an octave: what the curve lacks there. */
  const draw = (event: PointerEvent, scale: PlotScale) => {
    const drawn = drawing.current;
    if (!drawn) return;
    const box = event.currentTarget.getBoundingClientRect();
    const octave = Math.round(Math.log2(scale.hertz(event.clientX - box.left)) * DRAWN_PER_OCTAVE) / DRAWN_PER_OCTAVE;
    const hertz = Number((2 ** octave).toFixed(2));
    const own = envelopeAt(
      matchCurve({ ...settings, edits: [] }).map(([at, db]) => [Math.log2(at), db]),
      octave,
    );
    drawn.set(hertz, Number(Math.max(-24, Math.min(24, scale.db(event.clientY - box.top) - own)).toFixed(1)));
    inHand.setPending("edits", edited(settings.edits, drawn));
  };
  const drop = () => {
    if (drawing.current?.size) void inHand.commit("edits", edited(settings.edits, drawing.current));
    drawing.current = null;
  };
  const importCurve = async (file: File) => {
    const points = pointsOfCsv(await file.text());
    if (!points) {
      toast.error("This is no curve", {
        description: "A CSV file with two columns is expected: frequency in Hz, rising, and level in dB.",
      });
      return;
    }
    await inHand.commit("edits", points);
  };
  const exportCurve = () =>
    saveAs(
      "tone-curve.csv",
      "text/csv",
      Papa.unparse({ fields: ["hertz", "db"], data: curve.map(([hertz, db]) => [hertz.toFixed(2), db.toFixed(2)]) }),
    );
  const learned = settings.own.length > 1 && settings.wanted.length > 1;
  return (
    <div className="grid h-full min-h-0 grid-cols-[minmax(0,1fr)_210px]">
      <div className="flex min-h-0 flex-col border-r border-hair">
        <p className="px-2 pt-1 text-label text-soft">
          item: grey ground · reference: dashed ink · what is applied: blue · draw over it to change it
        </p>
        <div className="min-h-0 flex-1 cursor-crosshair">
          <FrequencyPlot
            label="Curve of the tone match"
            rangeDb={15}
            onPointerDown={(event, scale) => {
              event.currentTarget.setPointerCapture(event.pointerId);
              drawing.current = new Map();
              draw(event, scale);
            }}
            onPointerMove={draw}
            onPointerUp={drop}
          >
            {(scale) => (
              <>
                <Spectra scale={scale} settings={settings} />
                <path d={curvePath(scale, curve)} fill="none" stroke="var(--act)" strokeWidth={2} />
              </>
            )}
          </FrequencyPlot>
        </div>
      </div>
      <div className="flex flex-col gap-1.5 overflow-y-auto px-3 py-2 text-label">
        <h3 className="font-semibold">References</h3>
        {others.length === 0 && <p className="text-soft">Bring in a recording that sounds as this one should.</p>}
        {others.map(({ hash }) => (
          <label key={hash} className="flex items-center gap-1.5">
            <input
              type="checkbox"
              className="accent-act"
              defaultChecked={chosen.current.has(hash)}
              onChange={(event) => (event.target.checked ? chosen.current.add(hash) : chosen.current.delete(hash))}
            />
            <span className="truncate">{nameOf(hash)}</span>
          </label>
        ))}
        <Button
          disabled={learning}
          onClick={() =>
            void learn().catch((error: unknown) =>
              toast.error("A reference could not be read; nothing was learned", {
                description: error instanceof Error ? error.message : String(error),
              }),
            )
          }
          hint="Takes the average spectra as they are now; later changes leave them alone"
        >
          {learning ? "Learning …" : learned ? "Learn again" : "Learn"}
        </Button>
        <p className="text-soft">
          {learned ? "Learned, and kept as it is." : "Until it is learned, only what is drawn is applied."}
        </p>
        <Button disabled={settings.edits.length === 0} onClick={() => void inHand.commit("edits", [])}>
          Forget what was drawn
        </Button>
        <div className="flex gap-1">
          <Button onClick={exportCurve} hint="Frequency and level, as CSV">
            CSV out
          </Button>
          <label className="inline-flex h-7 cursor-pointer items-center rounded-[4px] border border-hair px-2.5 hover:border-act">
            CSV in
            <input
              type="file"
              accept=".csv,text/csv"
              className="sr-only"
              onChange={(event) => {
                const file = event.target.files?.[0];
                if (file) void importCurve(file);
                event.target.value = "";
              }}
            />
          </label>
        </div>
      </div>
    </div>
  );
}

/** Points of before with those drawn now, those nearest to them replaced. */
function edited(points: readonly Breakpoint[], drawn: ReadonlyMap<number, number>): Breakpoint[] {
  const half = 2 ** (0.5 / DRAWN_PER_OCTAVE);
  const kept = points.filter(([hertz]) => ![...drawn.keys()].some((at) => hertz < at * half && hertz > at / half));
  // Where nothing was drawn before, the change ends a third to either side.
  const ends = [...drawn.keys()].flatMap((at) => [at * half * half, at / half / half]);
  const free = ends.filter(
    (at) => ![...kept.map(([hertz]) => hertz), ...drawn.keys()].some((hertz) => Math.abs(Math.log2(hertz / at)) < 0.2),
  );
  const zeros = free
    .filter((at) => at >= 10 && at < 24_000 && kept.length === 0)
    .map((at): Breakpoint => [Number(at.toFixed(2)), 0]);
  const all = [...kept, ...drawn, ...zeros].sort(([a], [b]) => a - b);
  return all.filter(([hertz], i) => i === 0 || hertz > all[i - 1]![0]);
}

/** Two columns of a CSV file: rising frequencies and levels. `null` when it holds none. */
function pointsOfCsv(text: string): Breakpoint[] | null {
  const rows = Papa.parse<string[]>(text.trim(), { skipEmptyLines: true }).data;
  const points = rows
    .map(([hertz, db]): Breakpoint => [Number(hertz), Number(db)])
    .filter(([hertz, db]) => Number.isFinite(hertz) && Number.isFinite(db) && hertz >= 10 && Math.abs(db) <= 24)
    .sort(([a], [b]) => a - b);
  const rising = points.filter(([hertz], i) => i === 0 || hertz > points[i - 1]![0]);
  return rising.length > 1 ? rising.slice(0, 512) : null;
}

/** Both learned spectra, brought to the same mean. */
function Spectra({ scale, settings: { own, wanted } }: { scale: PlotScale; settings: ToneMatchSettings }) {
  const drawn = (points: readonly Breakpoint[]) => {
    const mean = points.reduce((sum, [, db]) => sum + db, 0) / Math.max(1, points.length);
    // A quarter of the ruler's scale: spectra fall by much more than curves reach.
    return curvePath(
      scale,
      points.map(([hertz, db]) => [hertz, (db - mean) / 4] as const),
    );
  };
  return (
    <>
      {own.length > 1 && (
        <path
          d={`${drawn(own)}L${scale.x(own.at(-1)![0])} ${scale.height}L${scale.x(own[0]![0])} ${scale.height}Z`}
          fill="var(--grid)"
        />
      )}
      {wanted.length > 1 && <path d={drawn(wanted)} fill="none" stroke="var(--ink)" strokeDasharray="4 3" />}
    </>
  );
}
