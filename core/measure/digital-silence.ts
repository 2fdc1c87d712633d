/** Runs of exact zeros: nothing was recorded there. */
import type { Frames } from "../audio/units";
import type { Run, AnalysisBlock } from "./analysis-block";

/** Shorter runs of zeros happen in quiet 16-bit sound. */
export const DIGITAL_SILENCE_SECONDS = 0.01;

const zeroAt = (samples: readonly Float32Array[], i: number): boolean => samples.every((channel) => channel[i] === 0);

/**
 * Runs in which all channels are exactly 0: those of `least` frames or more, and any that touch an edge of the tick.
 * Looks at one sample in `least`, and closer only where that is 0.
 */
export function zeroRuns(
  samples: readonly Float32Array[],
  from: Frames,
  frames: Frames,
  least: Frames,
  { start, smallest, largest }: Pick<AnalysisBlock, "start" | "smallest" | "largest">,
): Run[] {
  if (largest.every((level, c) => level === 0 && smallest[c] === 0)) return [{ start, length: frames }];
  const runs: Run[] = [];
  const last = from + frames - 1;
  let seen = from - 1;
  for (let probe = from; ; probe = Math.min(last, probe + least)) {
    if (probe > seen && zeroAt(samples, probe)) {
      let first = probe;
      seen = probe;
      while (first > from && zeroAt(samples, first - 1)) first--;
      while (seen < last && zeroAt(samples, seen + 1)) seen++;
      const length = seen + 1 - first;
      if (length >= least || first === from || seen === last) runs.push({ start: start + first - from, length });
    }
    if (probe === last) return runs;
  }
}

/** Joins runs that go on over the edges of ticks. */
export class JoinedRuns {
  #open: Run | null = null;

  /** The run that is under way at the end of what was seen. */
  get open(): Run | null {
    return this.#open;
  }

  /** The runs of a tick, each as long as it is by the tick's end. */
  take(tick: Pick<AnalysisBlock, "start" | "frames" | "zeroRuns">): Run[] {
    const end = tick.start + tick.frames;
    const joined = tick.zeroRuns.map((run) =>
      this.#open && this.#open.start + this.#open.length === run.start
        ? { start: this.#open.start, length: this.#open.length + run.length }
        : run,
    );
    this.#open = joined.find((run) => run.start + run.length === end) ?? null;
    return joined;
  }
}
