/**
 * Short-time objective intelligibility (Taal, Hendriks, Heusdens, Jensen, "An algorithm for intelligibility prediction
 * of time-frequency weighted noisy speech", IEEE TASLP 19-7, 2011): the mean correlation of short envelopes in thirds
 * of an octave, 0…1.
 */
import { SincInterpolation } from "../dsp/sinc-interpolation";
import { Fft } from "../math/fft";
import type { Hertz } from "../audio/units";

const RATE: Hertz = 10_000;
const FRAME = 256;
const HOP = 128;
const POINTS = 512;
const BANDS = 15;
const LOWEST_CENTRE: Hertz = 150;
/** Frames of an envelope: 384 ms. */
const SEGMENT = 30;
/** Frames of the clean speech this far under its loudest are pauses. */
const RANGE_DB = 40;
/** What is worse than this counts as no worse. */
const LOWEST_SDR_DB = -15;

const WINDOW = Float64Array.from(
  { length: FRAME },
  (_, i) => 0.5 - 0.5 * Math.cos((2 * Math.PI * (i + 1)) / (FRAME + 1)),
);

/** Bins of each third of an octave. */
const EDGES = Array.from({ length: BANDS }, (_, band) => {
  const centre = LOWEST_CENTRE * 2 ** (band / 3);
  const bin = (hertz: Hertz) => Math.round((hertz * POINTS) / RATE);
  return [bin(centre * 2 ** (-1 / 6)), bin(centre * 2 ** (1 / 6))] as const;
});

const framesOf = (x: Float32Array): Float64Array[] => {
  const frames: Float64Array[] = [];
  for (let at = 0; at + FRAME <= x.length; at += HOP) frames.push(WINDOW.map((w, i) => w * x[at + i]!));
  return frames;
};

/** Magnitudes in thirds of an octave: [band][frame]. */
function envelopes(frames: readonly Float64Array[]): Float64Array[] {
  const fft = new Fft(POINTS);
  const bands = EDGES.map(() => new Float64Array(frames.length));
  frames.forEach((frame, t) => {
    const [re, im] = [new Float64Array(POINTS), new Float64Array(POINTS)];
    re.set(frame);
    fft.forward(re, im);
    EDGES.forEach(([from, to], band) => {
      let power = 0;
      for (let k = from; k < to; k++) power += re[k]! * re[k]! + im[k]! * im[k]!;
      bands[band]![t] = Math.sqrt(power);
    });
  });
  return bands;
}

function correlation(x: Float64Array, y: Float64Array): number {
  const mean = (v: Float64Array) => v.reduce((sum, one) => sum + one, 0) / v.length;
  const [mx, my] = [mean(x), mean(y)];
  let [xy, xx, yy] = [0, 0, 0];
  x.forEach((v, i) => {
    xy += (v - mx) * (y[i]! - my);
    xx += (v - mx) ** 2;
    yy += (y[i]! - my) ** 2;
  });
  return xy / (Math.sqrt(xx * yy) + 1e-30);
}

/** How well `made` is understood against `clean`; both of one length, at `rate`. NaN of less than 0.4 s of speech. */
export function stoi(clean: Float32Array, made: Float32Array, rate: Hertz): number {
  const down = new SincInterpolation(rate / RATE);
  const [x, y] = [framesOf(down.all(clean)), framesOf(down.all(made))];
  const energies = x.map((frame) => 10 * Math.log10(frame.reduce((sum, v) => sum + v * v, 1e-30)));
  const loudest = energies.reduce((most, v) => Math.max(most, v), -Infinity);
  const kept = energies.flatMap((db, t) => (db > loudest - RANGE_DB && y[t] ? [t] : []));
  const [a, b] = [envelopes(kept.map((t) => x[t]!)), envelopes(kept.map((t) => y[t]!))];
  const clip = 1 + 10 ** (-LOWEST_SDR_DB / 20);
  let [sum, count] = [0, 0];
  for (let end = SEGMENT; end <= kept.length; end++)
    for (let band = 0; band < BANDS; band++) {
      const own = a[band]!.subarray(end - SEGMENT, end);
      const other = b[band]!.subarray(end - SEGMENT, end);
      const norm = (v: Float64Array) => Math.sqrt(v.reduce((total, one) => total + one * one, 0));
      const gain = norm(own) / (norm(other) + 1e-30);
      sum += correlation(
        own,
        other.map((v, i) => Math.min(v * gain, own[i]! * clip)),
      );
      count++;
    }
  return sum / count;
}
