/** Copies of files that were sent out, made in the background: the page plays them where the file itself cannot be played. */
import { rm, stat } from "node:fs/promises";
import { join } from "node:path";
import { layoutNamed } from "@core/audio/layout";
import { row, transaction, type Queryable } from "../db/database";
import { outlineOf, writeListeningCopy } from "../media/listening-copy";
import { enqueue } from "../queue/queue";
import type { JobContext } from "../queue/job-runner";
import { blobs } from "../storage/blobs";

/** How much faster than it lasts a copy is made, at the least. */
const SPEED = 20;

/** Asks for the copy of a file that was sent out. */
export const requestCopy = (review: string, position: number, project: string, seconds: number): Promise<void> =>
  enqueue({ queue: "copy", subject: `${review} ${position}`, project, costSeconds: 2 + seconds / SPEED });

/** The job. */
export async function copyJob({ subject, signal, progress, end }: JobContext): Promise<void> {
  const [review, position] = subject.split(" ") as [string, string];
  const file = await row<{ file_hash: string; seconds: number; layout: string }>(
    "select file_hash, seconds, layout from review_file where review_id = $1 and position = $2 and copy_hash is null",
    [review, position],
  );
  if (!file) return; // withdrawn with its project, or made already
  const folder = await blobs.workFolder();
  try {
    const path = await blobs.fileOf(file.file_hash);
    const { seconds, layout } = file;
    const master = { path, bytes: (await stat(path)).size, seconds, layout: layoutNamed(layout) ?? null };
    const out = join(folder, "copy.ogg");
    progress("making a copy for listening", 0);
    await writeListeningCopy(master, out, signal);
    progress("drawing it", 0.7);
    const outline = await outlineOf(out, master, signal);
    const { hash } = await blobs.adopt(out);
    await transaction(async (client) => {
      await client.query("update review_file set copy_hash = $3, outline = $4 where review_id = $1 and position = $2", [
        ...[review, position, hash, JSON.stringify(outline)],
      ]);
      await end(client);
    });
  } finally {
    await rm(folder, { recursive: true, force: true });
  }
}

/** Guests are told why there is none: the file itself is heard where the browser can play it. */
export async function copyFailed(subject: string, why: string, client: Queryable): Promise<void> {
  const [review, position] = subject.split(" ");
  await client.query("update review_file set copy_problem = $3 where review_id = $1 and position = $2", [
    ...[review, position, why],
  ]);
}
