/** The cover of “Saltmarsh Hours”: a low sun over water in bands, as PNG. */
import { crc32, deflateSync } from "node:zlib";

const SIZE = 600;
const SKY = [232, 214, 182] as const;
const WATER = [42, 68, 92] as const;
const SUN = [196, 92, 44] as const;

type Ink = readonly [number, number, number];
const mixed = (a: Ink, b: Ink, share: number): number[] => a.map((v, i) => Math.round(v + (b[i]! - v) * share));

function inkAt(x: number, y: number): number[] {
  const horizon = 0.58;
  const fromSun = Math.hypot(x - 0.62, y - horizon + 0.1);
  if (y < horizon) return fromSun < 0.13 ? [...SUN] : mixed(SKY, SUN, Math.max(0, 0.5 - fromSun));
  const depth = (y - horizon) / (1 - horizon);
  const band = Math.sin(60 * Math.sqrt(depth)) > 0.4 && Math.abs(x - 0.62) < 0.08 + depth * 0.3;
  return mixed(WATER, band ? SUN : SKY, band ? 0.55 : 0.25 * (1 - depth));
}

function chunk(type: string, body: Buffer): Buffer {
  const named = Buffer.concat([Buffer.from(type, "ascii"), body]);
  const [length, sum] = [Buffer.alloc(4), Buffer.alloc(4)];
  length.writeUInt32BE(body.length);
  sum.writeUInt32BE(crc32(named));
  return Buffer.concat([length, named, sum]);
}

export function makeCover(): Buffer {
  const rows = Buffer.alloc(SIZE * (1 + 3 * SIZE));
  for (let y = 0; y < SIZE; y++)
    for (let x = 0; x < SIZE; x++) rows.set(inkAt(x / SIZE, y / SIZE), y * (1 + 3 * SIZE) + 1 + 3 * x);
  const head = Buffer.alloc(13);
  head.writeUInt32BE(SIZE, 0);
  head.writeUInt32BE(SIZE, 4);
  head.set([8, 2, 0, 0, 0], 8);
  const signature = Buffer.from([0x89, 0x50, 0x4e, 0x47, 0x0d, 0x0a, 0x1a, 0x0a]);
  return Buffer.concat([
    signature,
    chunk("IHDR", head),
    chunk("IDAT", deflateSync(rows)),
    chunk("IEND", Buffer.alloc(0)),
  ]);
}
