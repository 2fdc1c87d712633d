/** Spectrum of what is heard at the moment, from the shared memory of the listening engine. */
import type { Ring } from "@playback/ring";
import { referenceAnalysis, wasmAnalysis, type AnalysisKernels } from "@core/kernels/analysis";

export const LIVE_POINTS = 8192;
const LOW_HERTZ = 20;
const HIGH_HERTZ = 20_000;

export const SPECTRUM_OF = ["left and right", "mid", "side", "left", "right"] as const;
/** The sides, as they are heard; or channels of the programme by their numbers, their powers added up. */
export type SpectrumOf = (typeof SPECTRUM_OF)[number] | readonly number[];

/** Bands of an octave; "FFT" is a picture of single bins. */
export const RESOLUTIONS = ["FFT", "1/1", "1/3", "1/6", "1/12", "1/24"] as const;
export type Resolution = (typeof RESOLUTIONS)[number];

/** Lower edges of the bands, and the upper one of the last, base 10 (IEC 61260-1, 5.2.1); FFT as 240 points. */
export function bandEdges(resolution: Resolution): number[] {
  if (resolution === "FFT")
    return Array.from({ length: 241 }, (_, i) => LOW_HERTZ * (HIGH_HERTZ / LOW_HERTZ) ** (i / 240));
  const parts = Number(resolution.slice(2));
  const step = 0.3 / parts; // an octave is 10^0.3
  const first = Math.round(Math.log10(LOW_HERTZ / 1000) / step);
  const last = Math.round(Math.log10(HIGH_HERTZ / 1000) / step);
  return Array.from({ length: last - first + 2 }, (_, i) => 1000 * 10 ** (step * (first + i - 0.5)));
}

export class LiveSpectrum {
  readonly #kernels: AnalysisKernels;
  readonly #part = new Float32Array(LIVE_POINTS);
  readonly #power = new Float64Array(LIVE_POINTS / 2 + 1);

  constructor() {
    const shape = { channels: 1, samples: LIVE_POINTS, points: LIVE_POINTS, weighting: new Float64Array(10) };
    this.#kernels = wasmAnalysis(shape) ?? referenceAnalysis(shape);
  }

  /** dBFS of bands of what was heard just now. A full-scale sine reads −3.01 in its band. */
  take(ring: Ring, of: SpectrumOf, edges: readonly number[], sampleRate: number, resolution: Resolution): Float32Array {
    const x = this.#kernels.samples[0]!;
    const from = (ring.read - LIVE_POINTS) | 0;
    const power = this.#power.fill(0);
    for (const signal of signalsOf(of)) {
      x.fill(0, 0, LIVE_POINTS);
      for (const [plane, gain] of signal) {
        ring.take(plane, from, this.#part);
        for (let i = 0; i < LIVE_POINTS; i++) x[i]! += gain * this.#part[i]!;
      }
      this.#kernels.spectrum(0, 0);
      for (let k = 0; k < power.length; k++) power[k]! += this.#kernels.power[k]!;
    }
    const binWidth = sampleRate / LIVE_POINTS;
    // Bands add up what is in them: the window spreads a tone over 1.5 bins. Single bins show its height.
    const scale = resolution === "FFT" ? 8 / LIVE_POINTS ** 2 : 2 / (LIVE_POINTS ** 2 * 0.375);
    const out = new Float32Array(edges.length - 1);
    for (let band = 0; band < out.length; band++) {
      const [low, high] = [edges[band]! / binWidth, edges[band + 1]! / binWidth];
      let sum = 0;
      let most = 0;
      for (let k = Math.max(1, Math.floor(low + 0.5)); k - 0.5 < high && k < power.length; k++) {
        const overlap = Math.min(high, k + 0.5) - Math.max(low, k - 0.5);
        sum += power[k]! * Math.max(0, overlap);
        most = Math.max(most, power[k]!);
      }
      out[band] = 10 * Math.log10((resolution === "FFT" ? most : sum) * scale);
    }
    return out;
  }
}

type Signal = [plane: number, gain: number][];

/** What is transformed by itself: a mix of the two sides, or each channel. In the ring the two sides come first. */
const signalsOf = (of: SpectrumOf): Signal[] =>
  typeof of === "string" ? [sidesOf(of)] : of.map((channel): Signal => [[2 + channel, 1]]);

function sidesOf(of: (typeof SPECTRUM_OF)[number]): Signal {
  switch (of) {
    case "left":
      return [[0, 1]];
    case "right":
      return [[1, 1]];
    case "side":
      return [
        [0, 0.5],
        [1, -0.5],
      ];
    default:
      return [
        [0, 0.5],
        [1, 0.5],
      ];
  }
}
