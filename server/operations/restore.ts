/** A studio from a backup: every blob is read through and proven by its hash, then the database is put back at once. */
import { resolve } from "node:path";
import { counted } from "@core/audio/format";
import { Cancelled } from "@core/audio/cancellation";
import { appliedMigrations, knownMigrations, migrate, row, rows } from "../db/database";
import { log } from "../log";
import { blobs } from "../storage/blobs";
import { hashFile, openFile } from "../storage/byte-files";
import { BackupFolder, type Manifest } from "./backup-folder";
import { runPostgresTool } from "./postgres-tools";

export interface RestoreReport {
  snapshot: string;
  takenAt: string;
  projects: number;
  /** All of them were proven by their hashes. */
  blobs: number;
  bytes: number;
  /** What was damaged or missing already when the backup was taken. */
  lost: string[];
}

export interface RestoreOptions {
  /** The newest without. */
  snapshot?: string | undefined;
  signal?: AbortSignal | undefined;
  onProgress?: ((fraction: number) => void) | undefined;
}

/**
 * Restores into a studio that is empty. Nothing of it is touched before all of the backup was found to be there.
 * @throws Error where it is not empty, or the backup is not whole
 */
export async function restore(place: string, options: RestoreOptions = {}): Promise<RestoreReport> {
  const backup = new BackupFolder(resolve(place));
  await refuseFullStudio();
  const snapshot = options.snapshot ?? (await backup.snapshots()).at(-1);
  if (snapshot === undefined) throw new Error(`There is no backup in ${backup.folder}.`);
  const manifest = await backup.manifestOf(snapshot);
  await refuseNewer(manifest);
  await proveDump(backup, snapshot, manifest);
  await refuseIncomplete(backup, manifest);
  const bytes = await restoreBlobs(backup, manifest, options);
  await restoreDatabase(backup.dumpOf(snapshot), options.signal);
  const { projects } = (await row<{ projects: number }>("select count(*)::int as projects from project"))!;
  const report = {
    snapshot,
    takenAt: manifest.takenAt,
    projects,
    blobs: manifest.blobs.length,
    bytes,
    lost: manifest.lost,
  };
  log.info({ ...report, lost: report.lost.length }, "restored");
  return report;
}

async function refuseFullStudio(): Promise<void> {
  if ((await appliedMigrations()).length === 0) return;
  const { projects } = (await row<{ projects: number }>("select count(*)::int as projects from project"))!;
  if (projects > 0)
    throw new Error(
      `This studio holds ${counted(projects, "project")}: a backup is restored into an empty one. Start one on another data folder (“RESONUM_DATA=… npm run studio”), and restore there.`,
    );
}

async function refuseNewer({ migrations }: Manifest): Promise<void> {
  const known = new Set(await knownMigrations());
  const unknown = migrations.find((name) => !known.has(name));
  if (unknown)
    throw new Error(
      `The backup was made by a newer version of Resonum (${unknown} is not known here): restore it with that one.`,
    );
}

async function proveDump(backup: BackupFolder, snapshot: string, { database }: Manifest): Promise<void> {
  const found = await hashFile(backup.dumpOf(snapshot)).catch(() => undefined);
  if (found?.hash !== database.sha256)
    throw new Error(
      `The dump of the database in the snapshot ${snapshot} is ${found ? "damaged" : "missing"}: restore another snapshot.`,
    );
}

/** Told before anything is written; whether bytes are right is proven as they are read. */
async function refuseIncomplete(backup: BackupFolder, { blobs: wanted }: Manifest): Promise<void> {
  const wrong: string[] = [];
  for (const [hash, bytes] of wanted) if ((await backup.sizeOf(hash)) !== bytes) wrong.push(hash);
  if (wrong.length > 0)
    throw new Error(
      `${wrong.length} of ${wanted.length} blobs are missing from the backup or cut off, ${wrong[0]} first: restore another snapshot, or copy the backup again.`,
    );
}

async function restoreBlobs(
  backup: BackupFolder,
  { blobs: wanted }: Manifest,
  options: RestoreOptions,
): Promise<number> {
  const total = wanted.reduce((sum, [, bytes]) => sum + bytes, 0);
  let done = 0;
  for (const [hash, bytes] of wanted) {
    if (options.signal?.aborted) throw new Cancelled();
    await restoreBlob(backup, hash);
    done += bytes;
    options.onProgress?.(total > 0 ? done / total : 1);
  }
  return total;
}

/** Copies a blob from a backup into the store, in the place of what there may be. @throws Error where it is damaged */
export async function restoreBlob(backup: BackupFolder, hash: string): Promise<void> {
  const found = await backup.find(hash);
  if (!found)
    throw new Error(`The blob ${hash} is damaged in the backup: restore another snapshot, or copy the backup again.`);
  const draft = await blobs.store.draft();
  try {
    const file = await openFile(found.path);
    try {
      const sink = draft.sink();
      for (let at = 0; at < file.size; at += READ_BYTES)
        await sink.write(await file.read(at, Math.min(READ_BYTES, file.size - at)));
    } finally {
      await file.close();
    }
    const { hash: written } = await draft.commit();
    if (written !== hash)
      throw new Error(`The blob ${hash} was not written as it was read: the store's disk is not to be trusted.`);
  } finally {
    await draft.discard();
  }
}

const READ_BYTES = 1 << 20;

/** All at once, or nothing; then brought to this version. */
async function restoreDatabase(dump: string, signal: AbortSignal | undefined): Promise<void> {
  await rows("drop schema public cascade");
  await rows("create schema public");
  try {
    await runPostgresTool(
      "pg_restore",
      ["--no-owner", "--no-privileges", "--single-transaction", "--exit-on-error", "--schema=public", dump],
      signal,
    );
  } finally {
    await migrate(); // an empty studio again where it failed
  }
  await dropUnfinished();
}

/** What was under way when the backup was made, its own job above all, is not taken up again. */
async function dropUnfinished(): Promise<void> {
  await rows("delete from worker");
  await rows("delete from job where queue = 'backup'");
  await rows("delete from session"); // who was signed out since is not signed in again
  await rows("delete from backup where finished_at is null");
}
