/**
 * Pictures of sound over time and frequency: short-term spectra of one window length, of windows that shorten as the
 * frequency rises (near constant Q), and reassigned ones. A picture is made in stretches of columns that do not depend
 * on each other, so that they can be made where they are looked at.
 */
import { referenceAnalysis, wasmAnalysis, type AnalysisKernels } from "../kernels/analysis";
import { log10 } from "../math/deterministic-math";
import type { Frames, Hertz } from "../audio/units";
import { reassignedRows } from "./reassigned";
import { rowEdges, rowsOfBins, type FrequencyAxis } from "./frequency-rows";

export const SPECTROGRAM_KINDS = ["spectrogram", "reassigned", "constant-q"] as const;
export type SpectrogramKind = (typeof SPECTROGRAM_KINDS)[number];

export interface SpectrogramSettings extends FrequencyAxis {
  kind: SpectrogramKind;
  /** Points of a window, a power of two from 256; the longest one for constant Q. */
  points: number;
  rows: number;
}

/** The level of a byte: 0 is this or less, 255 is full scale. A full-scale sine reads −3.01 dBFS. */
export const SPECTROGRAM_FLOOR_DB = -150;
export const byteOfPower = (power: number): number =>
  Math.max(0, Math.min(255, Math.round((1 - (10 * log10(power)) / SPECTROGRAM_FLOOR_DB) * 255)));
export const dbOfByte = (byte: number): number => SPECTROGRAM_FLOOR_DB * (1 - byte / 255);

/** The shortest window of a picture of constant Q. */
const SHORTEST_POINTS = 256;
/** Periods in a window of constant Q. */
const PERIODS = 24;

/** One window length: its spectrum, and the rows that are taken from it. */
interface Resolution {
  points: number;
  kernels: AnalysisKernels;
  firstRow: number;
  edges: Float64Array;
  rows: Float32Array;
}

/** Makes columns. Reusable for any number of stretches of one sample rate. */
export class SpectrogramBuilder {
  readonly #resolutions: Resolution[];
  readonly #edges: Float64Array;
  /** Samples needed before and after a column's middle. */
  readonly reach: Frames;

  constructor(
    readonly settings: SpectrogramSettings,
    readonly sampleRate: Hertz,
  ) {
    const edges = (this.#edges = rowEdges(settings, settings.rows));
    const pointsOf = (row: number): number => {
      if (settings.kind !== "constant-q") return settings.points;
      const wanted = (PERIODS * sampleRate) / Math.max(edges[row]!, 1);
      let points = SHORTEST_POINTS;
      while (points < wanted && points < settings.points) points *= 2;
      return points;
    };
    this.#resolutions = [];
    for (let row = 0; row < settings.rows;) {
      const points = pointsOf(row);
      let end = row + 1;
      while (end < settings.rows && pointsOf(end) === points) end++;
      const shape = { channels: 1, samples: points, points, weighting: new Float64Array(10) };
      const kernels = wasmAnalysis(shape) ?? referenceAnalysis(shape);
      this.#resolutions.push({
        points,
        kernels,
        firstRow: row,
        edges: edges.slice(row, end + 1),
        rows: new Float32Array(end - row),
      });
      row = end;
    }
    this.reach = Math.max(...this.#resolutions.map(({ points }) => points));
  }

  /**
   * Columns with their middles at `first`, `first` + hop … of `x`, as bytes: shape [column][row], the lowest row first.
   * @param x samples, valid from `first` − reach to the last middle + reach
   */
  columns(x: Float32Array, first: Frames, hop: Frames, count: number, out: Uint8Array): void {
    const { rows, kind, points } = this.settings;
    if (kind === "reassigned") {
      const powers = reassignedRows(x, first, hop, count, points, this.#edges, this.sampleRate);
      for (let i = 0; i < count * rows; i++) out[i] = byteOfPower(powers[i]!);
      return;
    }
    for (let column = 0; column < count; column++)
      for (const resolution of this.#resolutions)
        this.#column(x, first + column * hop, resolution, out, column * rows + resolution.firstRow);
  }

  #column(x: Float32Array, middle: Frames, { points, kernels, edges, rows }: Resolution, out: Uint8Array, at: number) {
    const from = middle - points / 2;
    kernels.samples[0]!.set(x.subarray(from, from + points));
    kernels.spectrum(0, 0);
    rowsOfBins(kernels.power, this.sampleRate / points, edges, rows);
    // To the mean square of a sine in one bin: the window's own gain is a half.
    const scale = 8 / (points * points);
    for (let row = 0; row < rows.length; row++) out[at + row] = byteOfPower(rows[row]! * scale);
  }
}
