/**
 * How like two stretches are whose phases or tone were changed: the coherence of their analytic signals in octaves,
 * |Σ x·ȳ| / √(Σ|x|²·Σ|y|²) in each, which neither a gain nor a turn of the phase of an octave changes (Carter 1987).
 */
import { exp2, log2, square } from "../math/deterministic-math";
import { Fft } from "../math/fft";
import type { Frames, Hertz } from "../audio/units";

/** Edges of the octaves that are looked at. */
const EDGES: readonly Hertz[] = [45, 90, 180, 355, 710, 1400, 2800, 5600, 11_200];
/** Of a band with less of the power than this nothing is said. */
const LEAST_SHARE = 1e-6;

export interface BandMatch {
  /** Where in the field the probe lies. */
  lag: Frames;
  /** Mean coherence of the octaves, all alike: what is high tells the place best, and phases turn least there; 0…1. */
  likeness: number;
  /** Whether the two have opposite polarity, as far as phases tell. */
  inverted: boolean;
}

interface Spectrum {
  re: Float64Array;
  im: Float64Array;
}

function spectrumOf(fft: Fft, points: number, x: Float64Array): Spectrum {
  const [re, im] = [new Float64Array(points), new Float64Array(points)];
  re.set(x);
  fft.forward(re, im);
  return { re, im };
}

/**
 * The best place of a probe in a field. Both at `sampleRate`; the field is at least as long.
 * @returns likeness 0 where either is silent
 */
export function bestByBands(probe: Float64Array, field: Float64Array, sampleRate: Hertz): BandMatch {
  const points = exp2(Math.ceil(log2(field.length)));
  const fft = new Fft(points);
  const [p, f] = [spectrumOf(fft, points, probe), spectrumOf(fft, points, field)];
  const lags = field.length - probe.length + 1;
  const sum = new Float64Array(lags);
  const real = new Float64Array(lags);
  let octaves = 0;
  const total = p.re.reduce((all, v, k) => all + v * v + square(p.im[k]!), 0);
  for (let band = 0; band + 1 < EDGES.length; band++) {
    const [from, to] = [EDGES[band]!, EDGES[band + 1]!].map((hertz) =>
      Math.min(points / 2, Math.round((hertz * points) / sampleRate)),
    ) as [number, number];
    if (to <= from) continue;
    const [re, im] = [new Float64Array(points), new Float64Array(points)];
    const [fieldRe, fieldIm] = [new Float64Array(points), new Float64Array(points)];
    let power = 0;
    // Positive frequencies alone, twice: the analytic signal.
    for (let k = from; k < to; k++) {
      const [a, b, c, d] = [p.re[k]!, p.im[k]!, f.re[k]!, f.im[k]!];
      re[k] = 4 * (c * a + d * b);
      im[k] = 4 * (d * a - c * b);
      fieldRe[k] = 2 * c;
      fieldIm[k] = 2 * d;
      power += a * a + b * b;
    }
    if (2 * power < LEAST_SHARE * total) continue;
    fft.backward(re, im);
    fft.backward(fieldRe, fieldIm);
    const ofProbe = (4 * power) / points;
    let ofField = 0;
    for (let i = 0; i < probe.length; i++) ofField += square(fieldRe[i]!) + square(fieldIm[i]!);
    for (let lag = 0; lag < lags; lag++) {
      if (ofField > 0) {
        const whole = Math.sqrt(ofProbe * ofField);
        sum[lag] = sum[lag]! + Math.min(1, Math.sqrt(square(re[lag]!) + square(im[lag]!)) / whole);
        real[lag] = real[lag]! + re[lag]! / whole;
      }
      const end = lag + probe.length;
      if (end < field.length)
        ofField += square(fieldRe[end]!) + square(fieldIm[end]!) - square(fieldRe[lag]!) - square(fieldIm[lag]!);
    }
    octaves++;
  }
  let best = 0;
  for (let lag = 1; lag < lags; lag++) if (sum[lag]! > sum[best]!) best = lag;
  return { lag: best, likeness: octaves > 0 ? sum[best]! / octaves : 0, inverted: real[best]! < 0 };
}
