"use client";

import { useQueries } from "@tanstack/react-query";
import { useMemo, useState } from "react";
import { speakerGroups, type Layout, type SpeakerGroup } from "@core/audio/layout";
import { Select, Setting } from "@ui/design-system/controls";
import { CartesianGrid, Line, LineChart, ResponsiveContainer, Tooltip, XAxis, YAxis } from "recharts";
import type { TimeSeries } from "@core/measure/measurement";
import { joinedBands } from "@core/measure/spectrum";
import { SPECTRUM_ROWS, spectrumRow } from "@core/report/drawings";
import { formatDb } from "@core/audio/format";
import { RecordingOverview } from "@ui/state/recording-overview";
import { blobUrl } from "@ui/api/api";
import { useCurrentItem, type ItemFacts } from "@ui/state/current-item";
import { CHART_TEXT, TOOLTIP } from "./chart-style";
import { FREQUENCY_AXIS, hertzWords } from "./frequency-axis";
import { Panel } from "../../design-system/panel";
import { useMeasuredChannels, type MeasuredRange } from "./use-measured";

const RESOLUTIONS = [
  { join: 8, words: "1/3" },
  { join: 4, words: "1/6" },
  { join: 2, words: "1/12" },
  { join: 1, words: "1/24" },
] as const;
type Join = (typeof RESOLUTIONS)[number]["join"];

/** References are told apart by their dashes: they are all paper under the item's ink. */
const DASHES = ["6 3", "2 3", "8 3 2 3"];

const levels = (spectra: TimeSeries, row: number, join: Join) => joinedBands(spectrumRow(spectra, row), join);

const ALL = "all channels";

/** What a spectrum can be of besides all channels: groups of speakers, and each channel. */
const partsOf = (layout: Layout | null): SpeakerGroup[] =>
  layout === null || layout.speakers.length < 2
    ? []
    : [
        ...speakerGroups(layout),
        ...layout.speakers.map(({ label }, channel): SpeakerGroup => ({ name: label, channels: [channel] })),
      ];

/** Long-term spectrum, average over peak, with references laid under it. */
export function SpectrumView({ facts, stretch: whole }: { facts: ItemFacts; stretch: MeasuredRange }) {
  const { view, source } = useCurrentItem();
  const [join, setJoin] = useState<Join>(4);
  const parts = useMemo(() => partsOf(facts.source.layout), [facts.source.layout]);
  const [partName, setPart] = useState(ALL);
  const part = parts.find(({ name }) => name === partName) ?? null;
  const ofPart = useMeasuredChannels(facts, part?.channels ?? null);
  const stretch = part && ofPart ? ofPart : whole;
  const [floorShown, setFloorShown] = useState(false);
  const [aligned, setAligned] = useState(true);
  const [references, setReferences] = useState<string[]>([]);
  const others = view.sources.filter(({ hash, overview_hash }) => hash !== source?.hash && overview_hash !== null);
  const opened = useQueries({
    queries: references.map((hash) => {
      const other = others.find((one) => one.hash === hash);
      return {
        queryKey: ["spectrum", other?.overview_hash],
        enabled: Boolean(other),
        staleTime: Infinity,
        queryFn: async () => {
          const data = await RecordingOverview.open(
            blobUrl(other!.overview_hash!),
            blobUrl(other!.pcm_hash!),
            () => {},
          );
          return { hash, spectra: data.curves.spectraDbfs, integrated: other!.figures?.integratedLufs ?? null };
        },
      };
    }),
  });
  const { figures, curves, words } = stretch;
  const { spectraDbfs } = curves;
  const rows = useMemo(() => {
    if (spectraDbfs.values.length === 0) return [];
    const average = levels(spectraDbfs, SPECTRUM_ROWS.average, join);
    const peak = levels(spectraDbfs, SPECTRUM_ROWS.peak, join);
    const floor = levels(spectraDbfs, SPECTRUM_ROWS.floor, join);
    const under = opened.flatMap(({ data }) => {
      if (!data || data.spectra.values.length === 0) return [];
      const shift = aligned ? (figures.integratedLufs ?? 0) - (data.integrated ?? figures.integratedLufs ?? 0) : 0;
      return [{ hash: data.hash, shift, bands: levels(data.spectra, SPECTRUM_ROWS.average, join) }];
    });
    const shown = (dbfs: number) => (Number.isFinite(dbfs) ? Math.round(dbfs * 10) / 10 : null);
    return average.map(({ hertz, dbfs }, i) => ({
      hertz,
      average: shown(dbfs),
      peak: shown(peak[i]!.dbfs),
      floor: shown(floor[i]!.dbfs),
      ...Object.fromEntries(under.map(({ hash, shift, bands }) => [hash, shown(bands[i]!.dbfs + shift)])),
    }));
  }, [spectraDbfs, join, opened, aligned, figures.integratedLufs]);
  const nameOf = (hash: string) => view.document.sources.find((one) => one.hash === hash)?.name ?? hash.slice(0, 8);
  return (
    <div className="grid h-full grid-cols-[minmax(500px,3fr)_minmax(236px,1fr)] divide-x divide-hair">
      <Panel
        title="Long-term spectrum"
        aside={`${words}${part && ofPart ? `, ${part.name}` : ""} · tilt ${formatDb(figures.spectralTiltDbPerOctave, { sign: true })} dB per octave`}
      >
        {rows.length === 0 ? (
          <p className="py-3 text-soft">There is no spectrum of less than 0.2 s.</p>
        ) : (
          <div className="h-[210px] pt-1" data-testid="spectrum">
            <ResponsiveContainer width="100%" height="100%">
              <LineChart data={rows} margin={{ top: 4, right: 8, bottom: 0, left: -12 }}>
                <CartesianGrid stroke="var(--grid)" />
                <XAxis {...FREQUENCY_AXIS} />
                <YAxis
                  tick={CHART_TEXT}
                  stroke="var(--hair)"
                  width={50}
                  domain={[
                    (low: number) => Math.max(-120, Math.floor(low / 20) * 20),
                    (high: number) => Math.ceil(high / 20) * 20,
                  ]}
                  tickFormatter={(level: number) => formatDb(level, { digits: 0 })}
                  allowDataOverflow
                />
                <Tooltip
                  {...TOOLTIP}
                  cursor={{ stroke: "var(--act)" }}
                  labelFormatter={(hertz) => `${hertzWords(Number(hertz))} Hz`}
                  formatter={(level, name) => [`${formatDb(Number(level))} dBFS`, name]}
                />
                <Line
                  dataKey="peak"
                  name="peak"
                  stroke="var(--peak)"
                  dot={false}
                  strokeWidth={1}
                  isAnimationActive={false}
                />
                {floorShown && (
                  <Line
                    dataKey="floor"
                    name="floor"
                    stroke="var(--soft)"
                    strokeDasharray="1 2"
                    dot={false}
                    isAnimationActive={false}
                  />
                )}
                {references.map((hash, i) => (
                  <Line
                    key={hash}
                    dataKey={hash}
                    name={nameOf(hash)}
                    stroke="var(--act)"
                    strokeDasharray={DASHES[i % DASHES.length]!}
                    dot={false}
                    strokeWidth={1.2}
                    isAnimationActive={false}
                  />
                ))}
                <Line
                  dataKey="average"
                  name="average"
                  stroke="var(--ink)"
                  dot={false}
                  strokeWidth={1.6}
                  isAnimationActive={false}
                />
              </LineChart>
            </ResponsiveContainer>
          </div>
        )}
      </Panel>
      <Panel title="Drawn" aside="">
        <fieldset className="flex items-center gap-1 py-1.5">
          <legend className="sr-only">Width of the bands</legend>
          {RESOLUTIONS.map(({ join: one, words: name }) => (
            <button
              key={one}
              type="button"
              aria-pressed={join === one}
              onClick={() => setJoin(one)}
              className={`figure h-6 rounded-[4px] border px-1.5 ${join === one ? "border-act bg-act-ground text-act" : "border-hair hover:border-act"}`}
            >
              {name}
            </button>
          ))}
          <span className="text-label text-soft">oct</span>
        </fieldset>
        {parts.length > 0 && (
          <Setting label="of">
            <Select
              label="Channels that the spectrum is of"
              value={part?.name ?? ALL}
              options={[ALL, ...parts.map(({ name }) => name)]}
              onChange={setPart}
            />
          </Setting>
        )}
        <p className="text-label text-soft">
          average in ink, peak grey
          {part ? (ofPart ? `, of ${part.name}` : `; ${part.name} is being measured …`) : ", of all channels"}
        </p>
        <label
          className="flex h-6 items-center gap-2"
          title="The quietest second of each band by itself: hum and noise"
        >
          <input type="checkbox" checked={floorShown} onChange={(event) => setFloorShown(event.target.checked)} />
          noise floor
        </label>
        <h3 className="pt-2 text-label text-soft">References, laid under it</h3>
        {others.length === 0 && <p className="text-soft">Every other recording of the project can be one.</p>}
        {others.map(({ hash }) => (
          <label key={hash} className="flex h-6 items-center gap-2">
            <input
              type="checkbox"
              checked={references.includes(hash)}
              onChange={(event) =>
                setReferences((list) => (event.target.checked ? [...list, hash] : list.filter((one) => one !== hash)))
              }
            />
            <span className="truncate" title={nameOf(hash)}>
              {nameOf(hash)}
            </span>
          </label>
        ))}
        {others.length > 0 && (
          <label
            className="flex h-6 items-center gap-2"
            title="Raises or lowers each reference by the difference in integrated loudness"
          >
            <input type="checkbox" checked={aligned} onChange={(event) => setAligned(event.target.checked)} />
            at the loudness of this
          </label>
        )}
      </Panel>
    </div>
  );
}
