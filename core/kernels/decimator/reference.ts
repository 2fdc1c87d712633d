/** The reference implementation, in plain TypeScript: the same bits as the kernel. */
/** A symmetric low-pass and how many samples make one. */
export interface DecimatingFilter {
  factor: number;
  /** f32, an odd number of them. */
  taps: Float32Array;
}

export interface Decimator {
  /**
   * Sums of `x` against the taps, `factor` samples apart.
   * @param x holds (out.length − 1) · factor + taps.length samples
   */
  decimate(x: Float32Array, out: Float32Array): void;
  /**
   * Takes the points `y`, brought back to all samples, away from `x`, which begins at a point's place and holds
   * whole steps. `y` begins `before` points earlier and holds `around` points more than there are steps.
   */
  subtract(y: Float32Array, x: Float32Array): void;
  readonly before: number;
  readonly around: number;
}

const RUN = 8;

const upTo = (count: number, multiple: number): number => Math.ceil(count / multiple) * multiple;

/** Tables of a filter for both ways. */
export function tablesOf({ factor, taps }: DecimatingFilter) {
  const reach = (taps.length - 1) / 2;
  const before = Math.floor(reach / factor);
  const around = before + Math.floor((reach + factor - 1) / factor);
  const width = upTo(factor, 4);
  const thinning = new Float32Array(upTo(taps.length, RUN));
  thinning.set(taps);
  // Sample q of a step lies q after its point; the k-th point of those around it lies (k − before) steps after it.
  const spreading = new Float32Array((around + 1) * width);
  for (let k = 0; k <= around; k++)
    for (let q = 0; q < factor; q++) spreading[k * width + q] = factor * (taps[reach + q - (k - before) * factor] ?? 0);
  return { before, around, width, thinning, spreading };
}

export function referenceDecimator(filter: DecimatingFilter): Decimator {
  const { factor } = filter;
  const { before, around, width, thinning, spreading } = tablesOf(filter);
  const { fround } = Math;
  return {
    before,
    around,
    decimate(x, out) {
      const lanes = new Float32Array(RUN);
      for (let n = 0; n < out.length; n++) {
        lanes.fill(0);
        for (let k = 0; k < thinning.length; k++)
          lanes[k % RUN] = lanes[k % RUN]! + fround((x[n * factor + k] ?? 0) * thinning[k]!);
        const sums = [0, 1, 2, 3].map((lane) => fround(lanes[lane]! + lanes[lane + 4]!));
        out[n] = fround(sums[0]! + sums[1]!) + fround(sums[2]! + sums[3]!);
      }
    },
    subtract(y, x) {
      for (let i = 0; i < x.length; i++) {
        const [n, q] = [Math.floor(i / factor), i % factor];
        let sum = 0;
        for (let k = 0; k <= around; k++) sum = fround(sum + fround(y[n + k]! * spreading[k * width + q]!));
        x[i] = x[i]! - sum;
      }
    },
  };
}
