/** A project that another studio exported, taken in: all of it or nothing. */
import { rm } from "node:fs/promises";
import { join } from "node:path";
import { openPromise, type Entry, type ZipFile } from "yauzl";
import * as z from "zod";
import { STUDIO_NAME } from "@core/people/views";
import { formatBytes } from "@core/audio/format";
import { openDocument, withoutAutomaticDelivery, type ProjectDocument } from "@core/project/document";
import { blobsNamedIn, PROJECT_ENTRY, projectFileSchema, type ProjectFile } from "@core/project/project-file";
import { row, transaction } from "../db/database";
import { publish } from "../db/notifications";
import { refuseBody, writeBody } from "../http/body-file";
import { refuseBrokenText } from "../http/request-body";
import { log } from "../log";
import { Problem } from "../problem";
import { blobs } from "../storage/blobs";
import { insertState } from "./document-history";
import { keepBlobs, moveTo } from "./projects";
import { addMissingSource, addSource, isAnalysed } from "./sources";

const LARGEST_DESCRIPTION = 128 * 2 ** 20;
const MOST_ENTRIES = 20_000;

/** Takes a project in that arrives as a file. @throws Problem that says what is wrong with it, and nothing is kept */
export async function importProject(
  body: ReadableStream,
  bytes: number,
  author = STUDIO_NAME,
): Promise<{ id: string; missing: string[] }> {
  // The file itself, what is in it, and its sound as float.
  await refuseBody(bytes, 4 * bytes);
  const folder = await blobs.workFolder();
  try {
    const path = join(folder, "project.zip");
    await writeBody(body, bytes, path);
    return await importFile(path, author);
  } finally {
    await rm(folder, { recursive: true, force: true });
  }
}

const unreadable = (why: string) => new Problem(422, "No project file", why);

async function importFile(path: string, author: string): Promise<{ id: string; missing: string[] }> {
  const zip = await openPromise(path, { autoClose: false }).catch(() => {
    throw unreadable("This is no project file, or it was cut off: a zip that “Export” made is expected.");
  });
  try {
    const entries = await entriesOf(zip);
    const about = await describedBy(zip, entries);
    const document = documentOf(about);
    const there = await keepFiles(zip, entries, about);
    return await create(withoutAutomaticDelivery(document), about, there, author);
  } finally {
    zip.close();
  }
}

/** By name. Nothing is ever written under a name from the file: what is taken is taken by its content. */
async function entriesOf(zip: ZipFile): Promise<Map<string, Entry>> {
  if (zip.entryCount > MOST_ENTRIES)
    throw unreadable(`It has ${zip.entryCount} entries; ${MOST_ENTRIES} at most are read.`);
  const entries = new Map<string, Entry>();
  try {
    for await (const entry of zip.eachEntry()) entries.set(entry.fileName, entry);
  } catch (error) {
    throw unreadable(`The file is damaged: ${(error as Error).message}.`);
  }
  return entries;
}

async function describedBy(zip: ZipFile, entries: ReadonlyMap<string, Entry>): Promise<ProjectFile> {
  const entry = entries.get(PROJECT_ENTRY);
  if (!entry) throw unreadable(`There is no ${PROJECT_ENTRY} in it: a zip that “Export” made is expected.`);
  if (entry.uncompressedSize > LARGEST_DESCRIPTION)
    throw unreadable(
      `Its ${PROJECT_ENTRY} has ${formatBytes(entry.uncompressedSize)}; ${formatBytes(LARGEST_DESCRIPTION)} at most are read.`,
    );
  const parts: Buffer[] = [];
  for await (const part of await contentOf(zip, entry)) parts.push(part as Buffer);
  let given: unknown;
  try {
    given = JSON.parse(Buffer.concat(parts).toString("utf8"));
  } catch {
    throw unreadable(`Its ${PROJECT_ENTRY} is damaged: it is no JSON.`);
  }
  refuseBrokenText(given);
  const version = (given as { version?: unknown } | null)?.version;
  if (typeof version === "number" && version > 1)
    throw unreadable("It was exported by a newer version of Resonum: open it with that one.");
  const parsed = projectFileSchema.safeParse(given);
  if (!parsed.success) throw unreadable(`Its ${PROJECT_ENTRY} is not as expected. ${z.prettifyError(parsed.error)}`);
  return parsed.data;
}

/** @throws Problem with what is wrong in it, or for what it names without describing it */
function documentOf({ document: given, recordings }: ProjectFile): ProjectDocument {
  let document: ProjectDocument;
  try {
    document = openDocument(given);
  } catch (error) {
    const why = error instanceof z.ZodError ? z.prettifyError(error) : (error as Error).message;
    throw unreadable(`The project in it cannot be opened. ${why}`);
  }
  const described = new Set(recordings.map(({ sha256 }) => sha256));
  const unknown = document.sources.find(({ hash }) => !described.has(hash));
  if (unknown) throw unreadable(`It says nothing of the recording “${unknown.name}”.`);
  return document;
}

const contentOf = (zip: ZipFile, entry: Entry) =>
  zip.openReadStreamPromise(entry).catch((error: Error) => {
    throw unreadable(`“${entry.fileName}” cannot be read: ${error.message}.`);
  });

/** Keeps what the file holds, each proven by its hash. @returns hashes of all that is there now */
async function keepFiles(
  zip: ZipFile,
  entries: ReadonlyMap<string, Entry>,
  { recordings, pictures }: ProjectFile,
): Promise<ReadonlySet<string>> {
  const there = new Set<string>();
  for (const { sha256, path } of [...recordings, ...pictures]) {
    const entry = path === null ? undefined : entries.get(path);
    if (path !== null && !entry) throw unreadable(`“${path}” is missing from it.`);
    if (entry && !(await blobs.isWhole(sha256))) await keepEntry(zip, entry, sha256);
    if (entry || (await blobs.isWhole(sha256))) there.add(sha256);
  }
  return there;
}

async function keepEntry(zip: ZipFile, entry: Entry, sha256: string): Promise<void> {
  const draft = await blobs.draft();
  try {
    const sink = draft.sink();
    try {
      for await (const part of await contentOf(zip, entry)) await sink.write(part as Buffer);
    } catch (error) {
      if ((error as NodeJS.ErrnoException).code === "ENOSPC" || error instanceof Problem) throw error;
      throw unreadable(`“${entry.fileName}” is damaged: ${(error as Error).message}.`);
    }
    const { hash } = await draft.commit();
    if (hash !== sha256) throw unreadable(`“${entry.fileName}” is damaged: it is not what was exported.`);
  } finally {
    await draft.discard();
  }
}

/** The project with its recordings, which are read as those that arrive. */
async function create(
  document: ProjectDocument,
  { recordings }: ProjectFile,
  there: ReadonlySet<string>,
  author: string,
): Promise<{ id: string; missing: string[] }> {
  const read = new Set<string>();
  for (const { sha256 } of recordings) if (await isAnalysed(sha256)) read.add(sha256);
  return transaction(async (client) => {
    const { id } = (await row<{ id: string }>("insert into project default values returning id", [], client))!;
    const label = `Import of “${document.name}”`;
    const head = await insertState({ project: id, parent: null, label, author, command: null, document }, client);
    await moveTo(client, id, head, 1);
    const missing: string[] = [];
    for (const { sha256: hash, name, bytes, layout, track } of recordings) {
      const source = { hash, name, bytes, project: id };
      if (there.has(hash)) await addSource(source, read.has(hash), client, { layout, track });
      else {
        await addMissingSource(source, client, { layout, track });
        missing.push(name);
      }
    }
    await keepBlobs(client, id, blobsNamedIn(document));
    await publish({ topic: "projects" }, client);
    log.info({ project: id, recordings: recordings.length, missing: missing.length }, "imported");
    return { id, missing };
  });
}
