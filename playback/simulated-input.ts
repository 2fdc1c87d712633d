/** A made-up microphone: a voice-like sound in phrases, in a quiet room. For trying, and for tests. */
import { Random } from "@core/math/random";

const SECONDS = 12;
const ROOM_LEVEL = 0.0006; // about −64 dBFS
const VOICE_LEVEL = 0.12;
const HARMONICS = 14;
/** Lengths of phrases and pauses, seconds. */
const PHRASES: readonly [from: number, to: number][] = [
  [0.6, 3.1],
  [3.9, 5.2],
  [6.0, 9.4],
  [10.1, 11.4],
];

export function simulatedInput(sampleRate: number): Float32Array<ArrayBuffer> {
  const random = new Random(41);
  const x = new Float32Array(SECONDS * sampleRate);
  let phase = 0;
  for (let i = 0; i < x.length; i++) {
    const seconds = i / sampleRate;
    x[i] = ROOM_LEVEL * random.between(-1, 1);
    const phrase = PHRASES.find(([from, to]) => seconds >= from && seconds < to);
    const pitch = 118 + 14 * Math.sin(2 * Math.PI * 0.7 * seconds) + 6 * Math.sin(2 * Math.PI * 3.1 * seconds);
    phase += pitch / sampleRate;
    if (!phrase) continue;
    const edge = Math.min(1, (seconds - phrase[0]) / 0.03, (phrase[1] - seconds) / 0.08);
    const syllable = Math.max(0, Math.sin(2 * Math.PI * 2.3 * (seconds - phrase[0]))) ** 0.6;
    let voice = 0;
    for (let h = 1; h <= HARMONICS; h++) {
      const vowel = 1 / (1 + ((h * pitch - 650 - 250 * Math.sin(seconds * 5)) / 380) ** 2);
      voice += (vowel / h ** 0.4) * Math.sin(2 * Math.PI * h * phase);
    }
    x[i]! += VOICE_LEVEL * edge * syllable * voice;
  }
  return x;
}
