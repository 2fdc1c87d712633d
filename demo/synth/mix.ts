import { emptyPlanar, type Planar } from "@core/audio/units";
import { RATE } from "./instruments";

/** Adds `x` to a channel from `seconds` on. */
export function add(channel: Float32Array, x: Float32Array, seconds: number, gain: number): void {
  const at = Math.round(seconds * RATE);
  const count = Math.min(x.length, channel.length - at);
  for (let i = Math.max(0, -at); i < count; i++) channel[at + i]! += gain * x[i]!;
}

/** A stereo desk: sounds at a place between the sides, and a room that they all stand in. */
export class StereoDesk {
  readonly dry: Planar;
  readonly send: Float32Array;

  constructor(seconds: number) {
    const frames = Math.round(seconds * RATE);
    this.dry = emptyPlanar(2, frames);
    this.send = new Float32Array(frames);
  }

  /** @param place −1 left … 1 right */
  add(x: Float32Array, seconds: number, gain: number, place: number, roomSend = 0.25): void {
    const angle = ((place + 1) * Math.PI) / 4;
    add(this.dry[0]!, x, seconds, gain * Math.cos(angle));
    add(this.dry[1]!, x, seconds, gain * Math.sin(angle));
    add(this.send, x, seconds, gain * roomSend);
  }

  /** Dry and room together, with short fades at the ends, as loud as `peak`. */
  mixed(decaySeconds: number, peak: number): Planar {
    const [left, right] = room(this.send, decaySeconds, 2);
    const block = [left!, right!].map((wet, side) => this.dry[side]!.map((v, i) => v + wet[i]!));
    let highest = 0;
    for (const channel of block) for (const v of channel) highest = Math.max(highest, Math.abs(v));
    const gain = peak / highest;
    return block.map((channel) => {
      const fade = Math.round(0.02 * RATE);
      return channel.map((v, i) => v * gain * Math.min(1, i / fade, (channel.length - 1 - i) / fade));
    });
  }
}

const DELAYS = [1557, 1617, 1491, 1422, 1277, 1356, 1188, 1116];

/** Rows of a Hadamard matrix: outputs that share no direction. */
const signOf = (line: number, row: number): number => {
  let bits = line & row;
  bits ^= bits >> 2;
  bits ^= bits >> 1;
  return bits & 1 ? -1 : 1;
};

/** A room of eight damped delay lines in a feedback matrix (Jot 1991), heard at `outputs` places. */
export function room(send: Float32Array, decaySeconds: number, outputs: number): Float32Array[] {
  const lines = DELAYS.map((delay) => new Float32Array(Math.round(delay * 1.7)));
  const at = lines.map(() => 0);
  const damped = new Float64Array(lines.length);
  const gains = lines.map(({ length }) => 10 ** ((-3 * length) / (decaySeconds * RATE)));
  const out = Array.from({ length: outputs }, () => new Float32Array(send.length));
  for (let i = 0; i < send.length; i++) {
    let sum = 0;
    for (let k = 0; k < lines.length; k++) {
      const y = lines[k]![at[k]!]!;
      damped[k]! += (y - damped[k]!) * 0.62;
      sum += damped[k]!;
    }
    for (let k = 0; k < lines.length; k++) {
      const back = damped[k]! - (2 / lines.length) * sum;
      lines[k]![at[k]!] = send[i]! + gains[k]! * back;
      if (++at[k]! === lines[k]!.length) at[k] = 0;
    }
    for (let o = 0; o < outputs; o++) {
      let y = 0;
      for (let k = 0; k < lines.length; k++) y += signOf(k, o + 1) * damped[k]!;
      out[o]![i] = 0.3 * y;
    }
  }
  return out;
}
