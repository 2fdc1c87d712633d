/** Reads every blob through, and tells which are damaged, which are missing, and which files nothing knows of. */
import { blobs } from "./blobs";
import { DamagedBlob } from "./checksums";
import { rows } from "../db/database";

export interface ScrubReport {
  /** Blobs that were read through. */
  checked: number;
  /** Hashes of those whose bytes are not those that were kept. */
  damaged: string[];
  /** Of those that rows refer to and that are not there. */
  missing: string[];
  /** Of files in the store that are in no row: left by a crash, or put there by hand. */
  unknown: string[];
}

/** @param onProgress told after each blob, with the share that is done */
export async function scrub(onProgress: (fraction: number) => void = () => undefined): Promise<ScrubReport> {
  const known = await rows<{ hash: string; reference_count: number }>(
    "select hash, reference_count from blob order by hash",
  );
  const found: ScrubReport = { checked: 0, damaged: [], missing: [], unknown: [] };
  for (const { hash, reference_count } of known) {
    onProgress(found.checked++ / known.length);
    if ((await blobs.size(hash)) === undefined) {
      if (reference_count > 0) found.missing.push(hash);
    } else if (!(await isWholeNow(hash))) found.damaged.push(hash);
  }
  const rowsOf = new Set(known.map(({ hash }) => hash));
  for await (const { hash } of blobs.store.list()) if (!rowsOf.has(hash)) found.unknown.push(hash);
  return found;
}

/** Reads it through now, whatever was found before. */
async function isWholeNow(hash: string): Promise<boolean> {
  try {
    const { bytes } = await blobs.digestOf(hash);
    const file = await blobs.open(hash);
    try {
      if (file.size !== bytes) return false;
      for (let at = 0; at < bytes; at += READ_BYTES) await file.read(at, READ_BYTES);
      return true;
    } finally {
      await file.close();
    }
  } catch (error) {
    if (error instanceof DamagedBlob) return false;
    throw error;
  }
}

const READ_BYTES = 1 << 20;
