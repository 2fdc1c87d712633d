/** Files of several sound tracks on the real PostgreSQL: which is read, and what its masters are made of. */
import { execFileSync } from "node:child_process";
import { join } from "node:path";
import { beforeAll, describe, expect, it } from "vitest";
import { masterInputs } from "@core/project/master-inputs";
import { knownRecordings } from "@core/project/views";
import { config } from "../config";
import { migrate, rows, transaction } from "../db/database";
import { createProject, edit, openProject } from "../projects/projects";
import { addingCommand, addSource, chooseTrack, sourceOf } from "../projects/sources";
import { runJob } from "../queue/job-runner";
import { takeJob } from "../queue/queue";
import { blobs } from "../storage/blobs";
import { prepareSource, preparationFailed } from "./prepare";

beforeAll(async () => {
  await migrate();
  await rows("delete from job");
});

/** Reads what waits to be read. */
async function workOff(): Promise<void> {
  const never = new AbortController().signal;
  for (let job = await takeJob("test", false); job; job = await takeJob("test", false))
    if (job.queue === "prepare") await runJob(job, { run: prepareSource, failed: preparationFailed }, never);
}

describe("a file of several sound tracks", () => {
  it("is read by the first, and by another when that is chosen: its masters are others", async () => {
    const project = (await createProject("Tide", "music", "test")).id;
    const path = join(config.dataFolder, "two-tracks.mkv");
    const tone = (hertz: number) => ["-f", "lavfi", "-i", `sine=frequency=${hertz}:sample_rate=48000:duration=1`];
    execFileSync("ffmpeg", [
      ...["-v", "error", "-y", ...tone(500), ...tone(3000), "-map", "0", "-map", "1", "-c:a", "pcm_s24le"],
      ...["-ac:a:1", "2", "-metadata:s:a:1", "language=fre", path],
    ]);
    const { hash } = await blobs.adopt(path);
    await transaction((client) => addSource({ hash, name: "two-tracks.mkv", bytes: 1, project }, false, client));
    const command = addingCommand(hash, "two-tracks.mkv") as never;
    await edit(project, { base: null, command, author: "test" });
    await workOff();
    const first = await sourceOf(hash);
    expect(first).toMatchObject({ state: "ready", track: 0, figures: { channels: 1 } });
    expect(first.tracks!.map(({ language }) => language)).toEqual([null, "fre"]);
    const inputs = async () => {
      const { document } = await openProject(project);
      return masterInputs(
        document,
        document.items[0]!,
        document.deliverables[0]!,
        knownRecordings([await sourceOf(hash)]),
      )!;
    };
    const before = await inputs();
    expect(before.track).toBeUndefined();
    await chooseTrack(hash, 1);
    await workOff();
    const second = await sourceOf(hash);
    expect(second).toMatchObject({ state: "ready", track: 1, figures: { channels: 2 } });
    expect(second.pcm_hash).not.toBe(first.pcm_hash);
    expect(await inputs()).toMatchObject({ track: 1, layout: { name: "stereo" } });
    await expect(chooseTrack(hash, 2)).rejects.toThrow(/has 2; number 3/);
  });
});
