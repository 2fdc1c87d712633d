/** Damage to files, as disks, cables and people do it; seeded, so that it can be repeated. */
import type { Random } from "../math/random";

const BYTES = [0, 1, 0x7f, 0x80, 0xff];

/** A whole number below `below`. */
export const below = (random: Random, limit: number): number => Math.min(limit - 1, Math.floor(random.next() * limit));

/** One change: a byte, a word, a stretch that is gone, doubled or noise, or the end cut off. */
export function mutated(bytes: Uint8Array, random: Random): Uint8Array {
  // Headers are where readers decide: half of all damage is there.
  const reach = random.next() < 0.5 ? Math.min(bytes.length, 400) : bytes.length;
  const at = below(random, Math.max(1, reach));
  const length = 1 + below(random, 64);
  const byte = BYTES[below(random, BYTES.length)]!;
  const out = bytes.slice();
  switch (below(random, 6)) {
    case 0:
      return out.fill(byte, at, at + 1);
    case 1:
      return out.fill(byte, at, at + 4);
    case 2:
      return bytes.slice(0, at);
    case 3:
      return joined(bytes.subarray(0, at), bytes.subarray(at + length));
    case 4:
      return joined(bytes.subarray(0, at + length), bytes.subarray(at));
    default:
      for (let i = at; i < Math.min(out.length, at + length); i++) out[i] = below(random, 256);
      return out;
  }
}

function joined(one: Uint8Array, other: Uint8Array): Uint8Array {
  const out = new Uint8Array(one.length + other.length);
  out.set(one);
  out.set(other, one.length);
  return out;
}
