/** Pictures for tests and for the demo: PNG without loss. */
import { crc32, deflateSync } from "node:zlib";

function chunk(type: string, body: Buffer): Buffer {
  const named = Buffer.concat([Buffer.from(type, "ascii"), body]);
  const [length, sum] = [Buffer.alloc(4), Buffer.alloc(4)];
  length.writeUInt32BE(body.length);
  sum.writeUInt32BE(crc32(named));
  return Buffer.concat([length, named, sum]);
}

/** An RGB picture of `size` × `size`, each pixel by `inkAt` of its place, 0…1. */
export function makePng(size: number, inkAt: (x: number, y: number) => number[] = () => [128, 128, 128]): Buffer {
  const rows = Buffer.alloc(size * (1 + 3 * size));
  for (let y = 0; y < size; y++)
    for (let x = 0; x < size; x++) rows.set(inkAt(x / size, y / size), y * (1 + 3 * size) + 1 + 3 * x);
  const head = Buffer.alloc(13);
  head.writeUInt32BE(size, 0);
  head.writeUInt32BE(size, 4);
  head.set([8, 2, 0, 0, 0], 8);
  const signature = Buffer.from([0x89, 0x50, 0x4e, 0x47, 0x0d, 0x0a, 0x1a, 0x0a]);
  return Buffer.concat([
    signature,
    chunk("IHDR", head),
    chunk("IDAT", deflateSync(rows)),
    chunk("IEND", Buffer.alloc(0)),
  ]);
}
