import { analysisKernels, type AnalysisKernels } from "../kernels/analysis";
import { loudnessWeight } from "../audio/layout";
import type { Frames, Planar } from "../audio/units";
import { stateSpaceWeighting } from "./k-weighting";
import { LoudnessWindows } from "./loudness-windows";
import type { StreamFormat } from "../audio/stream-format";
import { hopStart } from "./analysis-block";

/** The smallest spectrum there is: none is asked for here. */
const NO_POINTS = 128;

/** Loudness of a stream, hop by hop as it arrives: for meters and for a master that is being written. */
export class RunningLoudness {
  readonly windows = new LoudnessWindows();
  readonly #weights: number[];
  readonly #kernels: AnalysisKernels;
  readonly #rate: number;
  #hop = 0;
  #filled: Frames = 0;

  constructor({ sampleRate, layout }: StreamFormat) {
    this.#rate = sampleRate;
    this.#weights = layout.speakers.map(loudnessWeight);
    this.#kernels = analysisKernels({
      channels: layout.speakers.length,
      samples: Math.ceil(sampleRate / 100) + 2,
      points: NO_POINTS,
      weighting: stateSpaceWeighting(sampleRate),
    });
  }

  /** Takes the first `frames` frames of `block`, shape [channel][frame]. */
  process(block: Planar, frames: Frames): void {
    let taken = 0;
    while (taken < frames) {
      const length = hopStart(this.#hop + 1, this.#rate) - hopStart(this.#hop, this.#rate);
      const count = Math.min(frames - taken, length - this.#filled);
      this.#kernels.samples.forEach((samples, c) =>
        samples.set(block[c]!.subarray(taken, taken + count), this.#filled),
      );
      this.#filled += count;
      taken += count;
      if (this.#filled === length) this.#closeHop(length);
    }
  }

  #closeHop(length: Frames): void {
    let energy = 0;
    for (let c = 0; c < this.#weights.length; c += 2) {
      this.#kernels.kWeighting(0, c / 2, 0, length, false);
      energy += this.#weights[c]! * this.#kernels.weightedPowers[0]!;
      if (c + 1 < this.#weights.length) energy += this.#weights[c + 1]! * this.#kernels.weightedPowers[1]!;
    }
    this.windows.push(energy / length);
    this.#filled = 0;
    this.#hop++;
  }
}
