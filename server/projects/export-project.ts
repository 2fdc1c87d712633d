/** A project as one file that any studio opens: its document, its recordings as they came, its pictures. */
import { extname } from "node:path";
import { CORE_VERSION } from "@core/audio/core-version";
import { distinctNames, fileName } from "@core/project/file-name";
import { blobsNamedIn, PROJECT_ENTRY, PROJECT_FILE_EXTENSION, type ProjectFile } from "@core/project/project-file";
import { streamZip, ZIP_DATE } from "../http/zip-stream";
import { extensionOf, imageFormatOf } from "../media/image-signature";
import { Problem } from "../problem";
import { blobs, withBlob } from "../storage/blobs";
import { openProject } from "./projects";
import { findSources } from "./sources";

/** @param withRecordings whether they go along; without, they are found by their content where the file is opened */
export async function exportProject(
  id: string,
  withRecordings: boolean,
): Promise<{ name: string; stream: ReadableStream }> {
  const { document } = await openProject(id);
  const sources = await findSources(document.sources.map(({ hash }) => hash));
  const names = distinctNames(sources.map(({ name }) => entryName(name)));
  const recordings = sources.map(({ hash, name, bytes, layout, layout_chosen: isChosen, track }, index) => ({
    sha256: hash,
    name,
    bytes,
    path: withRecordings ? `recordings/${names[index]!}` : null,
    layout: isChosen ? layout : null,
    track,
  }));
  await refuseDamaged(recordings.filter(({ path }) => path !== null));
  const pictures = await picturesOf(document, new Set(sources.map(({ hash }) => hash)));
  const about: ProjectFile = {
    format: "resonum-project",
    version: 1,
    exportedAt: new Date().toISOString(),
    coreVersion: CORE_VERSION,
    document,
    recordings,
    pictures,
  };
  const stream = streamZip(async (archive) => {
    archive.append(JSON.stringify(about, null, 2), { name: PROJECT_ENTRY, date: ZIP_DATE });
    for (const { sha256, path } of [...pictures, ...recordings])
      if (path !== null) archive.file(await blobs.fileOf(sha256), { name: path, date: ZIP_DATE });
  });
  return { name: `${fileName(document.name)}${PROJECT_FILE_EXTENSION}`, stream };
}

/** A recording's own name, as every file system takes it. */
function entryName(name: string): string {
  const extension = extname(name);
  return `${fileName(name.slice(0, name.length - extension.length))}${extension.replace(/[^.\w]/g, "")}`;
}

/** @throws Problem: a file in which something is missing would be found out too late */
async function refuseDamaged(recordings: readonly { sha256: string; name: string }[]): Promise<void> {
  const damaged: string[] = [];
  for (const { sha256, name } of recordings) if (!(await blobs.isWhole(sha256))) damaged.push(name);
  if (damaged.length > 0)
    throw new Problem(
      409,
      "Recordings are missing",
      `Not all recordings are there as they came: ${damaged.join(", ")}. Add them again, then export.`,
    );
}

/** Covers and photos; what is named and no picture, or gone, is left out. */
async function picturesOf(document: unknown, recordings: ReadonlySet<string>): Promise<ProjectFile["pictures"]> {
  const pictures: ProjectFile["pictures"] = [];
  for (const sha256 of blobsNamedIn(document)) {
    if (recordings.has(sha256) || !(await blobs.isWhole(sha256))) continue;
    const type = await withBlob(sha256, async (bytes) => imageFormatOf(await bytes.read(0, 12)));
    if (type) pictures.push({ sha256, path: `pictures/${sha256.slice(0, 12)}.${extensionOf(type)}` });
  }
  return pictures;
}
