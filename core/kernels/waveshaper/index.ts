/** A polynomial soft clipper, by its kernel and its reference implementation of the same bits. */
import type { Addition } from "../oversampler";

const { fround } = Math;
const FIFTH = fround(0.6);
const SEVENTH = fround(1 / 7);

/** u − u³ + 3/5·u⁵ − 1/7·u⁷ of `given`, kept within ±1. */
function bent(given: number): number {
  const u = given > 1 ? 1 : given < -1 ? -1 : given;
  const q = fround(u * u);
  const inner = fround(fround(q * fround(FIFTH - fround(q * SEVENTH))) - 1);
  return fround(u * fround(fround(q * inner) + 1));
}

/** What that of `drive`·x + `bias`, times `scale`, adds to x; nothing to silence. */
export function waveshaper(drive: number, bias: number, scale: number): Addition {
  const [d, b, s] = [drive, bias, scale].map(fround) as [number, number, number];
  const offset = bent(b);
  return {
    kernel: ({ waveshape }, at, frames) => waveshape(at, frames, d, b, offset, s),
    reference(x) {
      for (let i = 0; i < x.length; i++) {
        const v = x[i]!;
        x[i] = fround(fround(bent(fround(fround(v * d) + b)) - offset) * s) - v;
      }
    },
  };
}
