/** Zip files that are made while they are sent, their entries stored as they are. */
import { ZipArchive } from "archiver";
import { log } from "../log";
import { Problem } from "../problem";
import { webStream } from "./web-stream";

/** Of all entries: the same bytes at any time. */
export const ZIP_DATE = new Date("1980-01-01T00:00:00Z");

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
