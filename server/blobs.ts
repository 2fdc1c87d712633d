/**
 * Files addressed by the SHA-256 of their bytes: originals, decoded sound, overviews, masters. Written under a
 * temporary name, put on the disk, then renamed: a blob is whole or not there.
 */
import { randomUUID } from "node:crypto";
import { mkdir, open, readdir, rename, rm, stat, statfs } from "node:fs/promises";
import { dirname, join } from "node:path";
import type { ByteSink, ByteSource } from "@core/files/bytes";
import { FileSink, hashFile, openFile, type OpenFile } from "./byte-files";
import { config } from "./config";
import { ObjectBlobs } from "./object-blobs";

/** A blob while it is written. `restart` forgets what was written. */
export interface BlobDraft {
  sink(): ByteSink;
  restart(): Promise<ByteSink>;
  /** What was written so far, for reading back. Close it. */
  readBack(): Promise<OpenFile>;
  /** Completes the blob. */
  commit(): Promise<{ hash: string; bytes: number }>;
  /** Forgets it; harmless after a commit. */
  discard(): Promise<void>;
}

export interface BlobStore {
  /** Folder of this machine for work on blobs. */
  readonly folder: string;
  draft(): Promise<BlobDraft>;
  /** A new folder for work that leaves one file to be adopted; removed when its process is gone. */
  workFolder(): Promise<string>;
  /** A file of this machine with the blob's bytes, not to be written to. @throws when there is no such blob */
  fileOf(hash: string): Promise<string>;
  /** Takes a finished file over, under the hash that it is known to have. */
  adopt(path: string, hash: string): Promise<void>;
  /** @throws when there is no such blob */
  open(hash: string): Promise<OpenFile>;
  size(hash: string): Promise<number | undefined>;
  remove(hash: string): Promise<void>;
  /** Bytes free for new blobs on this machine. */
  free(): Promise<number>;
  /** Removes drafts whose process is gone. */
  sweepDrafts(): Promise<void>;
}

const HASH = /^[0-9a-f]{64}$/;

/** Blobs in a folder of this machine, or one that several share. */
export class FolderBlobs implements BlobStore {
  constructor(readonly folder: string) {}

  /** Where a blob lies: for child processes that need a path. */
  pathOf(hash: string): string {
    if (!HASH.test(hash)) throw new Error("not a blob's hash");
    return join(this.folder, hash.slice(0, 2), hash.slice(2));
  }

  get #temporary(): string {
    return join(this.folder, "temporary");
  }

  async fileOf(hash: string): Promise<string> {
    return this.pathOf(hash);
  }

  async workFolder(): Promise<string> {
    const path = join(this.#temporary, `${process.pid}-${randomUUID()}`);
    await mkdir(path, { recursive: true });
    return path;
  }

  draft(): Promise<BlobDraft> {
    return this.draftFor((path, hash) => this.adopt(path, hash));
  }

  /** A draft that `adopt` takes over when it is complete. */
  async draftFor(adopt: (path: string, hash: string) => Promise<void>): Promise<BlobDraft> {
    await mkdir(this.#temporary, { recursive: true });
    const path = join(this.#temporary, `${process.pid}-${randomUUID()}`);
    let file = await FileSink.create(path);
    let open = true;
    const close = async () => {
      if (open) await file.close();
      open = false;
    };
    return {
      sink: () => file,
      restart: async () => {
        await close();
        await rm(path, { force: true });
        file = await FileSink.create(path);
        open = true;
        return file;
      },
      readBack: async () => {
        await file.sync();
        return openFile(path);
      },
      commit: async () => {
        await file.sync();
        await close();
        const { hash, bytes } = await hashFile(path);
        await adopt(path, hash);
        return { hash, bytes };
      },
      discard: async () => {
        await close();
        await rm(path, { force: true });
      },
    };
  }

  async adopt(path: string, hash: string): Promise<void> {
    const to = this.pathOf(hash);
    if ((await this.size(hash)) !== undefined) {
      await rm(path);
      return;
    }
    await mkdir(dirname(to), { recursive: true });
    const handle = await open(path, "r+");
    await handle.sync();
    await handle.close();
    await rename(path, to);
    const folder = await open(dirname(to), "r");
    await folder.sync().catch(() => undefined); // not every file system syncs folders
    await folder.close();
  }

  open(hash: string): Promise<OpenFile> {
    return openFile(this.pathOf(hash));
  }

  async size(hash: string): Promise<number | undefined> {
    return stat(this.pathOf(hash)).then(
      ({ size }) => size,
      () => undefined,
    );
  }

  async remove(hash: string): Promise<void> {
    await rm(this.pathOf(hash), { force: true });
  }

  async sweepDrafts(): Promise<void> {
    const names = await readdir(this.#temporary).catch(() => [] as string[]);
    for (const name of names) {
      if (!isRunning(Number(name.split("-")[0])))
        await rm(join(this.#temporary, name), { recursive: true, force: true });
    }
  }

  async free(): Promise<number> {
    await mkdir(this.folder, { recursive: true });
    const { bavail, bsize } = await statfs(this.folder);
    return bavail * bsize;
  }
}

function isRunning(pid: number): boolean {
  try {
    process.kill(pid, 0);
    return true;
  } catch (error) {
    return (error as NodeJS.ErrnoException).code === "EPERM";
  }
}

function chosenStore(): BlobStore {
  const folder = join(config.dataFolder, "blobs");
  if (!config.store.startsWith("s3://")) return new FolderBlobs(config.store || folder);
  return new ObjectBlobs(config.store, config.s3, new FolderBlobs(folder));
}

export const blobs: BlobStore = chosenStore();

/** Reads a blob, and closes it whatever happens. */
export async function withBlob<Result>(hash: string, work: (source: ByteSource) => Promise<Result>): Promise<Result> {
  const file = await blobs.open(hash);
  try {
    return await work(file);
  } finally {
    await file.close();
  }
}
