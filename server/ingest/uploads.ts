/** Resumable uploads (tus 1.0): kept while incomplete, made recordings of once they are whole. */
import { randomUUID } from "node:crypto";
import { mkdirSync } from "node:fs";
import { rm, stat } from "node:fs/promises";
import { extname, join } from "node:path";
import type { Readable } from "node:stream";
import { FileStore } from "@tus/file-store";
import { EVENTS, Server, type Upload } from "@tus/server";
import * as z from "zod";
import { SOUND_EXTENSIONS } from "@core/files/extensions";
import { displayName } from "@core/project/file-name";
import type { WaitingUpload } from "@core/project/views";
import { formatBytes } from "@core/audio/format";
import { blobs } from "../storage/blobs";
import { digestFile } from "../storage/checksums";
import { config } from "../config";
import { row, rows, transaction } from "../db/database";
import { publish } from "../db/notifications";
import { log } from "../log";
import { Problem } from "../problem";
import { inProject } from "../people/access";
import { principal } from "../people/principal";
import { editWithin, headOf } from "../projects/projects";
import { emitWebhookEvent } from "../webhooks/webhooks";
import { addingCommand, addSource, isAnalysed, isAwaited } from "../projects/sources";

export const UPLOAD_PATH = "/api/uploads";
const folder = join(config.dataFolder, "uploads");

/** With less than this free, a failed write means a full disk. */
const FULL_BYTES = 8 * 2 ** 20;

/** Room that a recording is given before it begins: an hour of stereo at 48 kHz. */
const RECORDING_BYTES = 3600 * 48_000 * 8;

/** A file store that tells a full disk by its name. */
class SpaceTellingStore extends FileStore {
  override async write(readable: Readable, id: string, offset: number): Promise<number> {
    try {
      return await super.write(readable, id, offset);
    } catch (error) {
      if ((await blobs.free()) > FULL_BYTES) throw error;
      throw new UploadRefusal(507, "The disk is full. What arrived is kept: make room, then choose the file again.");
    }
  }
}

/** Names are shortened and cleaned, never a reason to refuse a recording. */
const metadataSchema = z.object({ filename: z.string().min(1).max(4000).transform(displayName), project: z.uuid() });

/** An answer of the tus server, which reads these fields of what is thrown. */
class UploadRefusal extends Error {
  readonly body: string;

  constructor(
    readonly status_code: number,
    sentence: string,
  ) {
    super(sentence);
    this.body = `${sentence}\n`;
  }
}

function metadataOf(upload: Upload) {
  const parsed = metadataSchema.safeParse(upload.metadata);
  if (!parsed.success)
    throw new UploadRefusal(400, `The upload's description is not as expected: ${z.prettifyError(parsed.error)}`);
  return parsed.data;
}

/** @throws UploadRefusal where whoever sends it may not edit the project */
async function refuseByProject(project: string): Promise<void> {
  try {
    await inProject("edit", "edit").check(principal(), { project });
  } catch (error) {
    if (error instanceof Problem) throw new UploadRefusal(error.status, error.detail);
    throw error;
  }
}

/** The project that an upload is for; `undefined` where there is none under way. */
export const projectOfUpload = async (id: string): Promise<string | undefined> =>
  (await row<{ project_id: string }>("select project_id from upload where id = $1", [id]))?.project_id;

async function checkBefore(upload: Upload): Promise<void> {
  const { filename, project } = metadataOf(upload);
  await refuseByProject(project);
  // A recording under way does not know its size yet.
  const size = upload.sizeIsDeferred ? RECORDING_BYTES : (upload.size ?? 0);
  if (!SOUND_EXTENSIONS.includes(extname(filename).toLowerCase()))
    throw new UploadRefusal(415, `“${filename}” is not a sound or video file that can be taken in.`);
  if (size === 0) throw new UploadRefusal(422, `“${filename}” is empty.`);
  if (size > config.maxUploadBytes)
    throw new UploadRefusal(
      413,
      `“${filename}” has ${formatBytes(size)}; the largest taken in is ${formatBytes(config.maxUploadBytes)}.`,
    );
  // The original, its sound as float, and its overview: three times the size is on the safe side for most.
  const room = (await blobs.free()) - config.keepFreeBytes;
  if (size * 3 > room)
    throw new UploadRefusal(
      507,
      `“${filename}” needs about ${formatBytes(size * 3)} on the disk; ${formatBytes(Math.max(0, room))} are free.`,
    );
  if (!(await row("select 1 from project where id = $1", [project])))
    throw new UploadRefusal(404, "The project that the file was meant for is not here.");
}

interface UploadRow {
  id: string;
  project_id: string;
  name: string;
  hash: string | null;
  duplicate_of: string | null;
  author: string;
}

/** What is being finished, so that nothing is read twice at a time. */
const finishing = new Map<string, Promise<void>>();

/**
 * Makes a recording and an item of an upload that has arrived whole. Can be repeated after any interruption: the hash is
 * noted before the file is moved, and all else is one transaction under the upload's id.
 * @param again makes an item of a recording that the project has already; without, it waits for a person's word
 */
function finish(id: string, again = false): Promise<void> {
  const running = finishing.get(id) ?? finishNow(id, again).finally(() => finishing.delete(id));
  finishing.set(id, running);
  return running;
}

async function finishNow(id: string, again: boolean): Promise<void> {
  const upload = await row<UploadRow>("select * from upload where id = $1", [id]);
  if (!upload || (upload.duplicate_of !== null && !again)) return;
  const hash = await adopted(upload);
  const isRead = await isAnalysed(hash);
  const { bytes } = await blobs.digestOf(hash);
  await transaction(async (client) => {
    const waiting = await row<UploadRow>("select * from upload where id = $1 for update", [id], client);
    if (!waiting) return;
    const { project_id: project, name } = waiting;
    const { document } = await headOf(project, client);
    const same = document.items.find(({ source }) => source === hash);
    if (same && (await isAwaited(hash, client))) {
      await addSource({ hash, name, bytes, project }, false, client);
      await client.query("delete from upload where id = $1", [id]);
    } else if (same && !again) {
      await client.query("update upload set duplicate_of = $2 where id = $1", [id, same.name]);
    } else {
      await addSource({ hash, name, bytes, project }, isRead, client);
      await editWithin(client, project, { id, base: null, command: addingCommand(hash, name), author: waiting.author });
      await client.query("delete from upload where id = $1", [id]);
      await emitWebhookEvent("recording.arrived", project, { recording: hash, name, bytes }, client);
    }
    await publish({ topic: "project", project }, client);
  });
  if (!(await row("select 1 from upload where id = $1", [id]))) await forgetFiles(id);
}

/** Moves an upload's file to the blobs, unless that was done. @returns its hash */
async function adopted({ id, hash }: UploadRow): Promise<string> {
  const path = join(folder, id);
  const isHere = await stat(path).then(
    () => true,
    () => false,
  );
  if (!isHere && hash !== null) return hash;
  const digest = await digestFile(path);
  await rows("update upload set hash = $2 where id = $1", [id, digest.hash]);
  await blobs.adopt(path, digest);
  return digest.hash;
}

/** What the file store keeps of an upload. */
async function forgetFiles(id: string): Promise<void> {
  for (const name of [id, `${id}.json`]) await rm(join(folder, name), { force: true });
}

const LOOK_AFTER_MS = 10_000;
/** What did not go on for so long is given up. */
const EXPIRED = "interval '7 days'";
/** The row of an upload is there before its file. */
const SETTLED = "interval '1 minute'";
/** Of which nothing has arrived for so long was given up before it began. */
const BEGUN_IN_VAIN = "interval '1 hour'";

/** Finishes what has arrived whole, and forgets what went on no more or has lost its file. */
export async function reconcileUploads(): Promise<void> {
  const { datastore } = uploadServer();
  const known = await rows<UploadRow & { settled: boolean; expired: boolean; late: boolean }>(
    `select *, created_at < now() - ${SETTLED} as settled, created_at < now() - ${EXPIRED} as expired,
       created_at < now() - ${BEGUN_IN_VAIN} as late
     from upload where duplicate_of is null`,
  );
  for (const { id, hash, settled, expired, late } of known) {
    const upload = await datastore.getUpload(id).catch(() => undefined);
    const isWhole = hash !== null || (upload?.size !== undefined && upload.offset === upload.size);
    if (isWhole) await finish(id).catch((error: Error) => log.warn({ error: error.message }, "an upload waits"));
    else if (expired || (settled && !upload) || (late && upload?.offset === 0)) await forget(id);
  }
}

/** Looks after uploads from now on. */
export function startUploads(): void {
  const look = () =>
    void reconcileUploads().catch((error: Error) => log.warn({ error: error.message }, "could not look after uploads"));
  look();
  setInterval(look, LOOK_AFTER_MS).unref();
}

/**
 * The name of an upload: the key that whoever sends it has given, so that one whose answer was lost is begun again and
 * not beside it; a new one where something has arrived under that key already.
 */
async function idFor(store: SpaceTellingStore, metadata: Upload["metadata"]): Promise<string> {
  const key = z.uuid().safeParse(metadata?.key).data;
  if (key === undefined) return randomUUID();
  const known = await store.getUpload(key).catch(() => undefined);
  return known === undefined || known.offset === 0 ? key : randomUUID();
}

const holder = globalThis as typeof globalThis & { resonumUploads?: Server };

export function uploadServer(): Server {
  holder.resonumUploads ??= createServer();
  return holder.resonumUploads;
}

function createServer(): Server {
  mkdirSync(folder, { recursive: true });
  const store = new SpaceTellingStore({ directory: folder });
  const server = new Server({
    path: UPLOAD_PATH,
    datastore: store,
    relativeLocation: true,
    namingFunction: (_request, metadata) => idFor(store, metadata),
    async onUploadCreate(_request, upload) {
      await checkBefore(upload);
      const { filename, project } = metadataOf(upload);
      await rows(
        `insert into upload (id, project_id, name, bytes, author) values ($1, $2, $3, $4, $5)
         on conflict (id) do nothing`,
        [upload.id, project, filename, upload.size ?? 0, principal().person?.name ?? "intake"],
      );
      await publish({ topic: "project", project });
      return {};
    },
    async onUploadFinish(_request, upload) {
      // All of it has arrived: what keeps it from becoming a recording now is tried again, whatever is answered.
      await finish(upload.id).catch((error: Error) => {
        log.error({ error: error.message }, "an upload waits to be finished");
        throw error;
      });
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
  await forgetFiles(id);
  if (removed) await publish({ topic: "project", project: removed.project_id });
}

/** Uploads of a project that are under way, were interrupted, or wait for a person's word. */
export async function uploadsOf(project: string): Promise<WaitingUpload[]> {
  const waiting = await rows<{ id: string; name: string; bytes: number; duplicateOf: string | null }>(
    `select id, name, bytes, duplicate_of as "duplicateOf" from upload where project_id = $1 order by created_at`,
    [project],
  );
  const { datastore } = uploadServer();
  return Promise.all(
    waiting.map(async (upload) => ({
      ...upload,
      received: await datastore.getUpload(upload.id).then(
        ({ offset }) => offset,
        () => (upload.duplicateOf === null ? 0 : upload.bytes),
      ),
    })),
  );
}

/** Takes in what arrived of a recording whose page was closed, or once more what the project has already. */
export async function takeArrived(project: string, id: string): Promise<void> {
  const known = await row<{ bytes: number; duplicate_of: string | null }>(
    "select bytes, duplicate_of from upload where id = $1 and project_id = $2",
    [id, project],
  );
  if (known?.duplicate_of) return finish(id, true);
  const store = uploadServer().datastore;
  const upload = known?.bytes === 0 ? await store.getUpload(id).catch(() => undefined) : undefined;
  if (!upload) throw new Problem(404, "Not found", "There is no such unfinished recording.");
  if (upload.offset === 0) throw new Problem(422, "Nothing arrived", "Nothing of this recording arrived; discard it.");
  await store.declareUploadLength(id, upload.offset);
  await finish(id);
}

/** Forgets an interrupted upload and what arrived of it. */
export async function discardUpload(project: string, id: string): Promise<void> {
  if (!(await row("select 1 from upload where id = $1 and project_id = $2", [id, project])))
    throw new Problem(404, "Not found", "This upload is already gone.");
  await forget(id);
}
