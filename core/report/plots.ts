import type { Figures } from "../measure";
import { FINE_BANDS, fineEdge } from "../measure/spectrum";
import { formatTime } from "../audio/format";
import type { Limit } from "../delivery/spec";
import type { ReportDrawings } from "./drawings";
import type { Response } from "./work-done";
import { below, boxOf, frameOf, horizontals, lineOf, type Frame, type Plot } from "./plot";

function curveLine(levels: readonly (number | null)[], seconds: number, frame: Frame): string {
  return lineOf(
    levels.map((level, i): [number, number] => [
      frame.x(((i + 0.5) / levels.length) * seconds),
      level === null ? NaN : frame.y(level),
    ]),
  );
}

/** Between the limits of integrated loudness, where both are set. */
function targetBand(frame: Frame, limits: readonly Limit[]): Plot["paths"] {
  const target = limits.find(({ figure }) => figure === "integratedLufs");
  if (target?.min === undefined || target.max === undefined) return [];
  const [top, bottom] = [frame.y(target.max), frame.y(target.min)];
  const d = boxOf(frame.left, top, frame.right - frame.left, Math.max(1, bottom - top));
  return [{ d, ink: "band", width: 0, filled: true }];
}

/** Loudness and peaks of many recordings, beside one another in their order. */
export function besidePlot(
  entries: readonly (Pick<Figures, "integratedLufs" | "shortTermMaxLufs" | "truePeakDbtp"> | null)[],
  limits: readonly Limit[],
  width: number,
  height: number,
): Plot {
  const frame = frameOf(width, height, { from: 0, to: entries.length }, { from: -48, to: 0 });
  const scale = horizontals(frame, [-48, -36, -24, -12, 0]);
  const step = Math.min(60, (frame.right - frame.left) / entries.length);
  const place = (index: number) => frame.x(index + 0.5);
  const bar = (index: number, level: number | null, share: number, ink: "ink" | "peak"): Plot["paths"] =>
    level === null
      ? []
      : [
          {
            d: boxOf(place(index) - (step * share) / 2, frame.y(level), step * share, frame.bottom - frame.y(level)),
            ink,
            width: 0,
            filled: true,
          },
        ];
  const line = (index: number, level: number | null): Plot["paths"] =>
    level === null
      ? []
      : [
          {
            d: lineOf([
              [place(index) - step * 0.35, frame.y(level)],
              [place(index) + step * 0.35, frame.y(level)],
            ]),
            ink: "ink",
            width: 0.9,
          },
        ];
  const every = Math.ceil(entries.length / 30);
  return {
    width,
    height,
    paths: [
      ...targetBand(frame, limits),
      ...scale.paths,
      ...entries.flatMap((figures, i) => [
        ...bar(i, figures?.shortTermMaxLufs ?? null, 0.5, "peak"),
        ...bar(i, figures?.integratedLufs ?? null, 0.3, "ink"),
        ...line(i, figures?.truePeakDbtp ?? null),
      ]),
    ],
    texts: [
      ...scale.texts,
      ...below(
        frame,
        entries.flatMap((_, i) => (i % every === 0 ? [{ at: i + 0.5, text: String(i + 1) }] : [])),
      ),
    ],
  };
}

/** Momentary and short-term loudness over time, with the limits that a spec sets. */
export function loudnessPlot(
  { seconds: length, momentaryLufs, shortTermLufs }: ReportDrawings,
  limits: readonly Limit[],
  width: number,
  height: number,
): Plot {
  const seconds = Math.max(1, length);
  const frame = frameOf(width, height, { from: 0, to: seconds }, { from: -60, to: 0 });
  const scale = horizontals(frame, [-60, -48, -36, -24, -12, 0]);
  const maxima: Plot["paths"] = limits
    .filter(({ figure, max }) => (figure === "shortTermMaxLufs" || figure === "momentaryMaxLufs") && max !== undefined)
    .map(({ max }) => ({
      d: lineOf([
        [frame.left, frame.y(max!)],
        [frame.right, frame.y(max!)],
      ]),
      ink: "outside",
      width: 0.7,
      dashed: true,
    }));
  return {
    width,
    height,
    paths: [
      ...targetBand(frame, limits),
      ...scale.paths,
      { d: curveLine(momentaryLufs, seconds, frame), ink: "peak", width: 0.5 },
      { d: curveLine(shortTermLufs, seconds, frame), ink: "ink", width: 0.9 },
      ...maxima,
    ],
    texts: [
      ...scale.texts,
      ...below(
        frame,
        [0.25, 0.5, 0.75].map((share) => ({ at: share * seconds, text: formatTime(share * seconds) })),
      ),
    ],
  };
}

/** Part of the time at each loudness. */
export function distributionPlot({ distribution: bins }: ReportDrawings, width: number, height: number): Plot {
  const highest = Math.max(0.01, ...bins.map(({ share }) => share));
  const frame = frameOf(width, height, { from: bins[0]?.lufs ?? -60, to: 0 }, { from: 0, to: highest * 100 });
  const step = (frame.right - frame.left) / bins.length;
  return {
    width,
    height,
    paths: [
      ...horizontals(frame, [0]).paths,
      ...bins
        .filter(({ share }) => share > 0)
        .map(({ lufs, share }) => ({
          d: boxOf(frame.x(lufs) - step / 2, frame.y(share * 100), step * 0.8, frame.bottom - frame.y(share * 100)),
          ink: "ink" as const,
          width: 0,
          filled: true,
        })),
    ],
    texts: [
      { x: frame.left - 3, y: frame.top + 6, text: `${(highest * 100).toFixed(0)} %`, anchor: "end" },
      ...below(
        frame,
        [-48, -36, -24, -12].map((at) => ({ at, text: `−${-at}` })),
      ),
    ],
  };
}

const frequencies = (frame: Frame): Plot["texts"] =>
  below(frame, [
    { at: 50, text: "50" },
    { at: 100, text: "100" },
    { at: 500, text: "500" },
    { at: 1000, text: "1k" },
    { at: 5000, text: "5k" },
    { at: 10_000, text: "10k Hz" },
  ]);

/** Long-term spectrum: average over peak. */
export function spectrumPlot({ averageDbfs, peakDbfs }: ReportDrawings, width: number, height: number): Plot {
  const frame = frameOf(width, height, { from: 20, to: 20_000, logarithmic: true }, { from: -110, to: -10 });
  const scale = horizontals(frame, [-100, -80, -60, -40, -20]);
  const line = (levels: readonly (number | null)[]) =>
    lineOf(
      levels.map((level, i): [number, number] => [
        frame.x(bandCentre(i, levels.length)),
        level === null ? NaN : frame.y(level),
      ]),
    );
  return {
    width,
    height,
    paths: [
      ...scale.paths,
      { d: line(peakDbfs), ink: "peak", width: 0.6 },
      { d: line(averageDbfs), ink: "ink", width: 0.9 },
    ],
    texts: [...scale.texts, ...frequencies(frame)],
  };
}

/** What equalisers and filters do, ±18 dB: of all channels in ink, of one side dashed. */
export function responsePlot(responses: readonly Response[], width: number, height: number): Plot {
  const frame = frameOf(width, height, { from: 20, to: 20_000, logarithmic: true }, { from: -18, to: 18 });
  const scale = horizontals(frame, [-12, -6, 0, 6, 12]);
  return {
    width,
    height,
    paths: [
      ...scale.paths,
      ...responses.map(({ sides, points }) => ({
        d: lineOf(points.map(([hertz, db]): [number, number] => [frame.x(hertz), frame.y(db)])),
        ink: "ink" as const,
        width: 0.9,
        dashed: sides !== "all",
      })),
    ],
    texts: [...scale.texts, ...frequencies(frame)],
  };
}

/** Middle of band `i` of `count`, as `joinedBands` makes them. */
const bandCentre = (i: number, count: number): number => {
  const join = FINE_BANDS / count;
  return Math.sqrt(fineEdge(i * join) * fineEdge((i + 1) * join));
};
