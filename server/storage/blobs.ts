/**
 * Blobs: originals, decoded sound, overviews, masters. Each is a row in the database with what it is known by and how
 * many rows refer to it (counted by triggers, migration 005), and a file in the store. Bytes are verified before they
 * are given out; what comes again heals what is missing or damaged. Nothing here removes anything: the sweeper does.
 */
import { rm, stat } from "node:fs/promises";
import { join } from "node:path";
import type { ByteSource } from "@core/files/bytes";
import { FolderBlobs, type BlobDraft, type BlobStore } from "./blob-store";
import { openFile, type OpenFile } from "./byte-files";
import { DamagedBlob, digestFile, verifyAll, verifyingFile, type Digest } from "./checksums";
import { config } from "../config";
import { row, rows } from "../db/database";
import { log } from "../log";
import { ObjectBlobs } from "./object-blobs";

function chosenStore(): BlobStore {
  const folder = join(config.dataFolder, "blobs");
  if (!config.store.startsWith("s3://")) return new FolderBlobs(config.store || folder);
  return new ObjectBlobs(config.store, config.s3, new FolderBlobs(folder));
}

/** Digests that were looked up, the newest last; blobs never change, so they hold. */
const digests = new Map<string, Digest>();
const MOST_DIGESTS = 500;

function remember(digest: Digest): Digest {
  digests.delete(digest.hash);
  digests.set(digest.hash, digest);
  const [oldest] = digests.keys();
  if (digests.size > MOST_DIGESTS) digests.delete(oldest!);
  return digest;
}

/** Files that were read through and found whole, as they were then. */
const whole = new Map<string, string>();
const MOST_WHOLE = 5000;

async function stateOf(path: string): Promise<string> {
  const { ino, size, mtimeMs, ctimeMs } = await stat(path);
  return `${ino} ${size} ${mtimeMs} ${ctimeMs}`;
}

class Blobs {
  constructor(readonly store: BlobStore) {}

  draft(): Promise<BlobDraft> {
    return this.store.draftFor((path, digest) => this.adopt(path, digest));
  }

  /** Takes a finished file over. What is there already is kept where it is whole, and replaced where it is not. */
  async adopt(path: string, known?: Digest): Promise<Digest> {
    const digest = known ?? (await digestFile(path));
    // The row comes first and is locked by it: the sweeper, which looks again under that lock, leaves it alone.
    await rows(
      `insert into blob (hash, bytes, checksums) values ($1, $2, $3) on conflict (hash) do update
       set bytes = excluded.bytes, checksums = excluded.checksums, touched_at = now()`,
      [digest.hash, digest.bytes, digest.checksums],
    );
    remember(digest);
    if (await this.isWhole(digest.hash)) await rm(path, { force: true });
    else await this.store.adopt(path, digest);
    return digest;
  }

  /** Whether a blob is there, with all its bytes as they were kept. */
  async isWhole(hash: string): Promise<boolean> {
    try {
      if ((await this.store.size(hash)) === undefined) return false;
      await this.fileOf(hash);
      return true;
    } catch (error) {
      if (error instanceof DamagedBlob) return false;
      throw error;
    }
  }

  /** What a blob is known by. @throws DamagedBlob where it is read for that, and is something else */
  async digestOf(hash: string): Promise<Digest> {
    const known = digests.get(hash);
    if (known) return remember(known);
    const found = await row<{ bytes: number; checksums: Buffer | null }>(
      "select bytes, checksums from blob where hash = $1",
      [hash],
    );
    if (found?.checksums) return remember({ hash, bytes: found.bytes, checksums: found.checksums });
    // Kept before there were checksums.
    const digest = await digestFile(await this.store.fileOf(hash));
    if (digest.hash !== hash) throw damaged(hash);
    await rows("update blob set bytes = $2, checksums = $3 where hash = $1", [hash, digest.bytes, digest.checksums]);
    return remember(digest);
  }

  /** A file of this machine with the blob's bytes, all of them verified; not to be written to. @throws DamagedBlob */
  async fileOf(hash: string): Promise<string> {
    const path = await this.store.fileOf(hash);
    const state = await stateOf(path);
    if (whole.get(path) === state) return path;
    const file = await openFile(path);
    try {
      await verifyAll(file, await this.digestOf(hash));
    } catch (error) {
      if (error instanceof DamagedBlob && (await this.store.refetch(hash))) return path; // checked as it came
      throw error instanceof DamagedBlob ? damaged(hash) : error;
    } finally {
      await file.close();
    }
    whole.set(path, state);
    const [oldest] = whole.keys();
    if (whole.size > MOST_WHOLE) whole.delete(oldest!);
    return path;
  }

  /** For reading: each chunk is verified before it is given out. @throws when there is no such blob */
  async open(hash: string): Promise<OpenFile> {
    const digest = await this.digestOf(hash);
    return verifyingFile(await this.store.open(hash), digest);
  }

  /** For the sweeper alone, which knows that nothing refers to it. */
  async remove(hash: string): Promise<void> {
    digests.delete(hash);
    await this.store.remove(hash);
  }

  size = (hash: string): Promise<number | undefined> => this.store.size(hash);
  free = (): Promise<number> => this.store.free();
  workFolder = (): Promise<string> => this.store.workFolder();
  sweepDrafts = (): Promise<void> => this.store.sweepDrafts();
}

function damaged(hash: string): DamagedBlob {
  log.error({ blob: hash }, "a blob is damaged");
  return new DamagedBlob(hash);
}

export const blobs = new Blobs(chosenStore());

/** Reads a blob, and closes it whatever happens. */
export async function withBlob<Result>(hash: string, work: (source: ByteSource) => Promise<Result>): Promise<Result> {
  const file = await blobs.open(hash);
  try {
    return await work(file);
  } finally {
    await file.close();
  }
}
