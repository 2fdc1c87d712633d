/**
 * Checksums of stretches of a file, so that any part of it can be verified when it is read, without reading the rest:
 * of each 256 KiB the first eight bytes of their SHA-256. They find what a disk or a cable has changed.
 */
import { createHash } from "node:crypto";
import { createReadStream } from "node:fs";
import type { OpenFile } from "./byte-files";
import { Problem } from "./problem";

export const STRETCH_BYTES = 256 * 1024;
const SUM_BYTES = 8;

/** What a file is known by. */
export interface Digest {
  /** SHA-256 of all of it. */
  hash: string;
  bytes: number;
  /** Of its stretches, one after the other. */
  checksums: Buffer;
}

const sumOf = (stretch: Uint8Array): Buffer => createHash("sha256").update(stretch).digest().subarray(0, SUM_BYTES);

/** Reads a file once for all that it is known by. */
export async function digestFile(path: string): Promise<Digest> {
  const whole = createHash("sha256");
  const sums: Buffer[] = [];
  let bytes = 0;
  let rest: Buffer = Buffer.alloc(0);
  for await (const chunk of createReadStream(path, { highWaterMark: STRETCH_BYTES })) {
    whole.update(chunk as Buffer);
    bytes += (chunk as Buffer).length;
    rest = rest.length > 0 ? Buffer.concat([rest, chunk as Buffer]) : (chunk as Buffer);
    for (; rest.length >= STRETCH_BYTES; rest = rest.subarray(STRETCH_BYTES))
      sums.push(sumOf(rest.subarray(0, STRETCH_BYTES)));
  }
  if (rest.length > 0) sums.push(sumOf(rest));
  return { hash: whole.digest("hex"), bytes, checksums: Buffer.concat(sums) };
}

/** A kept file is not what was kept. */
export class DamagedBlob extends Problem {
  constructor(hash: string) {
    super(
      500,
      "Damaged",
      "A file that is kept here is damaged: its bytes have changed on the disk, so they are not given out. " +
        "Add the recording or render the master again, and it is made whole; then have the disk checked.",
      { blob: hash },
    );
  }
}

/** The same file, where each stretch is verified before anything of it is given out. @throws DamagedBlob when read */
export function verified(file: OpenFile, { hash, bytes, checksums }: Digest): OpenFile {
  const known = new Uint8Array(Math.ceil(bytes / STRETCH_BYTES));
  return {
    size: file.size,
    close: () => file.close(),
    async read(offset, length) {
      if (file.size !== bytes) throw new DamagedBlob(hash);
      const end = Math.min(bytes, offset + length);
      if (end <= offset) return new Uint8Array(0);
      const first = Math.floor(offset / STRETCH_BYTES);
      const last = Math.floor((end - 1) / STRETCH_BYTES);
      if (known.subarray(first, last + 1).every(Boolean)) return file.read(offset, end - offset);
      const from = first * STRETCH_BYTES;
      const read = await file.read(from, (last + 1) * STRETCH_BYTES - from);
      for (let n = first; n <= last; n++) {
        if (known[n]) continue;
        const stretch = read.subarray(n * STRETCH_BYTES - from, (n + 1) * STRETCH_BYTES - from);
        if (!sumOf(stretch).equals(checksums.subarray(n * SUM_BYTES, (n + 1) * SUM_BYTES))) throw new DamagedBlob(hash);
        known[n] = 1;
      }
      return read.slice(offset - from, end - from); // a copy: views on it may need any alignment
    },
  };
}

/** Reads all of a file. @throws DamagedBlob */
export async function verifyAll(file: OpenFile, digest: Digest): Promise<void> {
  const checked = verified(file, digest);
  if (file.size !== digest.bytes) throw new DamagedBlob(digest.hash);
  for (let at = 0; at < digest.bytes; at += 4 * STRETCH_BYTES) await checked.read(at, 4 * STRETCH_BYTES);
}
