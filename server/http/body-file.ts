/** A file that arrives as the body of a request, written to the disk as it comes. */
import { createWriteStream } from "node:fs";
import { Readable, Transform } from "node:stream";
import { pipeline } from "node:stream/promises";
import { config } from "../config";
import { Problem } from "../problem";
import { blobs } from "../storage/blobs";

/**
 * @param bytes that are announced
 * @param room that is needed on the disk for it and what is made of it
 * @throws Problem before anything arrives that cannot be taken
 */
export async function refuseBody(bytes: number, room: number): Promise<void> {
  if (!(bytes > 0)) throw new Problem(411, "Length missing", "The request must say how long the file is.");
  if (bytes > config.maxUploadBytes) throw new Problem(413, "Too large", "The file is larger than is taken in.");
  if ((await blobs.free()) - room < config.keepFreeBytes)
    throw new Problem(507, "Disk full", "There is no room to read the file. Make room, then try again.");
}

/** @throws Problem where more arrives than was announced, or less */
export async function writeBody(body: ReadableStream, bytes: number, path: string): Promise<void> {
  let received = 0;
  const limit = new Transform({
    transform(chunk: Buffer, _, done) {
      received += chunk.length;
      done(received > bytes ? new Problem(413, "Too large", "More arrived than was announced.") : null, chunk);
    },
  });
  await pipeline(Readable.fromWeb(body as Parameters<typeof Readable.fromWeb>[0]), limit, createWriteStream(path));
  if (received < bytes) throw new Problem(400, "Cut off", "Less arrived than was announced: send the file again.");
}
