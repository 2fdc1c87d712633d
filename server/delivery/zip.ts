/** A delivery as one zip file, made while it is sent: masters are stored as they are, documents beside them. */
import { monoFiles } from "../storage/channel-files";
import { blobs } from "../storage/blobs";
import { documentsOf, type Delivery } from "./documents";
import { Problem } from "../problem";
import { streamZip, ZIP_DATE } from "../http/zip-stream";
import { fileName } from "@core/project/file-name";
import type { Master } from "@core/project/views";

export const zipName = ({ document }: Delivery): string => `${fileName(document.name)}.zip`;

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
      archive.file(await blobs.fileOf(master.file_hash!), { name, date: ZIP_DATE });
    for (const { name, make } of documentsOf(delivery)) {
      const made = await make();
      archive.append(typeof made === "string" ? made : Buffer.from(made), { name, date: ZIP_DATE });
    }
  });
}

/** A master as one mono file a channel. */
export const channelsZip = (master: Master): ReadableStream =>
  streamZip(async (archive) => {
    for await (const { name, stream } of monoFiles(master)) archive.append(stream, { name, date: ZIP_DATE });
  });
