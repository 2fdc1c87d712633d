/**
 * Blobs in object storage that speaks S3, with a folder of this machine before it: what was read or written once is
 * read from there. A blob is uploaded whole before it counts as kept.
 */
import { createReadStream } from "node:fs";
import { rm } from "node:fs/promises";
import { Readable } from "node:stream";
import type { ReadableStream } from "node:stream/web";
import { AwsClient } from "aws4fetch";
import { openFile, type OpenFile } from "./byte-files";
import type { BlobDraft, BlobStore, FolderBlobs } from "./blob-store";
import type { Digest } from "./checksums";

export interface ObjectStoreAccess {
  endpoint: string;
  region: string;
  keyId: string;
  secret: string;
}

/** What storage gave no answer to in this time is asked again, this often. */
const TRIES = 4;
const FIRST_PAUSE_MS = 100;

type StreamedInit = RequestInit & { duplex?: "half" };

export class ObjectBlobs implements BlobStore {
  readonly #client: AwsClient;
  readonly #base: string;

  /** @param address "s3://bucket/prefix" */
  constructor(
    address: string,
    access: ObjectStoreAccess,
    readonly near: FolderBlobs,
  ) {
    const [bucket, ...prefix] = address.slice("s3://".length).split("/").filter(Boolean);
    if (!bucket) throw new Error(`The store "${address}" names no bucket: s3://bucket/prefix is expected.`);
    if (!access.endpoint || !access.keyId || !access.secret)
      throw new Error("Set RESONUM_S3_ENDPOINT, RESONUM_S3_KEY_ID and RESONUM_S3_SECRET to reach object storage.");
    this.#client = new AwsClient({
      accessKeyId: access.keyId,
      secretAccessKey: access.secret,
      service: "s3",
      region: access.region,
      retries: 0,
    });
    this.#base = [access.endpoint.replace(/\/+$/, ""), bucket, ...prefix].join("/");
  }

  get folder(): string {
    return this.near.folder;
  }

  #urlOf(hash: string): string {
    this.near.pathOf(hash); // refuses what is no hash
    return `${this.#base}/${hash}`;
  }

  /** @param init made anew for each try: a stream can be sent once */
  async #ask(hash: string, init: () => StreamedInit = () => ({})): Promise<Response | undefined> {
    for (let tries = 1; ; tries++) {
      const request = init();
      const response = await this.#client.fetch(this.#urlOf(hash), request).catch((error: Error) => error);
      if (response instanceof Response && (response.ok || response.status === 404))
        return response.ok ? response : undefined;
      const why =
        response instanceof Error
          ? `cannot be reached: ${response.message}`
          : `refuses ${request.method ?? "GET"}: ${response.status}`;
      const passes = response instanceof Error || response.status >= 500 || response.status === 429;
      if (!passes || tries >= TRIES) throw new Error(`The object store ${why}`);
      await new Promise((resolve) => setTimeout(resolve, FIRST_PAUSE_MS * 2 ** tries));
    }
  }

  draft(): Promise<BlobDraft> {
    return this.draftFor((path, digest) => this.adopt(path, digest));
  }

  draftFor(adopt: (path: string, digest: Digest) => Promise<unknown>): Promise<BlobDraft> {
    return this.near.draftFor(adopt);
  }

  workFolder(): Promise<string> {
    return this.near.workFolder();
  }

  async adopt(path: string, digest: Digest): Promise<void> {
    const { hash, bytes: size } = digest;
    if ((await this.#sizeThere(hash)) !== size) {
      // Streamed, and so signed without its content: the hash in its name is checked when it is read.
      await this.#ask(hash, () => ({
        method: "PUT",
        body: Readable.toWeb(createReadStream(path)) as unknown as BodyInit,
        duplex: "half",
        headers: { "content-length": String(size), "x-amz-content-sha256": "UNSIGNED-PAYLOAD" },
      }));
    }
    await this.near.adopt(path, digest);
  }

  async fileOf(hash: string): Promise<string> {
    if ((await this.near.size(hash)) === undefined) await this.#fetch(hash);
    return this.near.pathOf(hash);
  }

  /** Brings a blob to this machine; what does not have its hash is not taken. */
  async #fetch(hash: string): Promise<void> {
    const response = await this.#ask(hash);
    if (!response?.body) throw new Error("The object store does not have this blob.");
    const draft = await this.near.draftFor(async (path, found) => {
      if (found.hash === hash) return this.near.adopt(path, found);
      await rm(path, { force: true });
      throw new Error("The object store gave other bytes than were kept there.");
    });
    try {
      const sink = draft.sink();
      for await (const chunk of Readable.fromWeb(response.body as ReadableStream)) await sink.write(chunk as Buffer);
      await draft.commit();
    } finally {
      await draft.discard();
    }
  }

  async open(hash: string): Promise<OpenFile> {
    return openFile(await this.fileOf(hash));
  }

  async size(hash: string): Promise<number | undefined> {
    return (await this.near.size(hash)) ?? this.#sizeThere(hash);
  }

  async #sizeThere(hash: string): Promise<number | undefined> {
    const response = await this.#ask(hash, () => ({ method: "HEAD" }));
    const length = response?.headers.get("content-length");
    return length ? Number(length) : undefined;
  }

  async remove(hash: string): Promise<void> {
    await this.#ask(hash, () => ({ method: "DELETE" }));
    await this.near.remove(hash);
  }

  async refetch(hash: string): Promise<boolean> {
    await this.near.remove(hash);
    await this.#fetch(hash);
    return true;
  }

  /** Only those that lie near: object storage is asked for by name. */
  list(): AsyncIterable<{ hash: string; writtenAt: Date }> {
    return this.near.list();
  }

  sweepDrafts(): Promise<void> {
    return this.near.sweepDrafts();
  }

  free(): Promise<number> {
    return this.near.free();
  }
}
