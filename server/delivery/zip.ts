/** A delivery as one zip file, made while it is sent: masters are stored as they are, documents beside them. */
import { ZipArchive } from "archiver";
import { monoFiles } from "../storage/channel-files";
import { blobs } from "../storage/blobs";
import { log } from "../log";
import { documentsOf, type Delivery } from "./documents";
import { Problem } from "../problem";
import { webStream } from "../http/web-stream";
import { fileName } from "@core/project/file-name";
import type { Master } from "@core/project/views";

/** The same bytes at any time. */
const DATE = new Date("1980-01-01T00:00:00Z");

export const zipName = ({ document }: Delivery): string => `${fileName(document.name)}.zip`;

/** Zip files that are sent at a time: each reads and sends as fast as its client takes it. */
const MOST_AT_ONCE = 6;
const holder = globalThis as typeof globalThis & { resonumZips?: { open: number } };
const zips = (holder.resonumZips ??= { open: 0 });

/** @throws Problem where as many are being sent as may be */
export function streamZip(fill: (archive: ZipArchive) => Promise<void>): ReadableStream {
  if (zips.open >= MOST_AT_ONCE)
    throw new Problem(
      503,
      "Busy",
      "Other zip files are being sent at the moment. Try again when they are done.",
      {},
      { "Retry-After": "10" },
    );
  const archive = new ZipArchive({ store: true, forceZip64: false });
  zips.open++;
  archive.once("close", () => void zips.open--);
  archive.on("error", (error: Error) => log.warn({ error: error.message }, "a zip file was not finished"));
  fill(archive).then(
    () => archive.finalize(),
    (error: Error) => archive.destroy(error),
  );
  return webStream(archive);
}

/** @throws Problem where nothing is finished, or a master is missing or damaged */
export async function documentsZip(delivery: Delivery): Promise<ReadableStream> {
  if (delivery.masters.length === 0)
    throw new Problem(409, "Nothing to download", "No master is finished yet: render first.");
  const missing = [];
  for (const { name, master } of delivery.masters) if (!(await blobs.isWhole(master.file_hash!))) missing.push(name);
  if (missing.length > 0)
    throw new Problem(
      409,
      "Masters are missing",
      `Not all masters are there as they were rendered: ${missing.join(", ")}. Render them again, then download.`,
    );
  return streamZip(async (archive) => {
    for (const { name, master } of delivery.masters)
      archive.file(await blobs.fileOf(master.file_hash!), { name, date: DATE });
    for (const { name, make } of documentsOf(delivery)) {
      const made = await make();
      archive.append(typeof made === "string" ? made : Buffer.from(made), { name, date: DATE });
    }
  });
}

/** A master as one mono file a channel. */
export const channelsZip = (master: Master): ReadableStream =>
  streamZip(async (archive) => {
    for await (const { name, stream } of monoFiles(master)) archive.append(stream, { name, date: DATE });
  });
