/** Recordings that are only measured, not kept: of formats that no page reads by itself. */
import { createWriteStream } from "node:fs";
import { rm } from "node:fs/promises";
import { join } from "node:path";
import { Readable, Transform } from "node:stream";
import { pipeline } from "node:stream/promises";
import { FileProblem } from "@core/files/bytes";
import type { Figures } from "@core/measure";
import { drawingsOf, type ReportDrawings } from "@core/report/drawings";
import { layoutForChannels } from "@core/audio/layout";
import { blobs } from "../storage/blobs";
import { openFile } from "../storage/byte-files";
import { config } from "../config";
import { measureRecording, openRecording } from "./ingest";
import { Problem } from "../problem";

/** What is known of a file that was measured and forgotten. */
export interface MeasuredUpload {
  figures: Figures;
  drawings: ReportDrawings;
  warnings: string[];
}

/** Measures what arrives, and deletes it. @throws Problem that says what was wrong with it */
export async function measureUpload(body: ReadableStream, bytes: number, signal: AbortSignal): Promise<MeasuredUpload> {
  if (!(bytes > 0)) throw new Problem(411, "Length missing", "The request must say how long the file is.");
  if (bytes > config.maxUploadBytes) throw new Problem(413, "Too large", "The file is larger than is taken in.");
  if ((await blobs.free()) - bytes < config.keepFreeBytes)
    throw new Problem(507, "Disk full", "There is no room to read the file. Make room, then try again.");
  const folder = await blobs.workFolder();
  try {
    const path = join(folder, "recording");
    let received = 0;
    const limit = new Transform({
      transform(chunk: Buffer, _, done) {
        received += chunk.length;
        done(received > bytes ? new Problem(413, "Too large", "More arrived than was announced.") : null, chunk);
      },
    });
    await pipeline(Readable.fromWeb(body as Parameters<typeof Readable.fromWeb>[0]), limit, createWriteStream(path));
    return await measureFileAt(path, signal);
  } catch (error) {
    if (error instanceof FileProblem) throw new Problem(422, "Cannot be read", error.message);
    throw error;
  } finally {
    await rm(folder, { recursive: true, force: true });
  }
}

async function measureFileAt(path: string, signal: AbortSignal): Promise<MeasuredUpload> {
  const file = await openFile(path);
  try {
    const recording = await openRecording(file, path);
    const layout = recording.layout ?? layoutForChannels(recording.channels);
    const { figures, curves } = await measureRecording(recording, layout, signal);
    return { figures, drawings: drawingsOf(curves), warnings: recording.warnings };
  } finally {
    await file.close();
  }
}
