/** Reassigned spectrogram (Auger & Flandrin 1995): each bin's energy goes to where its own phase says that it is. */
import { sinCosTurns } from "../math/deterministic-math";
import { Fft } from "../math/fft";
import type { Frames, Hertz } from "../audio/units";

/** Bins weaker than this against a full-scale sine are not moved: their phase says nothing. */
const LEAST_POWER = 1e-15;

interface Windows {
  fft: Fft;
  hann: Float64Array;
  ramped: Float64Array;
  derived: Float64Array;
}

function windowsOf(points: number): Windows {
  const hann = new Float64Array(points);
  const ramped = new Float64Array(points);
  const derived = new Float64Array(points);
  for (let n = 0; n < points; n++) {
    const { sin, cos } = sinCosTurns(n / points);
    hann[n] = 0.5 - 0.5 * cos;
    ramped[n] = (n - points / 2) * hann[n]!;
    derived[n] = (3.141592653589793 / points) * sin; // dw/dn
  }
  return { fft: new Fft(points), hann, ramped, derived };
}

/** The first row edge above a frequency, less one; −1 below the first. */
function rowOf(hertz: Hertz, edges: Float64Array): number {
  let low = 0;
  let high = edges.length - 1;
  if (hertz < edges[0]! || hertz >= edges[high]!) return -1;
  while (high - low > 1) {
    const middle = (low + high) >> 1;
    if (edges[middle]! <= hertz) low = middle;
    else high = middle;
  }
  return low;
}

/**
 * Powers of `count` columns, shape [column][row], a full-scale sine 0.5. Columns just outside take part, so that what
 * belongs inside is not missed.
 */
export function reassignedRows(
  x: Float32Array,
  first: Frames,
  hop: Frames,
  count: number,
  points: number,
  edges: Float64Array,
  sampleRate: Hertz,
): Float32Array {
  const { fft, hann, ramped, derived } = windowsOf(points);
  const rows = edges.length - 1;
  const out = new Float32Array(count * rows);
  const parts = [hann, ramped, derived].map((window) => ({
    window,
    re: new Float64Array(points),
    im: new Float64Array(points),
  }));
  const [plain, time, frequency] = parts as [(typeof parts)[0], (typeof parts)[0], (typeof parts)[0]];
  const outside = Math.floor(points / 2 / hop);
  const scale = 8 / (points * points);
  for (let column = -outside; column < count + outside; column++) {
    const from = first + column * hop - points / 2;
    for (const { window, re, im } of parts) {
      for (let n = 0; n < points; n++) re[n] = (x[from + n] ?? 0) * window[n]!;
      im.fill(0);
      fft.forward(re, im);
    }
    for (let k = 1; k < points / 2; k++) {
      const [re, im] = [plain.re[k]!, plain.im[k]!];
      const power = re * re + im * im;
      if (power * scale < LEAST_POWER) continue;
      const shift = (time.re[k]! * re + time.im[k]! * im) / power;
      const offset = -(frequency.im[k]! * re - frequency.re[k]! * im) / power / 6.283185307179586;
      const target = column + Math.round(shift / hop);
      const row = rowOf((k / points + offset) * sampleRate, edges);
      if (target < 0 || target >= count || row < 0) continue;
      const at = target * rows + row;
      if (power * scale > out[at]!) out[at] = power * scale;
    }
  }
  return out;
}
