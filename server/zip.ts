/** A delivery as one zip file, made while it is sent: masters are stored as they are, papers beside them. */
import { Readable } from "node:stream";
import { ZipArchive } from "archiver";
import { monoFiles } from "./channel-files";
import { blobs } from "./blobs";
import { log } from "./log";
import { papersOf, type Delivery } from "./papers";
import { Problem } from "./problem";
import { safeName } from "@core/project/names";
import type { Master } from "@core/project/views";

/** The same bytes at any time. */
const DATE = new Date("1980-01-01T00:00:00Z");

export const zipName = ({ document }: Delivery): string => `${safeName(document.name)}.zip`;

function streamed(fill: (archive: ZipArchive) => Promise<void>): ReadableStream {
  const archive = new ZipArchive({ store: true, forceZip64: false });
  archive.on("error", (error: Error) => log.warn({ error: error.message }, "a zip file was not finished"));
  fill(archive).then(
    () => archive.finalize(),
    (error: Error) => archive.destroy(error),
  );
  return Readable.toWeb(archive) as ReadableStream;
}

/** @throws Problem where nothing is finished */
export function zipOf(delivery: Delivery): ReadableStream {
  if (delivery.masters.length === 0)
    throw new Problem(409, "Nothing to hand over", "No master is finished yet: render first.");
  return streamed(async (archive) => {
    const used = new Set<string>();
    for (const { name, master } of delivery.masters) {
      // Names that clash are told on the board; here nothing may be lost.
      let entry = name;
      for (let n = 2; used.has(entry.toLowerCase()); n++) entry = name.replace(/(\.[^.]*)?$/, ` (${n})$1`);
      used.add(entry.toLowerCase());
      archive.file(await blobs.fileOf(master.file_hash!), { name: entry, date: DATE });
    }
    for (const { name, make } of papersOf(delivery)) {
      const made = await make();
      archive.append(typeof made === "string" ? made : Buffer.from(made), { name, date: DATE });
    }
  });
}

/** A master as one mono file a channel. */
export const zipOfChannels = (master: Master): ReadableStream =>
  streamed(async (archive) => {
    for await (const { name, stream } of monoFiles(master)) archive.append(stream, { name, date: DATE });
  });
