import { Stft } from "../dsp/stft";

/**
 * Kurtosis of the powers of all bins, each over its own mean: that of noise is 9 whatever its spectrum, single bins
 * that stand out raise it (Uemura et al. 2008).
 */
export function kurtosis(x: Float32Array): number {
  const frames = new Stft(1024);
  frames.analyse(x.slice(), undefined, 0);
  const { bins, count } = frames;
  const [powers, spare] = [new Float32Array(count * bins), new Float32Array(count * bins)];
  for (let t = 0; t < count; t++) frames.powers(t, powers, spare, t * bins);
  let [second, fourth, held] = [0, 0, 0];
  for (let k = 4; k < bins - 4; k++) {
    let sum = 0;
    for (let t = 0; t < count; t++) sum += powers[t * bins + k]!;
    if (sum === 0) continue;
    for (let t = 0; t < count; t++) {
      const d = (powers[t * bins + k]! * count) / sum - 1;
      second += d * d;
      fourth += d ** 4;
      held++;
    }
  }
  return (fourth * held) / (second * second);
}
