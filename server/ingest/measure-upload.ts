/** Recordings that are only measured, not kept: of formats that no page reads by itself. */
import { rm } from "node:fs/promises";
import { join } from "node:path";
import { FileProblem } from "@core/files/bytes";
import type { Figures } from "@core/measure";
import { drawingsOf, type ReportDrawings } from "@core/report/drawings";
import { layoutForChannels } from "@core/audio/layout";
import { blobs } from "../storage/blobs";
import { openFile } from "../storage/byte-files";
import { measureRecording, openRecording } from "./ingest";
import { refuseBody, writeBody } from "../http/body-file";
import { Problem } from "../problem";

/** What is known of a file that was measured and forgotten. */
export interface MeasuredUpload {
  figures: Figures;
  drawings: ReportDrawings;
  warnings: string[];
}

/** Measures what arrives, and deletes it. @throws Problem that says what was wrong with it */
export async function measureUpload(body: ReadableStream, bytes: number, signal: AbortSignal): Promise<MeasuredUpload> {
  await refuseBody(bytes, bytes);
  const folder = await blobs.workFolder();
  try {
    const path = join(folder, "recording");
    await writeBody(body, bytes, path);
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
