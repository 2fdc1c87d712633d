import { FINE_BANDS, joinedBands } from "../measure/spectrum";
import type { Curve } from "../measure/measurement";
import { formatTime } from "../signal/format";
import type { Limit } from "../spec/spec";
import type { ReportCurves } from "./entry";
import { below, boxOf, frameOf, horizontals, lineOf, type Frame, type Plot } from "./plot";

/** The highest value in each of `columns` equal parts of a curve. */
function columnsOf({ values }: Curve, columns: number): number[] {
  const perColumn = values.length / columns;
  return Array.from({ length: Math.min(columns, values.length) }, (_, column) => {
    const count = Math.min(columns, values.length);
    const from = Math.floor((column * values.length) / count);
    const to = Math.max(from + 1, Math.floor(from + Math.max(1, perColumn)));
    return values.subarray(from, to).reduce((most, level) => Math.max(most, level), -Infinity);
  });
}

function curveLine(curve: Curve, frame: Frame): string {
  const columns = columnsOf(curve, Math.round((frame.right - frame.left) * 1.5));
  const seconds = curve.values.length * curve.hopSeconds;
  return lineOf(
    columns.map((level, i): [number, number] => [
      frame.x(((i + 0.5) / columns.length) * seconds),
      level > -Infinity ? frame.y(level) : NaN,
    ]),
  );
}

/** Momentary and short-term loudness over time, with the limits that a spec sets. */
export function loudnessPlot(
  { momentaryLufs, shortTermLufs }: ReportCurves,
  limits: readonly Limit[],
  width: number,
  height: number,
): Plot {
  const seconds = Math.max(1, momentaryLufs.values.length * momentaryLufs.hopSeconds);
  const frame = frameOf(width, height, { from: 0, to: seconds }, { from: -60, to: 0 });
  const scale = horizontals(frame, [-60, -48, -36, -24, -12, 0]);
  const target = limits.find(({ figure }) => figure === "integratedLufs");
  const band: Plot["paths"] =
    target?.min !== undefined && target.max !== undefined
      ? [
          {
            d: boxOf(
              frame.left,
              frame.y(target.max),
              frame.right - frame.left,
              Math.max(1, frame.y(target.min) - frame.y(target.max)),
            ),
            ink: "band",
            width: 0,
            filled: true,
          },
        ]
      : [];
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
      ...band,
      ...scale.paths,
      { d: curveLine(momentaryLufs, frame), ink: "peak", width: 0.5 },
      { d: curveLine(shortTermLufs, frame), ink: "ink", width: 0.9 },
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

const LOWEST_BIN = -60;

/** Part of the time at each loudness, in steps of one LU from −60 LUFS: of what lies above −70. */
export function distributionOf({ values }: Curve): { lufs: number; share: number }[] {
  const counts = new Array<number>(-LOWEST_BIN + 1).fill(0);
  let all = 0;
  for (const level of values) {
    if (!(level > -70)) continue;
    all++;
    const bin = Math.round(level) - LOWEST_BIN;
    if (bin >= 0) counts[Math.min(bin, counts.length - 1)]!++;
  }
  return counts.map((count, i) => ({ lufs: LOWEST_BIN + i, share: all === 0 ? 0 : count / all }));
}

export function distributionPlot({ shortTermLufs }: ReportCurves, width: number, height: number): Plot {
  const bins = distributionOf(shortTermLufs);
  const highest = Math.max(0.01, ...bins.map(({ share }) => share));
  const frame = frameOf(width, height, { from: LOWEST_BIN, to: 0 }, { from: 0, to: highest * 100 });
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

/** Rows of the spectra curve that hold all channels together. */
export const SPECTRUM_ROWS = { average: 0, peak: 1, floor: 2 } as const;

export const spectrumRow = ({ values }: Curve, row: number): Float32Array =>
  values.subarray(row * FINE_BANDS, (row + 1) * FINE_BANDS);

export function spectrumPlot({ spectraDbfs }: ReportCurves, width: number, height: number): Plot {
  const frame = frameOf(width, height, { from: 20, to: 20_000, logarithmic: true }, { from: -110, to: -10 });
  const scale = horizontals(frame, [-100, -80, -60, -40, -20]);
  const line = (row: number) =>
    spectraDbfs.values.length === 0
      ? ""
      : lineOf(
          joinedBands(spectrumRow(spectraDbfs, row), 4).map(({ hertz, dbfs }): [number, number] => [
            frame.x(hertz),
            Number.isFinite(dbfs) ? frame.y(dbfs) : NaN,
          ]),
        );
  return {
    width,
    height,
    paths: [
      ...scale.paths,
      { d: line(SPECTRUM_ROWS.peak), ink: "peak", width: 0.6 },
      { d: line(SPECTRUM_ROWS.average), ink: "ink", width: 0.9 },
    ],
    texts: [
      ...scale.texts,
      ...below(frame, [
        { at: 100, text: "100" },
        { at: 1000, text: "1k" },
        { at: 10_000, text: "10k" },
      ]),
    ],
  };
}
