/**
 * A backup while people work: the database as it is at one moment (an exported snapshot that the dump and the list of
 * blobs share), then the blobs that it refers to, as far as the folder does not have them.
 */
import { resolve, sep } from "node:path";
import { Cancelled } from "@core/audio/cancellation";
import { config } from "../config";
import { row, rows } from "../db/database";
import { whileBlobsStay } from "../db/locks";
import { log } from "../log";
import { Problem } from "../problem";
import { blobs } from "../storage/blobs";
import { explainDiskFull } from "../storage/free-space";
import { hashFile } from "../storage/byte-files";
import { BackupFolder } from "./backup-folder";
import { runPostgresTool } from "./postgres-tools";

export interface BackupReport {
  snapshot: string;
  /** Of the whole studio. */
  blobs: number;
  bytes: number;
  /** Of those that were not in the folder. */
  copied: number;
  copiedBytes: number;
  /** Hashes of blobs that are damaged or missing in the studio, and not in the folder either. */
  lost: string[];
}

export interface BackupOptions {
  /** Snapshots that are kept, the newest; all without. */
  keep?: number | undefined;
  signal?: AbortSignal | undefined;
  onProgress?: ((fraction: number) => void) | undefined;
}

interface Referenced {
  hash: string;
  bytes: number | null;
}

/** Makes a backup in a folder, and notes it in the studio. @throws Cancelled */
export async function backUp(place: string, options: BackupOptions = {}): Promise<BackupReport> {
  const backup = new BackupFolder(resolve(place));
  const { id } = (await row<{ id: string }>("insert into backup (place) values ($1) returning id", [backup.folder]))!;
  try {
    refuseOwnFolders(backup.folder);
    const report = await backup.alone(() => takeSnapshot(backup, options));
    await rows(
      `update backup set finished_at = now(), snapshot = $2, blobs = $3, bytes = $4, copied_bytes = $5, lost = $6
       where id = $1`,
      [id, report.snapshot, report.blobs, report.bytes, report.copiedBytes, report.lost.length],
    );
    log.info({ ...report, lost: report.lost.length }, "backed up");
    return report;
  } catch (error) {
    const explained = explain(error as NodeJS.ErrnoException, backup.folder);
    await rows("update backup set finished_at = now(), problem = $2 where id = $1", [id, explained.message]).catch(
      () => undefined,
    );
    throw explained;
  }
}

/** What the machine says of folders, in words for a person. */
function explain(error: NodeJS.ErrnoException, folder: string): Error {
  if (error.code === "EACCES" || error.code === "EPERM" || error.code === "EROFS")
    return new Error(`The studio may not write to ${folder}: let its account own that folder, or choose another one.`);
  if (["ENOTDIR", "ENOENT", "EEXIST"].includes(error.code ?? ""))
    return new Error(`${folder} is no folder, or its disk is not there.`);
  return explainDiskFull(error);
}

/** A backup that lies in what it is of would be lost with it. @throws Problem */
export function refuseOwnFolders(place: string): void {
  const inside = resolve(place) + sep;
  const own = [config.dataFolder, ...(config.store && !config.store.startsWith("s3://") ? [config.store] : [])];
  for (const folder of own)
    if (inside.startsWith(resolve(folder) + sep))
      throw new Problem(
        422,
        "Not there",
        `${place} lies in the studio's own folder ${folder}: choose one on another disk.`,
      );
}

async function takeSnapshot(backup: BackupFolder, { keep, signal, onProgress }: BackupOptions): Promise<BackupReport> {
  await backup.removeUnfinished();
  const takenAt = new Date();
  const snapshot = await backup.begin(takenAt);
  const { found, copied, migrations } = await whileBlobsStay(async (client) => {
    await client.query("begin isolation level repeatable read read only");
    try {
      const [{ id }] = (await rows<{ id: string }>("select pg_export_snapshot() as id", [], client)) as [
        { id: string },
      ];
      const found = await rows<Referenced>(
        "select hash, bytes from blob where reference_count > 0 order by hash",
        [],
        client,
      );
      const migrations = await rows<{ name: string }>("select name from migration order by name", [], client);
      await runPostgresTool(
        "pg_dump",
        ["--format=custom", "--no-owner", "--no-privileges", `--snapshot=${id}`, `--file=${backup.dumpOf(snapshot)}`],
        signal,
      );
      return { found, migrations, copied: await copyMissing(backup, found, signal, onProgress) };
    } finally {
      await client.query("rollback").catch(() => undefined);
    }
  });
  const lost = new Set(copied.lost);
  const { hash: sha256, bytes } = await hashFile(backup.dumpOf(snapshot));
  const kept = found.filter(({ hash }) => !lost.has(hash));
  const sizes: [string, number][] = [];
  for (const { hash, bytes: size } of kept) sizes.push([hash, size ?? (await backup.sizeOf(hash))!]);
  await backup.finish(snapshot, {
    format: 1,
    takenAt: takenAt.toISOString(),
    migrations: migrations.map(({ name }) => name),
    database: { sha256, bytes },
    blobs: sizes,
    lost: copied.lost,
  });
  if (keep !== undefined) await backup.prune(Math.max(1, keep));
  return {
    snapshot,
    blobs: kept.length,
    bytes: sizes.reduce((sum, [, size]) => sum + size, 0),
    ...copied,
  };
}

/** Copies what the folder does not have; what cannot be read is told, and the rest goes on. */
async function copyMissing(
  backup: BackupFolder,
  found: readonly Referenced[],
  signal: AbortSignal | undefined,
  onProgress: BackupOptions["onProgress"],
): Promise<Pick<BackupReport, "copied" | "copiedBytes" | "lost">> {
  const there = await backup.kept();
  const missing = found.filter(({ hash }) => !there.has(hash));
  const total = missing.reduce((sum, { bytes }) => sum + (bytes ?? 0), 0);
  const done = { copied: 0, copiedBytes: 0, lost: [] as string[] };
  for (const { hash } of missing) {
    if (signal?.aborted) throw new Cancelled();
    if (!(await blobs.isWhole(hash))) {
      done.lost.push(hash);
      continue;
    }
    done.copiedBytes += await backup.keep(hash, await blobs.fileOf(hash));
    done.copied++;
    onProgress?.(total > 0 ? done.copiedBytes / total : 1);
  }
  return done;
}
