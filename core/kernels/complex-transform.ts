/** Spectra of complex points in float32, by the kernels where there are any: the same bits by the plain twin. */
import { plainTransform } from "./plain-spectrum";
import { spectrumTwiddles } from "./spectrum-tables";
import { loadKernels, MemoryPlan } from "./wasm";

export interface ComplexTransform {
  /** Where the points are put: real, imaginary, real … Shape [2 · points]. */
  readonly input: Float32Array;
  /** Parts of the last spectrum, unscaled; overwritten by the next. */
  readonly re: Float32Array;
  readonly im: Float32Array;
  run(): void;
}

/** A transform of a power of two of at least 64 `points`, each multiplied by its `window` first. */
export function complexTransform(points: number, window: ArrayLike<number>): ComplexTransform {
  const doubled = Float32Array.from({ length: 2 * points }, (_, i) => window[i >> 1]!);
  const factors = spectrumTwiddles(2 * points);
  const plan = new MemoryPlan();
  const regions = {
    input: plan.floats(2 * points),
    window: plan.floats(2 * points),
    work: plan.floats(4 * points),
    twiddles: plan.floats(factors.length),
  };
  const loaded = loadKernels(plan);
  if (!loaded) return plainComplexTransform(points, doubled, factors);
  const { kernels, floats } = loaded;
  floats(regions.window).set(doubled);
  floats(regions.twiddles).set(factors);
  const input = floats(regions.input);
  const run = () =>
    kernels.transform(regions.input.at, regions.window.at, points, regions.work.at, regions.twiddles.at);
  // Which planes the result lies in depends on the number of stages alone.
  const at = (run() - regions.work.at) / 4;
  const work = floats(regions.work);
  return {
    input,
    re: work.subarray(at, at + points),
    im: work.subarray(at + points, at + 2 * points),
    run: () => void run(),
  };
}

/** The plain twin. */
export function plainComplexTransform(points: number, window: Float32Array, factors: Float32Array): ComplexTransform {
  const input = new Float32Array(2 * points);
  const [re, im] = [new Float32Array(points), new Float32Array(points)];
  return {
    input,
    re,
    im,
    run() {
      const spectrum = plainTransform(input, window, factors);
      re.set(spectrum.re);
      im.set(spectrum.im);
    },
  };
}
