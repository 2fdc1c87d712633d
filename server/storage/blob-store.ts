/**
 * Where blobs lie: files addressed by the SHA-256 of their bytes. Written under a temporary name, put on the disk, then
 * renamed: a blob is whole or not there. What refers to them, and whether they are still what they were, is known
 * further up (`blobs.ts`).
 */
import { randomUUID } from "node:crypto";
import { mkdir, open, readdir, rename, rm, stat, statfs } from "node:fs/promises";
import { dirname, join } from "node:path";
import type { ByteSink } from "@core/files/bytes";
import { FileSink, openFile, type OpenFile } from "./byte-files";
import { digestFile, type Digest } from "./checksums";
import { processState, processMark } from "./process-mark";
import { ensureFreeSpace } from "./free-space";

/** A blob while it is written. `restart` forgets what was written. */
export interface BlobDraft {
  sink(): ByteSink;
  restart(): Promise<ByteSink>;
  /** What was written so far, for reading back. Close it. */
  readBack(): Promise<OpenFile>;
  /** Completes the blob. */
  commit(): Promise<Digest>;
  /** Forgets it; harmless after a commit. */
  discard(): Promise<void>;
}

export interface BlobStore {
  /** Folder of this machine for work on blobs. */
  readonly folder: string;
  draft(): Promise<BlobDraft>;
  /** A draft that `adopt` takes over when it is complete. */
  draftFor(adopt: (path: string, digest: Digest) => Promise<unknown>): Promise<BlobDraft>;
  /** A new folder for work that leaves one file to be adopted; removed when its process is gone. */
  workFolder(): Promise<string>;
  /** A file of this machine with the blob's bytes, not to be written to. @throws when there is no such blob */
  fileOf(hash: string): Promise<string>;
  /** Takes a finished file over, in the place of what there may be under its hash. */
  adopt(path: string, digest: Digest): Promise<void>;
  /** @throws when there is no such blob */
  open(hash: string): Promise<OpenFile>;
  size(hash: string): Promise<number | undefined>;
  remove(hash: string): Promise<void>;
  /** Forgets a copy of this machine and fetches it again from where all are kept; false where there is no such place. */
  refetch(hash: string): Promise<boolean>;
  /** Hashes of all blobs that lie here, with when each was written; in no order. */
  list(): AsyncIterable<{ hash: string; writtenAt: Date }>;
  /** Bytes free for new blobs on this machine. */
  free(): Promise<number>;
  /** Removes drafts whose process is gone; those of other machines only after a week. */
  sweepDrafts(): Promise<void>;
}

const HASH = /^[0-9a-f]{64}$/;
const ABANDONED_MS = 7 * 24 * 3600 * 1000;

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
    const path = join(this.#temporary, `${processMark()}-${randomUUID()}`);
    await mkdir(path, { recursive: true });
    return path;
  }

  draft(): Promise<BlobDraft> {
    return this.draftFor((path, digest) => this.adopt(path, digest));
  }

  async draftFor(adopt: (path: string, digest: Digest) => Promise<unknown>): Promise<BlobDraft> {
    await mkdir(this.#temporary, { recursive: true });
    const path = join(this.#temporary, `${processMark()}-${randomUUID()}`);
    const create = () => FileSink.create(path, () => ensureFreeSpace(this.folder));
    let file = await create();
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
        file = await create();
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
        const digest = await digestFile(path);
        await adopt(path, digest);
        return digest;
      },
      discard: async () => {
        await close();
        await rm(path, { force: true });
      },
    };
  }

  async adopt(path: string, { hash }: Digest): Promise<void> {
    const to = this.pathOf(hash);
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

  async refetch(): Promise<boolean> {
    return false;
  }

  async *list(): AsyncGenerator<{ hash: string; writtenAt: Date }> {
    for (const beginning of await readdir(this.folder).catch(() => [] as string[])) {
      if (!/^[0-9a-f]{2}$/.test(beginning)) continue;
      for (const rest of await readdir(join(this.folder, beginning))) {
        const hash = beginning + rest;
        const about = HASH.test(hash) ? await stat(this.pathOf(hash)).catch(() => undefined) : undefined;
        if (about) yield { hash, writtenAt: about.mtime };
      }
    }
  }

  async sweepDrafts(): Promise<void> {
    // Where earlier versions measured uploads.
    for (const name of await readdir(this.folder).catch(() => [] as string[]))
      if (name.startsWith("measuring-")) await rm(join(this.folder, name), { recursive: true, force: true });
    for (const name of await readdir(this.#temporary).catch(() => [] as string[])) {
      const path = join(this.#temporary, name);
      const fate = processState(name);
      const left = fate === "gone" || (fate === "elsewhere" && (await ageMs(path)) > ABANDONED_MS);
      if (left) await rm(path, { recursive: true, force: true });
    }
  }

  async free(): Promise<number> {
    await mkdir(this.folder, { recursive: true });
    const { bavail, bsize } = await statfs(this.folder);
    return bavail * bsize;
  }
}

const ageMs = (path: string): Promise<number> =>
  stat(path).then(
    ({ mtimeMs }) => Date.now() - mtimeMs,
    () => 0,
  );
