/** `resonum fetch`: finished masters of a project, each proven by its hash. */
import { createWriteStream } from "node:fs";
import { rename, rm } from "node:fs/promises";
import { basename, join } from "node:path";
import { Readable } from "node:stream";
import { pipeline } from "node:stream/promises";
import type { ReadableStream } from "node:stream/web";
import type { ApiClient } from "@core/api/client";
import type { WantedMaster } from "@core/project/views";
import { hashFile } from "@server/storage/byte-files";
import { CliProblem, print, printJson } from "../outcome";
import { makeFolder } from "../output-folder";
import { projectOf, remoteProblem, studioOf, type RemoteOptions } from "./studio";

export interface FetchOptions extends RemoteOptions {
  out: string;
  documents?: boolean;
}

export interface Fetched {
  file: string;
  hash: string;
  state: "fetched" | "there already";
}

/** A name of the server as a file below `folder`: it leads nowhere else. @throws CliProblem */
export function pathBelow(folder: string, name: string): string {
  if (name !== basename(name) || name === "" || name === "." || name === "..")
    throw new CliProblem(`The server names a file “${name}”, which would lead out of ${folder}.`);
  return join(folder, name);
}

/** Writes an answer to a file, which is there once it is whole. */
async function save(response: Response, path: string): Promise<void> {
  const arriving = `${path}.arriving`;
  try {
    await pipeline(Readable.fromWeb(response.body as ReadableStream), createWriteStream(arriving));
    await rename(arriving, path);
  } finally {
    await rm(arriving, { force: true });
  }
}

async function fetchMaster(
  client: ApiClient,
  { master, file_name: name }: WantedMaster,
  out: string,
): Promise<Fetched> {
  const path = pathBelow(out, name);
  const wanted = master!.file_hash!;
  const there = await hashFile(path).catch(() => undefined);
  if (there?.hash === wanted) return { file: path, hash: wanted, state: "there already" };
  await save(await client.open("GET /api/masters/{master}/file", { params: { master: master!.id } }), path);
  const { hash } = await hashFile(path);
  if (hash !== wanted) {
    await rm(path, { force: true });
    throw new CliProblem(`${name} came damaged: its SHA-256 is ${hash}, not ${wanted}. Fetch it again.`);
  }
  return { file: path, hash, state: "fetched" };
}

/** All masters that are finished and of the project as it is now. */
export async function fetchMasters(client: ApiClient, project: string, out: string): Promise<Fetched[]> {
  await makeFolder(out);
  const wanted = await client.call("GET /api/projects/{project}/masters", { params: { project } });
  const done = wanted.filter(({ current, master }) => current && master?.state === "done");
  const fetched: Fetched[] = [];
  for (const one of done) fetched.push(await fetchMaster(client, one, out));
  return fetched;
}

async function fetchDocuments(client: ApiClient, project: string, out: string): Promise<string[]> {
  const documents = await client.call("GET /api/projects/{project}/documents", { params: { project } });
  for (const { name } of documents)
    await save(
      await client.open("GET /api/projects/{project}/documents/{name}", { params: { project, name } }),
      pathBelow(out, name),
    );
  return documents.map(({ name }) => join(out, name));
}

export async function fetchFiles(options: FetchOptions): Promise<void> {
  const client = studioOf(options);
  try {
    const project = await projectOf(client, options);
    const masters = await fetchMasters(client, project, options.out);
    const documents = options.documents ? await fetchDocuments(client, project, options.out) : [];
    if (options.json) return printJson({ project, masters, documents });
    if (masters.length === 0) print("No master of the project as it is now is finished.");
    for (const { state, file } of masters) print(`${state.padEnd(15)}${file}`);
    for (const file of documents) print(`${"fetched".padEnd(15)}${file}`);
  } catch (error) {
    throw remoteProblem(error, options.server!);
  }
}
