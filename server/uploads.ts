/** Resumable uploads (tus 1.0): kept while incomplete, hashed while they arrive, handed over when whole. */
import { createHash, type Hash } from "node:crypto";
import { mkdirSync } from "node:fs";
import { extname, join, parse } from "node:path";
import { Transform, type Readable } from "node:stream";
import { FileStore } from "@tus/file-store";
import { EVENTS, Server, type Upload } from "@tus/server";
import * as z from "zod";
import { nameSchema } from "@core/project/document";
import type { WaitingUpload } from "@core/project/views";
import { SOUND_EXTENSIONS } from "@core/files/extensions";
import { formatBytes } from "@core/signal/format";
import { randomUUID } from "node:crypto";
import { blobs } from "./blobs";
import { hashFile } from "./byte-files";
import { config } from "./config";
import { row, rows } from "./database";
import { tell } from "./events";
import { log } from "./log";
import { Problem } from "./problem";
import { edit } from "./projects";
import { adoptSource } from "./sources";

export const UPLOAD_PATH = "/api/uploads";
const folder = join(config.dataFolder, "uploads");

/** With less than this free, a failed write means a full disk. */
const FULL_BYTES = 8 * 2 ** 20;

/** Room that a recording is given before it begins: an hour of stereo at 48 kHz. */
const RECORDING_BYTES = 3600 * 48_000 * 8;

interface RunningHash {
  hash: Hash;
  offset: number;
}

/** A file store that hashes what passes; after a restart of the server the hash is taken from the file instead. */
class HashingStore extends FileStore {
  readonly #running = new Map<string, RunningHash>();

  override async write(readable: Readable, id: string, offset: number): Promise<number> {
    try {
      return await super.write(this.#hashed(readable, id, offset), id, offset);
    } catch (error) {
      if ((await blobs.free()) > FULL_BYTES) throw error;
      throw refusal(507, "The disk is full. What arrived is kept: make room, then choose the file again.");
    }
  }

  /** The same bytes, hashed on their way; as they are where the beginning was not seen. */
  #hashed(readable: Readable, id: string, offset: number): Readable {
    const running = offset === 0 ? { hash: createHash("sha256"), offset: 0 } : this.#running.get(id);
    if (!running || running.offset !== offset) {
      this.#running.delete(id);
      return readable;
    }
    this.#running.set(id, running);
    const hashing = new Transform({
      transform(chunk: Buffer, _encoding, done) {
        running.hash.update(chunk);
        running.offset += chunk.length;
        done(null, chunk);
      },
    });
    // A client that goes away ends the piece: what arrived is kept.
    readable.on("error", (error) => hashing.destroy(error));
    return readable.pipe(hashing);
  }

  /** SHA-256 of a complete upload. */
  async hashOf(id: string, size: number): Promise<string> {
    const running = this.#running.get(id);
    this.#running.delete(id);
    if (running?.offset === size) return running.hash.digest("hex");
    return (await hashFile(join(folder, id))).hash;
  }
}

const metadataSchema = z.object({ filename: nameSchema, project: z.uuid() });

const refusal = (status: number, sentence: string) => ({ status_code: status, body: `${sentence}\n` });

function metadataOf(upload: Upload) {
  const parsed = metadataSchema.safeParse(upload.metadata);
  if (!parsed.success)
    throw refusal(400, `The upload's description is not as expected: ${z.prettifyError(parsed.error)}`);
  return parsed.data;
}

async function checkBefore(upload: Upload): Promise<void> {
  const { filename, project } = metadataOf(upload);
  // A recording under way does not know its size yet.
  const size = upload.sizeIsDeferred ? RECORDING_BYTES : (upload.size ?? 0);
  if (!SOUND_EXTENSIONS.includes(extname(filename).toLowerCase()))
    throw refusal(415, `“${filename}” is not a sound or video file that can be taken in.`);
  if (size === 0) throw refusal(422, `“${filename}” is empty.`);
  if (size > config.maxUploadBytes)
    throw refusal(
      413,
      `“${filename}” has ${formatBytes(size)}; the largest taken in is ${formatBytes(config.maxUploadBytes)}.`,
    );
  // The original, its sound as float, and its overview: three times the size is on the safe side for most.
  const room = (await blobs.free()) - config.keepFreeBytes;
  if (size * 3 > room)
    throw refusal(
      507,
      `“${filename}” needs about ${formatBytes(size * 3)} on the disk; ${formatBytes(Math.max(0, room))} are free.`,
    );
  if (!(await row("select 1 from project where id = $1", [project])))
    throw refusal(404, "The project that the file was meant for is not here.");
}

async function finish(store: HashingStore, upload: Upload): Promise<void> {
  const { filename, project } = metadataOf(upload);
  const size = upload.size ?? 0;
  const hash = await store.hashOf(upload.id, size);
  await adoptSource(join(folder, upload.id), hash, filename, size);
  const item = {
    id: randomUUID().slice(0, 8),
    name: parse(filename).name.slice(0, 200) || filename,
    source: hash,
    repairs: [],
    chain: [],
    markers: [],
  };
  const command = { type: "addSource", source: { hash, name: filename }, item };
  await edit(project, { base: null, command, author: "intake" });
  await rows("delete from upload where id = $1", [upload.id]);
  await store.configstore.delete(upload.id);
}

const holder = globalThis as typeof globalThis & { resonumUploads?: Server };

export function uploadServer(): Server {
  holder.resonumUploads ??= createServer();
  return holder.resonumUploads;
}

function createServer(): Server {
  mkdirSync(folder, { recursive: true });
  const store = new HashingStore({ directory: folder });
  const server = new Server({
    path: UPLOAD_PATH,
    datastore: store,
    relativeLocation: true,
    namingFunction: () => randomUUID(),
    async onUploadCreate(_request, upload) {
      await checkBefore(upload);
      const { filename, project } = metadataOf(upload);
      await rows("insert into upload (id, project_id, name, bytes) values ($1, $2, $3, $4)", [
        upload.id,
        project,
        filename,
        upload.size ?? 0,
      ]);
      await tell({ topic: "project", project });
      return {};
    },
    async onUploadFinish(_request, upload) {
      await finish(store, upload);
      return {};
    },
    onResponseError: (_request, error) => {
      if (!("status_code" in error) || error.status_code >= 500)
        log.warn({ error: "message" in error ? error.message : error.body }, "upload");
      return undefined;
    },
  });
  // Ended by whoever sent it: what the store knew of it is gone already.
  server.on(EVENTS.POST_TERMINATE, (_request, _response, id) => {
    forget(id).catch((error: Error) => log.warn({ error: error.message }, "a cancelled upload is still listed"));
  });
  return server;
}

async function forget(id: string): Promise<void> {
  const removed = await row<{ project_id: string }>("delete from upload where id = $1 returning project_id", [id]);
  if (removed) await tell({ topic: "project", project: removed.project_id });
}

/** Uploads of a project that are under way or were interrupted. */
export async function uploadsOf(project: string): Promise<WaitingUpload[]> {
  const waiting = await rows<{ id: string; name: string; bytes: number }>(
    "select id, name, bytes from upload where project_id = $1 order by created_at",
    [project],
  );
  const { datastore } = uploadServer();
  return Promise.all(
    waiting.map(async (upload) => ({
      ...upload,
      received: await datastore.getUpload(upload.id).then(
        ({ offset }) => offset,
        () => 0,
      ),
    })),
  );
}

/** Takes in what arrived of a recording whose page was closed. */
export async function takeArrived(project: string, id: string): Promise<void> {
  const known = await row("select 1 from upload where id = $1 and project_id = $2 and bytes = 0", [id, project]);
  const store = uploadServer().datastore as HashingStore;
  const upload = known && (await store.getUpload(id).catch(() => undefined));
  if (!upload) throw new Problem(404, "Not found", "There is no such unfinished recording.");
  if (upload.offset === 0) throw new Problem(422, "Nothing arrived", "Nothing of this recording arrived; discard it.");
  await store.declareUploadLength(id, upload.offset);
  upload.size = upload.offset;
  await finish(store, upload);
}

/** Forgets an interrupted upload and what arrived of it. */
export async function discardUpload(project: string, id: string): Promise<void> {
  const removed = await row("delete from upload where id = $1 and project_id = $2 returning id", [id, project]);
  if (!removed) throw new Problem(404, "Not found", "This upload is already gone.");
  await uploadServer()
    .datastore.remove(id)
    .catch(() => undefined);
  await tell({ topic: "project", project });
}
