import { amountOf } from "./amount";
import { exp10, hypot, log10 } from "../math/deterministic-math";
import { Random } from "../math/random";
import type { Frames, Seconds } from "../audio/units";
import type { RepairDefinition } from "./repair";
import type { BlockContext } from "../audio/block-context";
import { frameLengthNear, STFT_OVERLAP, Stft } from "../dsp/stft";
import { shareInside, type Region } from "./time-frequency-region";

const parameters = {
  from: {
    kind: "choice",
    label: "Taken from",
    help: "What goes on before and after, what sounds below and above, or both",
    options: [
      { value: "time", label: "before and after" },
      { value: "frequency", label: "below and above" },
      { value: "both", label: "all around" },
    ],
    default: "time",
  },
  amount: amountOf("How much of the change takes effect"),
} as const;

const FRAME: Seconds = 0.0427;
/** Looked at on each side, in frames' hops and in bins. */
const AROUND_HOPS = 8;
const AROUND_BINS = 8;
/** Longer regions are left as they are: nothing around tells what was there. */
export const MAX_INPAINTED: Seconds = 4;
/** Rounds in which phases are brought to agree with each other and with what is around (Griffin and Lim 1984). */
const ROUNDS = 24;
const LEAST_POWER = 1e-20;

type From = "time" | "frequency" | "both";

/** Replaces what lies in a box or a shape by what its surroundings lead to expect: a chair, a ring, a cough in a hum. */
export const spectralInpainting: RepairDefinition<typeof parameters> = {
  id: "spectral-inpainting",
  name: "Spectral inpainting",
  help: "Replaces what is selected by what its surroundings lead to expect; up to 4 s, best under half a second",
  panel: "similar regions",
  parameters,
  contextSeconds: () => MAX_INPAINTED + 0.5,
  isNeutral: ({ amount }) => amount === 0,
  create({ from, amount }, _, { sampleRate, regions = [] }) {
    const size = frameLengthNear(FRAME, sampleRate);
    const reach = size + (AROUND_HOPS * size) / STFT_OVERLAP;
    const longest = MAX_INPAINTED * sampleRate;
    return (block, place) => {
      const wanted = regions.filter(
        ({ start, end }) => end - start <= longest && start < place.first + place.to && end > place.first + place.from,
      );
      for (const region of wanted) {
        // Always the same stretch, whoever asks for a part of it.
        const cut = { from: region.start - reach - place.first, to: region.end + reach - place.first };
        if (cut.from < 0 || cut.to > block[0]!.length) continue;
        block.forEach((x, c) => {
          if (region.channel !== undefined && region.channel !== c) return;
          const part = x.slice(cut.from, cut.to);
          const seed = region.start + c;
          const filled = filledIn(part, place.first + cut.from, region, from as From, size, sampleRate, seed);
          for (let i = reach; i < filled.length - reach; i++)
            x[cut.from + i] = part[i]! + (amount / 100) * (filled[i]! - part[i]!);
        });
      }
    };
  },
  summary: ({ from, amount }) =>
    `from ${parameters.from.options.find(({ value }) => value === from)!.label}${amount < 100 ? `, ${amount} %` : ""}`,
};

/** The part with the region's bins made anew: powers from around, phases that fit. */
function filledIn(
  part: Float32Array,
  first: Frames,
  region: Region,
  from: From,
  size: Frames,
  sampleRate: number,
  seed: number,
): Float32Array {
  const frames = new Stft(size);
  const x = part.slice();
  frames.analyse(x, undefined, first);
  const { bins, count, hop } = frames;
  const width = sampleRate / size;
  const unknown = new Uint8Array(count * bins);
  for (let t = 0; t < count; t++) {
    const at = (frames.firstFrame + t) * hop;
    // All frames whose windows hold something of the region.
    if (at + size <= region.start || at >= region.end) continue;
    const middle = Math.max(region.start, Math.min(region.end - 1, at + size / 2));
    for (let k = 1; k < bins - 1; k++) if (shareInside(region, middle, k * width, width) > 0) unknown[t * bins + k] = 1;
  }
  const powers = new Float32Array(count * bins);
  const spare = new Float32Array(bins);
  for (let t = 0; t < count; t++) frames.powers(t, powers.subarray(t * bins, (t + 1) * bins), spare);
  const magnitudes = expectedMagnitudes(powers, unknown, count, bins, from);
  const known = { re: frames.re.slice(0, count * size), im: frames.im.slice(0, count * size) };
  startPhases(frames, unknown, magnitudes, new Random(seed));
  const whole: BlockContext = { first, from: 0, to: x.length, heldFrom: 0, heldTo: x.length };
  for (let round = 0; ; round++) {
    frames.synthesise(x, undefined, whole);
    if (round === ROUNDS) break;
    frames.analyse(x, undefined, first);
    keepKnown(frames, unknown, magnitudes, known);
  }
  return x;
}

/** What the powers in the unknown bins ought to be: means of what is known around, straight in dB between. */
function expectedMagnitudes(
  powers: Float32Array,
  unknown: Uint8Array,
  count: number,
  bins: number,
  from: From,
): Float32Array {
  const out = new Float32Array(count * bins);
  const dbOf = (sum: number, n: number) => 10 * log10(Math.max(LEAST_POWER, sum / n));
  /** Between the nearest known neighbours along one direction. */
  const between = (index: number, step: number, length: number, position: number, most: number): number | null => {
    const side = (direction: 1 | -1) => {
      let i = 1;
      const inside = (n: number) => position + direction * n >= 0 && position + direction * n < length;
      while (inside(i) && unknown[index + direction * i * step]) i++;
      let [sum, n] = [0, 0];
      for (let j = i; j < i + most && inside(j) && !unknown[index + direction * j * step]; j++, n++)
        sum += powers[index + direction * j * step]!;
      return n === 0 ? null : { distance: i, db: dbOf(sum, n) };
    };
    const [low, high] = [side(-1), side(1)];
    if (!low || !high) return (low ?? high)?.db ?? null;
    return low.db + ((high.db - low.db) * low.distance) / (low.distance + high.distance);
  };
  for (let t = 0; t < count; t++)
    for (let k = 0; k < bins; k++) {
      const index = t * bins + k;
      if (!unknown[index]) continue;
      const time = from === "frequency" ? null : between(index, bins, count, t, AROUND_HOPS);
      const frequency = from === "time" ? null : between(index, 1, bins, k, AROUND_BINS);
      const all = [time, frequency].filter((db) => db !== null);
      const db = all.length === 0 ? -200 : all.reduce((sum, v) => sum + v, 0) / all.length;
      out[index] = exp10(db / 20);
    }
  return out;
}

/** Phases go on from the frame before by what they turned last; where nothing sounded, they are drawn. */
function startPhases(frames: Stft, unknown: Uint8Array, magnitudes: Float32Array, random: Random): void {
  const { size, bins, count, re, im } = frames;
  for (let t = 0; t < count; t++)
    for (let k = 1; k < bins - 1; k++) {
      const index = t * bins + k;
      if (!unknown[index]) continue;
      const [a, b] = [(t - 1) * size + k, (t - 2) * size + k];
      let [c, s] = [random.between(-1, 1), random.between(-1, 1)];
      if (t >= 2) {
        // The last frame turned on by the angle between it and the one before.
        const turnRe = re[a]! * re[b]! + im[a]! * im[b]!;
        const turnIm = im[a]! * re[b]! - re[a]! * im[b]!;
        const turned = hypot(turnRe, turnIm);
        if (turned > LEAST_POWER) [c, s] = [re[a]! * turnRe - im[a]! * turnIm, re[a]! * turnIm + im[a]! * turnRe];
      }
      put(frames, t, k, magnitudes[index]!, c, s);
    }
}

function keepKnown(
  frames: Stft,
  unknown: Uint8Array,
  magnitudes: Float32Array,
  known: { re: Float32Array; im: Float32Array },
): void {
  const { size, bins, count, re, im } = frames;
  for (let t = 0; t < count; t++)
    for (let k = 0; k < bins; k++) {
      const index = t * bins + k;
      const i = t * size + k;
      if (unknown[index]) put(frames, t, k, magnitudes[index]!, re[i]!, im[i]!);
      else {
        const j = t * size + ((size - k) & (size - 1));
        [re[i], im[i], re[j], im[j]] = [known.re[i]!, known.im[i]!, known.re[j]!, known.im[j]!];
      }
    }
}

/** Gives a bin, and its mirror image, a magnitude and the direction of (c, s). */
function put({ size, re, im }: Stft, t: number, k: number, magnitude: number, c: number, s: number): void {
  const length = hypot(c, s);
  const scale = length > 0 ? magnitude / length : 0;
  const [i, j] = [t * size + k, t * size + size - k];
  [re[i], im[i], re[j], im[j]] = [c * scale, s * scale, c * scale, -s * scale];
}
