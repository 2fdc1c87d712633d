/** Reads every blob through, and tells which are damaged, which are missing, and which files nothing knows of. */
import { blobs } from "../storage/blobs";
import { DamagedBlob } from "../storage/checksums";
import { rows } from "../db/database";
import type { BackupFolder } from "./backup-folder";
import { restoreBlob } from "./restore";

export interface ScrubReport {
  /** Blobs that were read through. */
  checked: number;
  /** Hashes of those whose bytes are not those that were kept. */
  damaged: string[];
  /** Of those that rows refer to and that are not there. */
  missing: string[];
  /** Of files in the store that are in no row: left by a crash, or put there by hand. */
  unknown: string[];
  /** Of damaged and missing ones that a backup made whole again; they are not among those any more. */
  repaired: string[];
}

/**
 * @param onProgress told after each blob, with the share that is done
 * @param backup that what is damaged or missing is taken from, as far as it has it
 */
export async function scrub(
  onProgress: (fraction: number) => void = () => undefined,
  backup?: BackupFolder,
): Promise<ScrubReport> {
  const known = await rows<{ hash: string; reference_count: number }>(
    "select hash, reference_count from blob order by hash",
  );
  const found: ScrubReport = { checked: 0, damaged: [], missing: [], unknown: [], repaired: [] };
  for (const { hash, reference_count } of known) {
    onProgress(found.checked++ / known.length);
    if ((await blobs.size(hash)) === undefined) {
      if (reference_count > 0) found.missing.push(hash);
    } else if (!(await isWholeNow(hash))) found.damaged.push(hash);
  }
  if (backup) await repairFrom(backup, found);
  const rowsOf = new Set(known.map(({ hash }) => hash));
  for await (const { hash } of blobs.store.list()) if (!rowsOf.has(hash)) found.unknown.push(hash);
  return found;
}

async function repairFrom(backup: BackupFolder, found: ScrubReport): Promise<void> {
  for (const list of [found.damaged, found.missing])
    for (const hash of [...list]) {
      if (!(await backup.find(hash))) continue;
      await restoreBlob(backup, hash);
      list.splice(list.indexOf(hash), 1);
      found.repaired.push(hash);
    }
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
