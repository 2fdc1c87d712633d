/** The kernel's binding. */
import { doubled, scaled, type TwoChannelSpectrum, type TwoChannelStft } from "./reference";
import { spectrumTwiddles } from "../spectrum/tables";
import { loadKernels, MemoryPlan } from "../wasm";

/** By WebAssembly; `undefined` where there is none. */
export function wasmTwoChannelStft(window: Float32Array, scale: number): TwoChannelStft | undefined {
  const size = window.length;
  const factors = spectrumTwiddles(2 * size);
  const plan = new MemoryPlan();
  const [first, second] = [plan.floats(size), plan.floats(size)];
  const input = plan.floats(2 * size);
  const [before, plain, after] = [plan.floats(2 * size), plan.floats(2 * size), plan.floats(size)];
  const [work, twiddles] = [plan.floats(4 * size), plan.floats(factors.length)];
  const [sumA, sumB] = [plan.floats(size), plan.floats(size)];
  const loaded = loadKernels(plan);
  if (!loaded) return undefined;
  const { kernels, floats } = loaded;
  floats(before).set(doubled(window));
  floats(plain).fill(1);
  floats(after).set(scaled(window, scale));
  floats(twiddles).set(factors);
  const [x, y, sums] = [floats(first), floats(second), [floats(sumA), floats(sumB)]];
  const parts = floats(work);
  const transform = (by: number): number => {
    kernels.interleave(first.at, second.at, size, input.at);
    return kernels.fourierFrame(input.at, by, size, work.at, twiddles.at);
  };
  const load = ({ re, im }: TwoChannelSpectrum) => {
    x.set(re);
    y.set(im);
  };
  // Rows of gains and powers lie where the transform works.
  const [rowA, rowB] = [work.at, work.at + 8 * size];
  const bins = size / 2 + 1;
  return {
    forward(a, b, { re, im }) {
      x.set(a);
      if (b) y.set(b);
      else y.fill(0);
      const at = (transform(before.at) - work.at) / 4;
      re.set(parts.subarray(at, at + size));
      im.set(parts.subarray(at + size, at + 2 * size));
    },
    powers(spectrum, a, b) {
      load(spectrum);
      kernels.pairPowers(first.at, second.at, size, rowA, rowB);
      a.set(parts.subarray(0, bins));
      b.set(parts.subarray(2 * size, 2 * size + bins));
    },
    gain(spectrum, a, b) {
      load(spectrum);
      parts.set(a);
      parts.set(b, 2 * size);
      kernels.pairGains(first.at, second.at, size, rowA, rowB);
      spectrum.re.set(x);
      spectrum.im.set(y);
    },
    add({ re, im }) {
      // A forward transform with the parts exchanged is a backward one with the parts exchanged.
      x.set(im);
      y.set(re);
      const at = transform(plain.at);
      kernels.addWindowed(at + 4 * size, at, size, after.at, sumA.at, sumB.at);
    },
    take(a, b) {
      [a, b].forEach((out, c) => {
        out.set(sums[c]!.subarray(0, out.length));
        sums[c]!.copyWithin(0, out.length).fill(0, size - out.length);
      });
    },
    clear: () => sums.forEach((sum) => sum.fill(0)),
  };
}
