import { sourceOf, type Figures } from "@core/measure";
import { formatDb, formatTime } from "@core/audio/format";
import { LIMITED_FIGURES, type LimitedFigure } from "@core/delivery/spec";
import { checkLimit, marginWords } from "@core/delivery/compliance";
import { Figure } from "@ui/design-system/figure";
import { MarginGauge } from "@ui/design-system/margin-gauge";
import { statusColour } from "@ui/design-system/compliance-mark";
import { useCurrentItem, type ItemFacts } from "@ui/state/current-item";
import { useHighestPeaks } from "./use-highest-peaks";
import { MORE_FIGURES } from "./more-figures";
import { Panel } from "../../design-system/panel";
import { TimeLink } from "./time-link";
import type { MeasuredRange } from "./use-measured";

/** Figures, each with the measurement that names its clause. */
const SHOWN: { figure: LimitedFigure; measurement: string }[] = [
  { figure: "integratedLufs", measurement: "loudness" },
  { figure: "shortTermMaxLufs", measurement: "loudness" },
  { figure: "momentaryMaxLufs", measurement: "loudness" },
  { figure: "loudnessRangeLu", measurement: "loudness" },
  { figure: "truePeakDbtp", measurement: "true-peak" },
  { figure: "samplePeakDbfs", measurement: "level" },
  { figure: "rmsDbfs", measurement: "level" },
  { figure: "noiseFloorDbfs", measurement: "noise-floor" },
];

/** What was measured, against the deliverable in force; what sets the peak; and everything else. */
export function FiguresView({ facts, stretch }: { facts: ItemFacts; stretch: MeasuredRange }) {
  return (
    <div className="grid h-full grid-cols-[minmax(380px,1.35fr)_minmax(200px,0.8fr)_minmax(240px,1fr)] divide-x divide-hair">
      <Measured facts={facts} stretch={stretch} />
      <Peaks facts={facts} stretch={stretch} />
      <MoreFigures facts={facts} stretch={stretch} />
    </div>
  );
}

/** Where a figure was read, in seconds of the measured stretch. */
function placeOf(figures: Figures, figure: LimitedFigure): { seconds: number; length: number } | null {
  const at = (seconds: number | null, length: number, back = length) =>
    seconds === null ? null : { seconds: seconds - back, length };
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

function Measured({ facts, stretch }: { facts: ItemFacts; stretch: MeasuredRange }) {
  const { spec } = useCurrentItem();
  const { figures, offset, words } = stretch;
  return (
    <Panel title={spec ? `Measured, against ${spec.name}` : "Measured"} aside={words}>
      <table className="w-full">
        <tbody>
          {SHOWN.map(({ figure, measurement }) => {
            const { label, unit } = LIMITED_FIGURES[figure];
            const limit = spec?.limits.find((one) => one.figure === figure);
            const level = figures[figure];
            const place = placeOf(figures, figure);
            return (
              <tr
                key={figure}
                className="h-[24px] border-b border-grid"
                title={[`Measured by ${sourceOf(measurement)}`, ...(limit ? [`Limited by ${limit.clause}`] : [])].join(
                  "\n",
                )}
              >
                <th scope="row" className="text-left font-normal whitespace-nowrap">
                  <TimeLink facts={facts} place={place && { ...place, seconds: offset + place.seconds }}>
                    {label}
                  </TimeLink>
                </th>
                <td className="pr-3 text-right">
                  <Figure level={level} unit={unit} />
                </td>
                <td className="w-[92px]">
                  <MarginGauge figure={figure} limit={limit} value={level} width={84} />
                </td>
                <td
                  className={`pl-2 text-label whitespace-nowrap ${limit ? statusColour(checkLimit(limit, level).status) : "text-soft"}`}
                >
                  {limit ? marginWords(limit, level) : "not limited"}
                </td>
              </tr>
            );
          })}
        </tbody>
      </table>
      <p className="truncate pt-1 text-label text-soft" title={figures.truePeakFilter}>
        BS.1770-5 · Tech 3341, 3342 · 16 × 256 taps ·{" "}
        <a href="/proof" className="text-act underline">
          prove the meter
        </a>
      </p>
    </Panel>
  );
}

function Peaks({ facts, stretch }: { facts: ItemFacts; stretch: MeasuredRange }) {
  const { offset } = stretch;
  const peaks = useHighestPeaks(facts, stretch);
  return (
    <Panel title="What sets the peak" aside="without, dB">
      {peaks.length === 0 && <p className="py-2 text-soft">Silence has no peaks.</p>}
      <ol>
        {peaks.map(({ seconds, peakDb, isMeasured, gainWithoutDb }, index) => (
          <li key={seconds} className="flex h-[24px] items-center gap-2 border-b border-grid">
            <span className="figure text-label text-soft">{index + 1}</span>
            <TimeLink facts={facts} place={{ seconds: offset + seconds - 0.01, length: 0.02 }}>
              <span className="figure">{formatTime(offset + seconds, isMeasured ? 3 : 1)}</span>
            </TimeLink>
            <span
              className="whitespace-nowrap"
              title={isMeasured ? "True peak" : "Its highest sample; the true peak is being measured"}
            >
              {isMeasured ? "" : "≥ "}
              <Figure level={peakDb} unit="dBTP" />
            </span>
            <span
              className="figure ml-auto text-label whitespace-nowrap text-soft"
              title="With this peak and those above it tamed, everything could be louder by this"
            >
              {formatDb(gainWithoutDb, { sign: true })}
            </span>
          </li>
        ))}
      </ol>
    </Panel>
  );
}

function MoreFigures({ facts, stretch }: { facts: ItemFacts; stretch: MeasuredRange }) {
  const { figures, offset } = stretch;
  return (
    <Panel title="More" aside="">
      <table className="w-full">
        <tbody>
          {MORE_FIGURES.map(({ label, help, read }) => {
            const shown = read(figures);
            if (!shown) return null;
            return (
              <tr key={label} className="h-[22px] border-b border-grid" title={help}>
                <th scope="row" className="text-left font-normal whitespace-nowrap">
                  <TimeLink
                    facts={facts}
                    place={shown.place && { ...shown.place, seconds: offset + shown.place.seconds }}
                  >
                    {shown.label ?? label}
                  </TimeLink>
                </th>
                <td className="text-right">
                  <span className="figure whitespace-nowrap">
                    {shown.text}
                    {shown.unit && <span className="ml-1 text-label text-soft">{shown.unit}</span>}
                  </span>
                </td>
              </tr>
            );
          })}
        </tbody>
      </table>
    </Panel>
  );
}
