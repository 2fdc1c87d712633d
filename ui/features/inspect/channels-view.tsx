"use client";

import { Select } from "@ui/design-system/controls";
import { useCallback, useMemo, useState } from "react";
import type { ChannelFault } from "@core/measure/channel-faults";
import { LEVEL_AWARE_DB } from "@core/measure/correlation";
import { pairCurves, type PairCurve } from "@core/measure/pair-curve";
import { formatDb } from "@core/audio/format";
import type { Speaker } from "@core/audio/layout";
import type { Context, Colours } from "@ui/canvas/draw";
import { correlationColour, needsLightWords } from "@ui/canvas/scales";
import { useCanvas } from "@ui/canvas/use-canvas";
import type { ItemFacts } from "@ui/state/current-item";
import { Panel } from "../../design-system/panel";
import { TimeLink } from "./time-link";
import { showRange } from "../../state/show-range";
import { useMeasuredWithLfe, type MeasuredRange } from "./use-measured";

const OPPOSED = -0.3;
const THRESHOLDS = [6, 12, LEVEL_AWARE_DB, 30, 40];
const SHOWN_PAIRS = 24;

const FAULT_WORDS: Record<ChannelFault["kind"], (fault: ChannelFault) => string> = {
  dead: () => "dead",
  duplicate: ({ other }) => `same as ${other}`,
  inverted: ({ other }) => `inverted against ${other}`,
  quieter: ({ other, belowDb }) => `${formatDb(belowDb)} dB below ${other}`,
  swapped: ({ other }) => (other ? `swapped with ${other}?` : "full range"),
};

/** Every channel with its levels and faults; every pair with its correlation over time, those at risk first. */
export function ChannelsView({ facts, stretch }: { facts: ItemFacts; stretch: MeasuredRange }) {
  const speakers = useMemo(() => facts.source.layout?.speakers ?? [], [facts]);
  return (
    <div className="grid h-full grid-cols-[minmax(400px,1.15fr)_minmax(360px,1fr)] divide-x divide-hair">
      <ChannelTable speakers={speakers} stretch={stretch} />
      {speakers.length > 1 ? (
        <Pairs facts={facts} speakers={speakers} stretch={stretch} />
      ) : (
        <Panel title="Pairs" aside="">
          <p className="py-2 text-soft">One channel has no pairs.</p>
        </Panel>
      )}
    </div>
  );
}

function ChannelTable({ speakers, stretch }: { speakers: Speaker[]; stretch: MeasuredRange }) {
  const { figures, words } = stretch;
  const faultsOf = (label: string) => figures.channelFaults.filter(({ channel }) => channel === label);
  return (
    <Panel title="Channels" aside={`${figures.layout} · ${words}`}>
      <table className="w-full text-right [&_td]:pl-3 [&_th]:pl-3 [&_th:first-child]:pl-0" data-testid="channels">
        <thead className="text-label text-soft">
          <tr className="h-[22px] [&>th]:font-normal [&>th]:whitespace-nowrap">
            <th className="text-left">channel</th>
            <th>true peak</th>
            <th>RMS</th>
            <th title="RMS of the loudest 500 ms">loudest</th>
            <th title="RMS of the quietest 500 ms">quietest</th>
            <th title="What the channel gives to the loudness, against all together">share</th>
            <th>DC</th>
            <th className="w-full text-left">fault</th>
          </tr>
        </thead>
        <tbody className="figure">
          {speakers.map(({ label }, c) => (
            <tr key={label} className="h-[22px] border-t border-grid whitespace-nowrap">
              <th className="text-left font-normal">{label}</th>
              <td>{formatDb(figures.truePeakPerChannelDbtp[c] ?? null)}</td>
              <td>{formatDb(figures.rmsPerChannelDbfs[c] ?? null)}</td>
              <td>{formatDb(figures.loudestRmsPerChannelDbfs[c] ?? null)}</td>
              <td>{formatDb(figures.quietestRmsPerChannelDbfs[c] ?? null)}</td>
              <td>{speakers[c]!.lfe ? "—" : formatDb(figures.loudnessSharePerChannelDb[c] ?? null)}</td>
              <td>{formatDb((figures.dcOffset[c] ?? 0) * 100, { digits: 2 })} %</td>
              <td className="text-left font-sans whitespace-nowrap text-outside">
                {faultsOf(label)
                  .map((fault) => `▲ ${FAULT_WORDS[fault.kind](fault)}`)
                  .join(", ")}
              </td>
            </tr>
          ))}
        </tbody>
      </table>
    </Panel>
  );
}

function Pairs({ facts, speakers, stretch }: { facts: ItemFacts; speakers: Speaker[]; stretch: MeasuredRange }) {
  const [withinDb, setWithinDb] = useState<number>(LEVEL_AWARE_DB);
  const [matrix, setMatrix] = useState(false);
  const [withLfe, setWithLfe] = useState(false);
  const full = useMemo(() => speakers.map((speaker) => ({ ...speaker, lfe: false })), [speakers]);
  const counted = useMeasuredWithLfe(facts, full, withLfe);
  const judged = withLfe && counted ? counted : null;
  const { curves, figures } = judged ?? stretch;
  const shown = judged ? full : speakers;
  const pairs = useMemo(() => {
    const of = (within: number) => pairCurves(curves.channelProducts, shown, figures.sampleRate, within);
    const plain = of(Infinity);
    return of(withinDb)
      .map((curve, i) => ({ ...curve, plain: plain[i]!.correlation }))
      .sort((a, b) => (a.correlation ?? 2) - (b.correlation ?? 2));
  }, [curves, shown, figures.sampleRate, withinDb]);
  const name = ({ pair }: PairCurve) => `${speakers[pair[0]]!.label} – ${speakers[pair[1]]!.label}`;
  const controls = (
    <span className="flex items-center gap-2">
      <Select
        label="When a pair is judged"
        title="A pair is judged only while its weaker channel is this near to the stronger one: what is nearly silent tells nothing"
        value={withinDb}
        options={[...THRESHOLDS, Infinity]}
        words={(db) => (db === Infinity ? "plain" : `within ${db} dB`)}
        onChange={setWithinDb}
        className="h-6 text-act"
      />
      {speakers.some(({ lfe }) => lfe) && (
        <label
          className="flex items-center gap-1"
          title="Pairs of the LFE with the others: measured when it is asked for"
        >
          <input type="checkbox" checked={withLfe} onChange={(event) => setWithLfe(event.target.checked)} />
          {withLfe && !counted ? "LFE …" : "LFE"}
        </label>
      )}
      {speakers.length > 2 && (
        <button type="button" className="text-act hover:underline" onClick={() => setMatrix(!matrix)}>
          {matrix ? "worst first" : "matrix"}
        </button>
      )}
    </span>
  );
  return (
    <Panel title="Pairs at risk" aside={controls}>
      {!matrix && (
        <p className="flex h-[20px] items-center justify-end gap-3 text-label text-soft">
          <span
            className="w-28 text-right"
            title="While the weaker channel is near enough to the stronger one to be judged"
          >
            level-aware
          </span>
          <span className="w-14 text-right" title="Over all that sounds, however quiet">
            plain
          </span>
        </p>
      )}
      {matrix ? (
        <PairMatrix speakers={shown} pairs={pairs} />
      ) : (
        pairs.slice(0, SHOWN_PAIRS).map((curve) => (
          <div key={curve.pair.join()} className="flex h-[24px] items-center gap-3 border-b border-grid">
            <span className="w-20 shrink-0 whitespace-nowrap">
              <TimeLink facts={facts} place={mostOpposed(curve, stretch.offset)}>
                {name(curve)}
              </TimeLink>
            </span>
            <PairStrip
              curve={curve}
              label={`Correlation of ${name(curve)} over time`}
              onPick={(seconds) => showRange(facts, stretch.offset + seconds, curve.hopSeconds)}
            />
            <span
              className={`figure w-28 text-right whitespace-nowrap ${(curve.correlation ?? 0) < OPPOSED ? "text-outside" : ""}`}
              title={`judged in ${Math.round(curve.judged * 100)} % of the time`}
            >
              {curve.correlation === null ? (
                <span className="text-soft">not judged</span>
              ) : (
                <>
                  {formatDb(curve.correlation, { sign: true, digits: 2 })}
                  {curve.correlation < OPPOSED && " opposed ▲"}
                </>
              )}
            </span>
            <span className="figure w-14 text-right text-soft">
              {curve.plain === null ? "—" : formatDb(curve.plain, { sign: true, digits: 2 })}
            </span>
          </div>
        ))
      )}
      {!matrix && pairs.length > SHOWN_PAIRS && (
        <p className="pt-1 text-label text-soft">{pairs.length - SHOWN_PAIRS} more in the matrix, all above these</p>
      )}
    </Panel>
  );
}

/** Where a pair opposes most; `null` where it was not judged. */
function mostOpposed({ values, hopSeconds }: PairCurve, offset: number) {
  let lowest = -1;
  values.forEach((correlation, i) => {
    if (!Number.isNaN(correlation) && (lowest < 0 || correlation < values[lowest]!)) lowest = i;
  });
  return lowest < 0 ? null : { seconds: offset + lowest * hopSeconds, length: hopSeconds };
}

function PairStrip({ curve, label, onPick }: { curve: PairCurve; label: string; onPick: (seconds: number) => void }) {
  const { values, hopSeconds } = curve;
  const draw = useCallback(
    (context: Context, { width, height }: { width: number; height: number }, { grid }: Colours) => {
      for (let x = 0; x < width; x++) {
        const from = Math.floor((x / width) * values.length);
        const to = Math.max(from + 1, Math.floor(((x + 1) / width) * values.length));
        // The most opposed of what falls into a column: that is what is looked for.
        let lowest = Infinity;
        for (let i = from; i < to && i < values.length; i++) if (values[i]! < lowest) lowest = values[i]!;
        context.fillStyle = lowest === Infinity ? grid : correlationColour(lowest);
        const rest = lowest === Infinity ? height / 2 - 1 : 0;
        context.fillRect(x, rest, 1, height - 2 * rest);
      }
    },
    [values],
  );
  const { ref } = useCanvas(draw);
  return (
    <canvas
      ref={ref}
      aria-label={label}
      title="Click to go there"
      className="h-4 min-w-0 flex-1 cursor-pointer"
      onClick={(event) => {
        const box = event.currentTarget.getBoundingClientRect();
        onPick(Math.floor(((event.clientX - box.left) / box.width) * values.length) * hopSeconds);
      }}
    />
  );
}

function PairMatrix({ speakers, pairs }: { speakers: Speaker[]; pairs: PairCurve[] }) {
  const used = speakers.flatMap((speaker, index) => (speaker.lfe ? [] : [index]));
  const of = (a: number, b: number) =>
    pairs.find(({ pair }) => (pair[0] === a && pair[1] === b) || (pair[0] === b && pair[1] === a))?.correlation ?? null;
  return (
    <table className="figure text-label">
      <thead>
        <tr>
          <td />
          {used.map((c) => (
            <th key={c} className="px-0.5 font-normal text-soft">
              {speakers[c]!.label}
            </th>
          ))}
        </tr>
      </thead>
      <tbody>
        {used.map((a) => (
          <tr key={a}>
            <th className="pr-1 text-right font-normal text-soft">{speakers[a]!.label}</th>
            {used.map((b) => {
              const correlation = a === b ? 1 : of(a, b);
              return (
                <td
                  key={b}
                  className="h-[18px] min-w-7 text-center"
                  style={
                    correlation === null || a === b
                      ? {}
                      : {
                          background: correlationColour(correlation),
                          color: needsLightWords(correlation) ? "#fff" : "#23262b",
                        }
                  }
                >
                  {a === b ? "" : correlation === null ? "·" : formatDb(correlation, { digits: 1 }).replace("0.", ".")}
                </td>
              );
            })}
          </tr>
        ))}
      </tbody>
    </table>
  );
}
