"use client";

import { useMemo } from "react";
import type { Figures } from "@core/measure";
import { formatDb, formatTime } from "@core/signal/format";
import { LIMITED_FIGURES, type LimitedFigure } from "@core/spec/spec";
import { judge, marginWords } from "@core/spec/verdict";
import { Figure } from "@ui/shared/figure";
import { MarginGauge } from "@ui/shared/margin-gauge";
import { standingColour } from "@ui/shared/standing-mark";
import { useInHand, type ItemFacts } from "@ui/workspace/in-hand";
import { useStretchFigures } from "@ui/workspace/use-stretch-figures";
import { useSettledSelection } from "@ui/workspace/use-settled-selection";
import { Channels } from "./channels";
import { highestPeaks } from "./highest-peaks";
import { Panel } from "./panel";
import { showPlace } from "./show-place";

const SHOWN: LimitedFigure[] = [
  "integratedLufs",
  "shortTermMaxLufs",
  "momentaryMaxLufs",
  "loudnessRangeLu",
  "truePeakDbtp",
  "samplePeakDbfs",
  "rmsDbfs",
  "noiseFloorDbfs",
];

/** What was measured of the item as it came, against the deliverable in force; each figure leads to its place. */
export function InspectStage() {
  const { facts } = useInHand();
  if (!facts) return <p className="p-4 text-soft">Once a recording is read, its figures stand here.</p>;
  return (
    <div className="grid h-full grid-cols-[minmax(390px,1.35fr)_minmax(200px,0.8fr)_minmax(220px,1fr)] divide-x divide-hair">
      <Measured facts={facts} />
      <Peaks facts={facts} />
      <Channels facts={facts} />
    </div>
  );
}

/** Where a figure was read, in seconds of the item; `offset` is where the measured stretch begins in it. */
function placeOf(figures: Figures, offset: number, figure: LimitedFigure): { seconds: number; length: number } | null {
  const at = (seconds: number | null, length: number, back = length) =>
    seconds === null ? null : { seconds: offset + seconds - back, length };
  switch (figure) {
    case "shortTermMaxLufs":
      return at(figures.shortTermMaxSeconds, 3);
    case "momentaryMaxLufs":
      return at(figures.momentaryMaxSeconds, 0.4);
    case "truePeakDbtp":
      return at(figures.truePeakSeconds, 0.02, 0.01);
    case "noiseFloorDbfs":
      return at(figures.noiseFloorSeconds, 0.5, 0);
    default:
      return null;
  }
}

function Measured({ facts }: { facts: ItemFacts }) {
  const { spec, source } = useInHand();
  const selection = useSettledSelection();
  const range = useMemo(
    () =>
      selection && {
        start: facts.range.start + Math.round(selection.start * facts.sampleRate),
        end: Math.min(facts.range.end, facts.range.start + Math.round(selection.end * facts.sampleRate)),
      },
    [selection, facts.range, facts.sampleRate],
  );
  const ofSelection = useStretchFigures(source, range);
  const figures = (selection && ofSelection?.figures) || facts.figures;
  const offset = selection && ofSelection ? selection.start : 0;
  const words = selection
    ? ofSelection
      ? `selection, ${(selection.end - selection.start).toFixed(2)} s, as it came`
      : "measuring the selection …"
    : facts.estimated
      ? "whole item, being measured"
      : "whole item, as it came";
  return (
    <Panel title={spec ? `Measured, against ${spec.name}` : "Measured"} aside={words}>
      <table className="w-full">
        <tbody>
          {SHOWN.map((figure) => {
            const { label, unit } = LIMITED_FIGURES[figure];
            const limit = spec?.limits.find((one) => one.figure === figure);
            const level = figures[figure];
            const place = placeOf(figures, offset, figure);
            return (
              <tr key={figure} className="h-[24px] border-b border-grid" title={limit ? limit.clause : undefined}>
                <th scope="row" className="text-left font-normal whitespace-nowrap">
                  {place ? (
                    <button
                      type="button"
                      onClick={() => showPlace(facts, place.seconds, place.length)}
                      title={`Show where: ${formatTime(place.seconds, 2)}`}
                      className="text-act hover:underline"
                    >
                      {label}
                    </button>
                  ) : (
                    label
                  )}
                </th>
                <td className="pr-3 text-right">
                  <Figure level={level} unit={unit} />
                </td>
                <td className="w-[92px]">
                  <MarginGauge figure={figure} limit={limit} value={level} width={84} />
                </td>
                <td
                  className={`pl-2 text-label whitespace-nowrap ${limit ? standingColour(judge(limit, level).standing) : "text-soft"}`}
                >
                  {limit ? marginWords(limit, level) : "not limited"}
                </td>
              </tr>
            );
          })}
          <tr className="h-[24px] border-b border-grid">
            <th scope="row" className="text-left font-normal">
              Peak to loudness
            </th>
            <td className="pr-3 text-right">
              <Figure level={figures.plrLu} unit="LU" />
            </td>
            <td />
            <td className="pl-2 text-label text-soft">not limited</td>
          </tr>
        </tbody>
      </table>
      <p className="truncate pt-1 text-label text-soft" title={figures.truePeakFilter}>
        BS.1770-5 · EBU Tech 3341, 3342 · true peak by 16 × 256 taps
        {figures.nonFiniteSamples > 0 && ` · ${figures.nonFiniteSamples} samples that are no numbers`}
      </p>
    </Panel>
  );
}

function Peaks({ facts }: { facts: ItemFacts }) {
  const peaks = useMemo(() => highestPeaks(facts.curves.samplePeakDbfs), [facts]);
  const intersample = Math.max(0, (facts.figures.truePeakDbtp ?? 0) - (facts.figures.samplePeakDbfs ?? 0));
  return (
    <Panel title="What sets the peak" aside="gain without it">
      {peaks.length === 0 && <p className="py-2 text-soft">Silence has no peaks.</p>}
      <ol>
        {peaks.map(({ seconds, peakDb, gainWithoutDb }, index) => (
          <li key={seconds} className="flex h-[24px] items-center gap-2 border-b border-grid">
            <span className="figure text-label text-soft">{index + 1}</span>
            <button
              type="button"
              onClick={() => showPlace(facts, seconds - 0.05, 0.1)}
              className="figure text-act hover:underline"
              title="Show where"
            >
              {formatTime(seconds, 1)}
            </button>
            <Figure level={peakDb + (index === 0 ? intersample : 0)} unit={index === 0 ? "dBTP" : "dBFS"} />
            <span
              className="figure ml-auto text-label text-soft"
              title="With this peak and those above it tamed, everything could be louder by this"
            >
              {formatDb(gainWithoutDb, { sign: true })} dB
            </span>
          </li>
        ))}
      </ol>
    </Panel>
  );
}
