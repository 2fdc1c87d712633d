import { exp, log } from "../math/deterministic-math";
import { dbToGain } from "../audio/decibel";
import { formatDb } from "../audio/format";
import { SincInterpolation } from "../dsp/sinc-interpolation";
import type { Hertz, Seconds } from "../audio/units";
import { loadNetwork, NETWORK_RATE, voiceIn } from "./network/network";
import type { RepairDefinition } from "./repair";
import { frameLengthNear, forChannelPairs, Stft } from "../dsp/stft";

const parameters = {
  maxReductionDb: {
    kind: "number",
    label: "Depth",
    help: "How far all that is no voice is turned down at most",
    unit: "dB",
    min: 0,
    max: 40,
    step: 0.5,
    scale: "linear",
    default: 20,
  },
  firmness: {
    kind: "number",
    label: "Firmness",
    help: "How readily what may be voice is turned down: more leaves less noise between and under words, and less of the voice",
    unit: "×",
    min: 0.5,
    max: 3,
    step: 0.1,
    scale: "log",
    default: 1.5,
  },
} as const;

const FRAME: Seconds = 0.043;
/** The network hears that long before it is asked: it listens for a second or two. */
const WARMING: Seconds = 2.5;
/** Above this it was taught too little: what it says of the band below is taken. */
const TAUGHT: readonly [Hertz, Hertz] = [8_000, 16_000];
/** Keeps silence at nothing. */
const NOTHING = 1e-20;

/**
 * How much of each bin is voice by what the network has left of it, evened out with the bins beside it, in the place
 * of `voice`. Shape of both: [frame][bin].
 */
function shareOf(whole: Float32Array, voice: Float32Array, bins: number, hertzPerBin: Hertz, power: number): void {
  const [from, to] = TAUGHT.map((hertz) => Math.min(bins - 1, Math.round(hertz / hertzPerBin))) as [number, number];
  const gain = (left: number, all: number) =>
    left >= all ? 1 : left > 0 ? exp(power * log(left / (all + NOTHING))) : 0;
  const shares = new Float32Array(bins);
  for (let at = 0; at < whole.length; at += bins) {
    const sum = (x: Float32Array, first: number, last: number) => {
      let total = 0;
      for (let k = Math.max(0, first); k <= Math.min(bins - 1, last); k++) total += x[at + k]!;
      return total;
    };
    for (let k = 0; k <= to; k++) shares[k] = gain(sum(voice, k - 1, k + 1), sum(whole, k - 1, k + 1));
    shares.fill(gain(sum(voice, from, to), sum(whole, from, to)), to + 1);
    voice.set(shares, at);
  }
}

/**
 * Keeps a voice and turns down all else, also what changes from moment to moment: a network tells what is voice, and
 * each bin of the recording is turned down by how little of it that is. So the voice keeps its own phases and colour:
 * what the network gives is never heard.
 */
export const speechDenoise: RepairDefinition<typeof parameters> = {
  id: "speech-denoise",
  name: "Speech denoise",
  help: "Keeps a voice and turns down all else, also what changes or comes at once, such as traffic or a keyboard: by a trained network that knows speech, and no music",
  parameters,
  contextSeconds: () => WARMING,
  isNeutral: ({ maxReductionDb }) => maxReductionDb === 0,
  prepare: loadNetwork,
  create({ maxReductionDb, firmness }, _, { sampleRate }) {
    const frames = new Stft(frameLengthNear(FRAME, sampleRate));
    const { bins } = frames;
    const least = dbToGain(-maxReductionDb);
    const [there, back] = [sampleRate / NETWORK_RATE, NETWORK_RATE / sampleRate].map(
      (ratio) => new SincInterpolation(ratio),
    );
    const left = (x: Float32Array) => {
      if (sampleRate === NETWORK_RATE) return voiceIn(x);
      const out = new Float32Array(x.length);
      out.set(back!.all(voiceIn(there!.all(x))).subarray(0, x.length));
      return out;
    };
    return (block, place) => {
      // All channels alike, by the one that holds most of the voice: nothing moves to a side.
      let gains: Float32Array | undefined;
      for (const channel of block) {
        frames.analyse(channel, left(channel), place.first);
        const [whole, kept] = [0, 1].map(() => new Float32Array(frames.count * bins)) as [Float32Array, Float32Array];
        for (let t = 0; t < frames.count; t++) frames.powers(t, whole, kept, t * bins);
        shareOf(whole, kept, bins, sampleRate / frames.size, firmness / 2);
        if (gains) for (let i = 0; i < kept.length; i++) gains[i] = Math.max(gains[i]!, kept[i]!);
        else gains = kept;
      }
      if (!gains) return;
      for (let i = 0; i < gains.length; i++) gains[i] = Math.max(least, gains[i]!);
      forChannelPairs(block, (a, b) => {
        frames.analyse(a, b, place.first);
        for (let t = 0; t < frames.count; t++) frames.apply(t, gains, gains, t * bins);
        frames.synthesise(a, b, place);
      });
    };
  },
  summary: ({ maxReductionDb }) => `${formatDb(maxReductionDb)} dB`,
};
