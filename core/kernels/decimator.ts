/** To every so-manieth sample of a low-passed sound, and such samples back to all: WebAssembly, or its plain twin. */
import { loadKernels, MemoryPlan } from "./wasm";

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
  thin(x: Float32Array, out: Float32Array): void;
  /**
   * Takes the points `y`, brought back to all samples, away from `x`, which begins at a point's place and holds
   * whole steps. `y` begins `before` points earlier and holds `around` points more than there are steps.
   */
  takeAway(y: Float32Array, x: Float32Array): void;
  readonly before: number;
  readonly around: number;
}

const RUN = 8;
const CHUNK_STEPS = 1024;

const upTo = (count: number, multiple: number): number => Math.ceil(count / multiple) * multiple;

/** Tables of a filter for both ways. */
function tablesOf({ factor, taps }: DecimatingFilter) {
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

export const decimator = (filter: DecimatingFilter): Decimator => wasmDecimator(filter) ?? referenceDecimator(filter);

export function referenceDecimator(filter: DecimatingFilter): Decimator {
  const { factor } = filter;
  const { before, around, width, thinning, spreading } = tablesOf(filter);
  const { fround } = Math;
  return {
    before,
    around,
    thin(x, out) {
      const lanes = new Float32Array(RUN);
      for (let n = 0; n < out.length; n++) {
        lanes.fill(0);
        for (let k = 0; k < thinning.length; k++)
          lanes[k % RUN] = lanes[k % RUN]! + fround((x[n * factor + k] ?? 0) * thinning[k]!);
        const sums = [0, 1, 2, 3].map((lane) => fround(lanes[lane]! + lanes[lane + 4]!));
        out[n] = fround(sums[0]! + sums[1]!) + fround(sums[2]! + sums[3]!);
      }
    },
    takeAway(y, x) {
      for (let i = 0; i < x.length; i++) {
        const [n, q] = [Math.floor(i / factor), i % factor];
        let sum = 0;
        for (let k = 0; k <= around; k++) sum = fround(sum + fround(y[n + k]! * spreading[k * width + q]!));
        x[i] = x[i]! - sum;
      }
    },
  };
}

/** By WebAssembly; `undefined` where there is none. */
export function wasmDecimator(filter: DecimatingFilter): Decimator | undefined {
  const { factor } = filter;
  const { before, around, width, thinning, spreading } = tablesOf(filter);
  const plan = new MemoryPlan();
  const x = plan.floats(CHUNK_STEPS * factor + thinning.length + width);
  const y = plan.floats(CHUNK_STEPS + around + 1);
  const [down, up] = [plan.floats(thinning.length), plan.floats(spreading.length)];
  const loaded = loadKernels(plan);
  if (!loaded) return undefined;
  const { kernels, floats } = loaded;
  floats(down).set(thinning);
  floats(up).set(spreading);
  const [sound, points] = [floats(x), floats(y)];
  return {
    before,
    around,
    thin(from, out) {
      for (let at = 0; at < out.length; at += CHUNK_STEPS) {
        const count = Math.min(CHUNK_STEPS, out.length - at);
        const held = from.subarray(at * factor, (at + count) * factor + thinning.length);
        sound.set(held);
        sound.fill(0, held.length);
        kernels.thin(x.at, count, factor, down.at, thinning.length, y.at);
        out.set(points.subarray(0, count), at);
      }
    },
    takeAway(from, into) {
      const steps = into.length / factor;
      for (let at = 0; at < steps; at += CHUNK_STEPS) {
        const count = Math.min(CHUNK_STEPS, steps - at);
        points.set(from.subarray(at, at + count + around));
        const held = into.subarray(at * factor, (at + count) * factor);
        sound.set(held);
        kernels.takeAway(y.at, count, factor, up.at, around + 1, width, x.at);
        held.set(sound.subarray(0, held.length));
      }
    },
  };
}
